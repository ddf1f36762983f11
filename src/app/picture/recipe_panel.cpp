#include "app/picture/recipe_panel.h"

#include "app/cards/pass_names.h"
#include "app/controls/file_dialog.h"
#include "app/controls/tab_button.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/session/session.h"
#include "core/image/safe_write.h"
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

/// As large as headings are.
QPushButton* headLink(const QString& text, const QString& help) {
    QPushButton* button = linkButton(text, help);
    button->setFont(theme::font(13));
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

RecipePanel::RecipePanel(Session& session, QWidget* parent)
    : StepList([&session](TextUse use) { return namesIn(session.passes(), use); }, parent),
      m_session(session) {
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
    connect(this, &StepList::refused, &m_session,
            [&session](const QString& why) { Q_EMIT session.notified(why, true); });
    connect(&m_session, &Session::passesChanged, this, &RecipePanel::refresh);
    connect(this, &StepList::chosenChanged, this, [this] {
        for (StepCard* card : cards())
            if (card->step().id == chosen())
                m_scroll->ensureWidgetVisible(card);
        setWhereShown(WhereShown::No);
    });
    connect(this, &StepList::inHandChanged, this, [this] {
        // What is drawn is seen while it is drawn.
        if (inHand().any() && m_whereShown == WhereShown::No)
            setWhereShown(WhereShown::Overlay);
    });
    rebuildCards();
}

Steps RecipePanel::steps() const { return m_session.project().recipe.steps; }

StepTypes RecipePanel::types() const { return stepCatalogue(); }

ShownFrame RecipePanel::frame() const { return m_session.shownFrame(); }

NamedWheres RecipePanel::wheres() const { return m_session.project().recipe.wheres; }

CardOffers RecipePanel::offersFor(const Step& step) const {
    CardOffers offers;
    // A preset keeps where the lens is focused: that belongs to the picture.
    if (step.usable())
        offers.kept = stepCatalogue().type(step.type).focusParameter;
    return offers;
}

void RecipePanel::changeSteps(const QString& what, const QString& gesture, const Edit& edit) {
    m_session.change(what, gesture, [&](Project& p) { edit(p.recipe.steps); });
}

void RecipePanel::endGesture() { m_session.endGesture(); }

QWidget* RecipePanel::buildHead() {
    auto* bar = new QWidget;
    auto* head = new QHBoxLayout(bar);
    head->setContentsMargins(0, 0, 0, 0);
    auto* heading = new QLabel(tr("Recipe"));
    heading->setProperty("role", "heading");
    auto* looks =
        headLink(tr("Looks"), tr("A look is a saved recipe: open one, or keep this one."));
    auto* add = headLink(tr("Add a step"), tr("Add a step to the recipe."));
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

void RecipePanel::addStep(const std::string& type) {
    if (!hasRoom())
        return;
    const Step step = stepCatalogue().newStep(type, m_session.project().recipe, m_session.passes());
    m_session.change(tr("Add %1").arg(qstring(stepCatalogue().type(type).label)), {},
                     [&](Project& p) { p.recipe.steps.push_back(step); });
    choose(step.id);
    Q_EMIT stepAdded();
}

void RecipePanel::layOut() {
    auto* column = new QWidget;
    auto* layout = new QVBoxLayout(column);
    layout->setContentsMargins(0, 0, 6, 8);
    layout->setSpacing(6);
    for (const Phase phase : {Phase::Light, Phase::Air, Phase::Lens, Phase::Finish})
        addPhase(*layout, phase);
    layout->addStretch(1);
    // A card may have asked for this: the old ones go later.
    if (QWidget* old = m_scroll->takeWidget())
        old->deleteLater();
    m_scroll->setWidget(column);
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
                headLink(tr("Add %1").arg(qstring(type.label).toLower()), qstring(type.help));
            connect(offer, &QPushButton::clicked, this, [this, id = type.id] { addStep(id); });
            layout.addWidget(offer, 0, Qt::AlignLeft);
        }
    for (const Step& step : recipe.steps)
        if (phaseOf(step) == phase)
            addCard(layout, step);
}

void RecipePanel::addCard(QVBoxLayout& layout, const Step& step) {
    StepCard* card = makeCard(step);
    card->setSoloed(m_soloed == step.id);
    layout.addWidget(card);
    const std::string id = step.id;
    connect(card, &StepCard::soloAsked, this, [this, id](bool on) { solo(on ? id : ""); });
    connect(card, &StepCard::shareWhereAsked, this,
            [this, id](const QString& name) { shareWhere(id, name); });
    connect(card, &StepCard::whereShownAsked, this, &RecipePanel::setWhereShown);
    connect(card, &StepCard::exportWhereAsked, this, [this, id] { Q_EMIT exportWhereAsked(id); });
}

void RecipePanel::refresh() {
    if (!m_soloed.empty() && m_session.project().recipe.find(m_soloed) == nullptr)
        solo({});
    refreshCards();
}

void RecipePanel::setWhereShown(WhereShown shown) {
    const bool changed = shown != m_whereShown;
    m_whereShown = shown;
    for (StepCard* card : cards())
        if (card->step().id == chosen())
            card->setWhereShown(shown);
    if (changed)
        Q_EMIT shownChanged();
}

void RecipePanel::solo(const std::string& id) {
    m_soloed = id;
    for (StepCard* card : cards())
        card->setSoloed(card->step().id == id);
    Q_EMIT shownChanged();
}

int RecipePanel::distanceToNext(const std::string& step, int way) const {
    // A step stays in its phase.
    const Steps& all = m_session.project().recipe.steps;
    const auto from = findStep(all, step) - all.data();
    for (auto to = from + way; to >= 0 && to < std::ssize(all); to += way)
        if (phaseOf(all[static_cast<std::size_t>(to)]) ==
            phaseOf(all[static_cast<std::size_t>(from)]))
            return static_cast<int>(to - from);
    return 0;
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
