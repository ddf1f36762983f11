#include "app/picture/recipe_panel.h"

#include "app/controls/file_dialog.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/picture/pass_names.h"
#include "app/picture/step_card.h"
#include "app/session/session.h"
#include "core/image/safe_write.h"
#include "core/project/handles.h"
#include "core/recipe/recipe_json.h"
#include "core/steps/registry.h"

#include <QDir>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

#include <algorithm>

namespace noctis {

namespace {

QPushButton* linkButton(const QString& text, const QString& help) {
    auto* button = new QPushButton(text);
    button->setProperty("role", "link");
    button->setToolTip(help);
    return button;
}

/// Looks lie in a folder of that name beside the frame's files, or the scene it is rendered from; it may not be
/// there. Empty without a frame.
QString looksFolder(const Project& project) {
    const std::filesystem::path& beside =
        project.passFiles.empty() ? project.scene : project.passFiles.front();
    return beside.empty() ? QString() : qstring((beside.parent_path() / "looks").string());
}

QFileInfoList looksIn(const QString& folder) {
    if (folder.isEmpty())
        return {};
    return QDir(folder).entryInfoList({QStringLiteral("*.json")}, QDir::Files, QDir::Name);
}

/// Where a step's card stands; one that can't be used has no phase.
Phase phaseOf(const Step& step) {
    return step.usable() ? stepCatalogue().type(step.type).phase : Phase::Finish;
}

}  // namespace

RecipePanel::RecipePanel(Session& session, QWidget* parent) : QWidget(parent), m_session(session) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 6, 8, 0);
    layout->setSpacing(2);
    layout->addWidget(buildHead());
    m_scroll = new QScrollArea;
    m_scroll->setFocusPolicy(Qt::NoFocus);
    m_scroll->setWidgetResizable(true);
    m_scroll->setFrameShape(QFrame::NoFrame);
    m_scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    layout->addWidget(m_scroll, 1);
    // Another recipe may have steps of the same ids.
    connect(&m_session, &Session::opened, this, [this] {
        solo({});
        choose({});
    });
    connect(&m_session, &Session::projectChanged, this, &RecipePanel::refresh);
    connect(&m_session, &Session::passesChanged, this, &RecipePanel::refresh);
    rebuild();
}

QWidget* RecipePanel::buildHead() {
    auto* bar = new QWidget;
    auto* head = new QHBoxLayout(bar);
    head->setContentsMargins(0, 0, 0, 0);
    auto* heading = new QLabel(tr("Recipe"));
    heading->setProperty("role", "heading");
    auto* looks =
        linkButton(tr("Looks"), tr("A look is a saved recipe: open one, or keep this one."));
    auto* add = linkButton(tr("Add a step"), tr("Add a step to the recipe."));
    looks->setObjectName("looks");
    add->setObjectName("add step");
    connect(add, &QPushButton::clicked, this, [this, add] { offerSteps(add); });
    connect(looks, &QPushButton::clicked, this, [this, looks] { offerLooks(looks); });
    head->addWidget(heading, 1);
    head->addWidget(looks);
    head->addWidget(add);
    return bar;
}

void RecipePanel::offerSteps(QWidget* below) {
    QMenu menu;
    menu.setToolTipsVisible(true);
    for (const Phase phase : {Phase::Light, Phase::Air, Phase::Lens, Phase::Finish}) {
        menu.addSection(qstring(phaseLabel(phase)));
        for (const StepType& type : stepCatalogue().types()) {
            if (type.phase != phase)
                continue;
            QAction* action =
                menu.addAction(qstring(type.label), this, [this, id = type.id] { addStep(id); });
            action->setToolTip(qstring(type.help));
        }
    }
    menu.exec(below->mapToGlobal(QPoint(0, below->height())));
}

void RecipePanel::offerLooks(QWidget* below) {
    QMenu menu;
    menu.setToolTipsVisible(true);
    for (const QFileInfo& look : looksIn(looksFolder(m_session.project()))) {
        // A single & would underline the letter after it.
        const QString name =
            look.completeBaseName().replace(QLatin1Char('&'), QStringLiteral("&&"));
        QAction* action =
            menu.addAction(name, this, [this, file = look.filePath()] { openLook(file); });
        action->setToolTip(tr("Replaces the recipe with %1.").arg(look.fileName()));
    }
    if (!menu.isEmpty())
        menu.addSeparator();
    menu.addAction(tr("Open a look…"), this, &RecipePanel::chooseLook);
    menu.addAction(tr("Keep as a look…"), this, &RecipePanel::keepLook);
    menu.exec(below->mapToGlobal(QPoint(0, below->height())));
}

void RecipePanel::chooseLook() {
    const QString file = askFileToRead(this, tr("Open a look"), looksFolder(m_session.project()),
                                       tr("Looks (*.json)"));
    if (!file.isEmpty())
        openLook(file);
}

void RecipePanel::openLook(const QString& file) {
    try {
        const std::filesystem::path path = file.toStdString();
        const Recipe recipe =
            recipeFromText(readTextFile(path), stepCatalogue(), path.parent_path());
        m_session.change(tr("Open a look"), {}, [&](Project& p) { p.recipe = recipe; });
    } catch (const std::exception& error) {
        Q_EMIT m_session.notified(
            QStringLiteral("%1: %2").arg(file, QString::fromUtf8(error.what())), true);
    }
}

void RecipePanel::keepLook() {
    const QDir folder(looksFolder(m_session.project()));
    const QString name = QStringLiteral("look.json");
    const QString file =
        askFileToWrite(this, tr("Keep as a look"),
                       (folder.exists() ? folder : QDir(m_session.folderForFiles())).filePath(name),
                       tr("Looks (*.json)"));
    if (file.isEmpty())
        return;
    try {
        const std::filesystem::path path = file.toStdString();
        std::vector<std::filesystem::path> inputs = inputsOf(m_session.project(), {path});
        inputs.push_back(m_session.file());
        requireNoInput({path}, inputs);
        writeTextFile(
            path, recipeToText(m_session.project().recipe, stepCatalogue(), path.parent_path()));
    } catch (const std::exception& error) {
        Q_EMIT m_session.notified(QString::fromUtf8(error.what()), true);
    }
}

bool RecipePanel::hasRoom() {
    if (m_session.project().recipe.steps.size() < kMostSteps)
        return true;
    Q_EMIT m_session.notified(
        tr("A recipe has at most %1 steps; remove one first.").arg(kMostSteps), true);
    return false;
}

void RecipePanel::addStep(const std::string& type) {
    if (!hasRoom())
        return;
    const Step step = stepCatalogue().newStep(type, m_session.project().recipe, m_session.passes());
    m_session.change(tr("Add %1").arg(qstring(stepCatalogue().type(type).label)), {},
                     [&](Project& p) { p.recipe.steps.push_back(step); });
    choose(step.id);
    Q_EMIT stepAdded();
}

StepCard* RecipePanel::cardOf(const std::string& id) const {
    for (const auto& [step, card] : m_cards)
        if (step == id)
            return card;
    return nullptr;
}

void RecipePanel::rebuild() {
    const Recipe& recipe = m_session.project().recipe;
    auto* column = new QWidget;
    auto* layout = new QVBoxLayout(column);
    layout->setContentsMargins(0, 0, 6, 8);
    layout->setSpacing(6);
    m_cards.clear();
    for (const Step& step : recipe.steps)
        m_cards.emplace_back(step.id, nullptr);
    for (const Phase phase : {Phase::Light, Phase::Air, Phase::Lens, Phase::Finish})
        addPhase(*layout, phase);
    layout->addStretch(1);
    // A card may have asked for this: the old ones go later.
    if (QWidget* old = m_scroll->takeWidget())
        old->deleteLater();
    m_scroll->setWidget(column);
    setProblems(m_problems);
}

void RecipePanel::addPhase(QVBoxLayout& layout, Phase phase) {
    const Recipe& recipe = m_session.project().recipe;
    auto* head = new QHBoxLayout;
    head->setSpacing(8);
    auto* label = new QLabel(qstring(phaseLabel(phase)));
    label->setProperty("role", "quiet");
    label->setFont(theme::font(12));
    auto* line = new QFrame;
    line->setFixedHeight(1);
    line->setStyleSheet(QStringLiteral("background: %1").arg(theme::kHairline.name()));
    head->addWidget(label);
    head->addWidget(line, 1);
    layout.addLayout(head);
    // An empty recipe offers the steps in their place.
    for (const StepType& type : stepCatalogue().types())
        if (recipe.steps.empty() && type.phase == phase) {
            QPushButton* offer =
                linkButton(tr("Add %1").arg(qstring(type.label).toLower()), qstring(type.help));
            connect(offer, &QPushButton::clicked, this, [this, id = type.id] { addStep(id); });
            layout.addWidget(offer, 0, Qt::AlignLeft);
        }
    for (const Step& step : recipe.steps)
        if (phaseOf(step) == phase)
            addCard(layout, step);
}

void RecipePanel::addCard(QVBoxLayout& layout, const Step& step) {
    auto* card =
        new StepCard(step, [this](TextUse use) { return namesIn(m_session.passes(), use); });
    for (auto& [id, there] : m_cards)
        if (id == step.id)
            there = card;
    card->setStep(step, m_session.project().recipe.wheres, m_session.shownFrame());
    card->setOpen(m_chosen == step.id);
    card->setSoloed(m_soloed == step.id);
    layout.addWidget(card);
    const std::string id = step.id;
    connect(card, &StepCard::opened, this,
            [this, id] { choose(m_chosen == id ? std::string() : id); });
    connect(card, &StepCard::edited, this, &RecipePanel::editStep);
    connect(card, &StepCard::rested, this, [this] {
        m_session.endGesture();
        Q_EMIT handMoves(false);
    });
    connect(card, &StepCard::moveAsked, this, [this, id](int way) { moveStep(id, way); });
    connect(card, &StepCard::duplicateAsked, this, [this, id] { duplicateStep(id); });
    connect(card, &StepCard::removeAsked, this, [this, id] { removeStep(id); });
    connect(card, &StepCard::soloAsked, this, [this, id](bool on) { solo(on ? id : ""); });
    connect(card, &StepCard::shareWhereAsked, this,
            [this, id](const QString& name) { shareWhere(id, name); });
    connect(card, &StepCard::whereShownAsked, this, &RecipePanel::setWhereShown);
    connect(card, &StepCard::exportWhereAsked, this, [this, id] { Q_EMIT exportWhereAsked(id); });
    connect(card, &StepCard::inHandAsked, this, [this, id](const QString& way, bool on) {
        takeInHand(on ? ownerOfCriterion(id, way.toStdString()) : std::string());
    });
    connect(card, &StepCard::brushChanged, this, [this](const Brush& brush) {
        m_brush = brush;
        Q_EMIT inHandChanged();
    });
}

void RecipePanel::takeInHand(const std::string& owner) {
    m_inHand = owner;
    for (const auto& [step, card] : m_cards) {
        const std::string mark = ownerOfCriterion(step, {});
        card->setInHand(owner.starts_with(mark) && !owner.empty()
                            ? std::optional(owner.substr(mark.size()))
                            : std::nullopt);
    }
    // What is drawn is seen while it is drawn.
    if (!owner.empty() && m_whereShown == WhereShown::No)
        setWhereShown(WhereShown::Overlay);
    Q_EMIT inHandChanged();
}

void RecipePanel::refresh() {
    const Recipe& recipe = m_session.project().recipe;
    if (recipe.find(m_chosen) == nullptr)
        m_chosen.clear();
    if (!m_inHand.empty() && criterionOf(recipe, m_inHand) == nullptr)
        takeInHand({});
    if (!m_soloed.empty() && recipe.find(m_soloed) == nullptr)
        solo({});
    bool same = recipe.steps.size() == m_cards.size();
    for (std::size_t i = 0; same && i < m_cards.size(); ++i)
        same = m_cards[i].first == recipe.steps[i].id && m_cards[i].second->isFor(recipe.steps[i]);
    if (!same) {
        rebuild();
        return;
    }
    for (std::size_t i = 0; i < m_cards.size(); ++i)
        m_cards[i].second->setStep(recipe.steps[i], recipe.wheres, m_session.shownFrame());
}

void RecipePanel::setProblems(const QMap<QString, QString>& byStep) {
    m_problems = byStep;
    for (const auto& [id, card] : m_cards)
        if (const Step* step = m_session.project().recipe.find(id); step && step->usable())
            card->setProblem(byStep.value(qstring(id)));
}

void RecipePanel::choose(const std::string& id) {
    m_chosen = id;
    for (const auto& [step, card] : m_cards)
        card->setOpen(step == id);
    if (StepCard* card = cardOf(id))
        m_scroll->ensureWidgetVisible(card);
    setWhereShown(WhereShown::No);
    takeInHand({});
    Q_EMIT chosenChanged();
}

void RecipePanel::setWhereShown(WhereShown shown) {
    const bool changed = shown != m_whereShown;
    m_whereShown = shown;
    if (StepCard* card = cardOf(m_chosen))
        card->setWhereShown(shown);
    if (changed)
        Q_EMIT shownChanged();
}

void RecipePanel::solo(const std::string& id) {
    m_soloed = id;
    for (const auto& [step, card] : m_cards)
        card->setSoloed(step == id);
    Q_EMIT shownChanged();
}

void RecipePanel::editStep(const QString& what, const QString& gesture, const Step& step) {
    if (!gesture.isEmpty())
        Q_EMIT handMoves(true);
    const QString whole =
        gesture.isEmpty() ? QString() : QStringLiteral("step.%1.%2").arg(qstring(step.id), gesture);
    m_session.change(what, whole, [&](Project& p) {
        if (Step* there = p.recipe.find(step.id))
            *there = step;
    });
}

void RecipePanel::moveStep(const std::string& id, int way) {
    const auto& steps = m_session.project().recipe.steps;
    const auto count = static_cast<std::ptrdiff_t>(steps.size());
    const auto index =
        std::find_if(steps.begin(), steps.end(), [&](const Step& s) { return s.id == id; }) -
        steps.begin();
    if (index == count)
        return;
    const Phase phase = phaseOf(steps[static_cast<std::size_t>(index)]);
    auto other = index + way;
    while (other >= 0 && other < count && phaseOf(steps[static_cast<std::size_t>(other)]) != phase)
        other += way;
    if (other < 0 || other >= count)
        return;
    m_session.change(tr("Move a step"), {}, [&](Project& p) {
        std::swap(p.recipe.steps[static_cast<std::size_t>(index)],
                  p.recipe.steps[static_cast<std::size_t>(other)]);
    });
}

void RecipePanel::duplicateStep(const std::string& id) {
    if (!hasRoom())
        return;
    m_session.change(tr("Duplicate"), {}, [&](Project& p) {
        auto& steps = p.recipe.steps;
        const auto at =
            std::find_if(steps.begin(), steps.end(), [&](const Step& s) { return s.id == id; });
        if (at == steps.end())
            return;
        Step copy = *at;
        copy.id = p.recipe.freeId(copy.type);
        copy.name = freeTitle(p.recipe, stepCatalogue(), titleOf(copy, stepCatalogue()));
        steps.insert(at + 1, std::move(copy));
    });
}

void RecipePanel::removeStep(const std::string& id) {
    m_session.change(tr("Remove"), {}, [&](Project& p) {
        std::erase_if(p.recipe.steps, [&](const Step& s) { return s.id == id; });
    });
}

void RecipePanel::shareWhere(const std::string& id, const QString& name) {
    m_session.change(tr("Share a Where"), {}, [&](Project& p) {
        Step* step = p.recipe.find(id);
        if (step == nullptr)
            return;
        p.recipe.wheres[name.toStdString()] = step->where;
        step->where = {};
        Where same;
        same.kind = Where::Kind::SameAs;
        same.name = name.toStdString();
        step->where.parts = {same};
    });
}

}  // namespace noctis
