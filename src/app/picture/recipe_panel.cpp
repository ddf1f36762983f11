#include "app/picture/recipe_panel.h"

#include "app/cards/amount_bar.h"
#include "app/cards/pass_names.h"
#include "app/controls/tab_button.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/picture/step_remedies.h"
#include "app/session/session.h"
#include "core/recipe/groups.h"
#include "core/recipe/recipe_at.h"
#include "core/recipe/step_order.h"
#include "core/steps/registry.h"

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

constexpr int kMemberIndent = 14;  ///< px

}  // namespace

RecipePanel::RecipePanel(Session& session, QWidget* parent)
    : StepList([&session](TextUse use) { return namesIn(session.passes(), use); }, parent),
      m_session(session) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 6, 8, 0);
    layout->setSpacing(2);
    layout->addWidget(buildHead());
    m_amount = new AmountBar(tr("the whole recipe"));
    m_amount->setAccessibleName(tr("Amount of the recipe"));
    m_amount->setObjectName("recipe-amount");
    connect(m_amount, &AmountBar::moved, this, [this](float amount) {
        m_session.change(tr("Recipe: Amount"), QStringLiteral("recipe.amount"),
                         [&](Project& p) { p.recipe.amount = amount; });
        Q_EMIT handMoves(true);
    });
    connect(m_amount, &AmountBar::rested, this, [this] {
        m_session.endGesture();
        Q_EMIT handMoves(false);
    });
    layout->addWidget(m_amount);
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
    connect(&m_session, &Session::timeChanged, this, &RecipePanel::refresh);
    connect(&m_session, &Session::frameMeasured, this, &RecipePanel::refresh);
    connect(this, &StepList::chosenChanged, this, [this] {
        for (StepCard* card : cards())
            if (card->step().id == chosen())
                m_scroll->ensureWidgetVisible(card);
        setWhereShown(WhereShown::No);
        showKeys();
    });
    connect(this, &StepList::inHandChanged, this, [this] {
        // What is drawn is seen while it is drawn.
        if (inHand().any() && m_whereShown == WhereShown::No)
            setWhereShown(WhereShown::Overlay);
    });
    rebuildCards();
    refresh();
}

Steps RecipePanel::steps() const { return m_session.recipeNow().steps; }

StepTypes RecipePanel::types() const { return stepCatalogue(); }

ShownFrame RecipePanel::frame() const { return m_session.shownFrame(); }

NamedWheres RecipePanel::wheres() const { return m_session.project().recipe.wheres; }

CardOffers RecipePanel::offersFor(const Step& step) const {
    CardOffers offers;
    offers.groups = true;
    offers.keys = true;
    offers.around = [this] { return m_session.surroundings(); };
    offers.askPart = [this](const QString& hint, const std::function<void(const Tile&)>& take) {
        if (m_askPart)
            m_askPart(hint, take);
    };
    // A preset keeps where the lens is focused: that belongs to the picture.
    if (step.usable())
        offers.kept = stepCatalogue().type(step.type).focusParameter;
    return offers;
}

void RecipePanel::changeSteps(const QString& what, const QString& gesture, const Edit& edit) {
    m_session.changeRecipe(what, gesture, [&](Recipe& r) { edit(r.steps); });
}

void RecipePanel::changeList(const QString& what, const Edit& edit) {
    m_session.change(what, {}, [&](Project& p) { edit(p.recipe.steps); });
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

void RecipePanel::addStep(const std::string& type) {
    addStep(tr("Add %1").arg(qstring(stepCatalogue().type(type).label)),
            stepCatalogue().newStep(type, {}, m_session.surroundings()));
}

void RecipePanel::addStep(const QString& what, Step step) {
    if (!hasRoom())
        return;
    const Recipe& recipe = m_session.project().recipe;
    step.id = freeStepId(recipe.steps, step.type);
    const std::string label = stepCatalogue().type(step.type).label;
    if (const std::string title = freeTitle(recipe.steps, stepCatalogue(), label); title != label)
        step.name = title;
    m_session.change(what, {}, [&](Project& p) { p.recipe.steps.push_back(step); });
    choose(step.id);
    for (StepCard* card : cards())
        if (card->step().id == step.id)
            card->setFocus();
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

QHBoxLayout* RecipePanel::phaseHead(Phase phase) {
    const Steps& steps = m_session.project().recipe.steps;
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
    const auto single = std::ranges::count_if(steps, [&](const Step& step) {
        return step.group.empty() && step.type != kGroup && step.usable() &&
               phaseOf(step, steps, stepCatalogue()) == phase;
    });
    if (single < 2)
        return head;
    auto* group = linkButton(tr("Group"), tr("Puts the steps of this phase into a group, to "
                                             "switch, mix and limit them together."));
    group->setFont(theme::font(12));
    group->setAccessibleName(tr("Group the steps of %1").arg(label->text()));
    connect(group, &QPushButton::clicked, this, [this, phase] {
        groupSteps(tr("Group"), [phase](Steps& all) {
            const std::string name = freeTitle(all, stepCatalogue(), groupType().label);
            return groupPhase(all, phase, name, stepCatalogue());
        });
    });
    head->addWidget(group);
    return head;
}

void RecipePanel::groupSteps(const QString& what, const std::function<std::string(Steps&)>& group) {
    if (!hasRoom())
        return;
    std::string made;
    changeList(what, [&](Steps& steps) { made = group(steps); });
    if (!made.empty())
        choose(made);
}

void RecipePanel::addPhase(QVBoxLayout& layout, Phase phase) {
    const Recipe& recipe = m_session.project().recipe;
    layout.addLayout(phaseHead(phase));
    // An empty recipe offers the steps in their place.
    for (const StepType& type : stepCatalogue().types())
        if (recipe.steps.empty() && type.phase == phase) {
            QPushButton* offer =
                headLink(tr("Add %1").arg(qstring(type.label).toLower()), qstring(type.help));
            connect(offer, &QPushButton::clicked, this, [this, id = type.id] { addStep(id); });
            layout.addWidget(offer, 0, Qt::AlignLeft);
        }
    QVBoxLayout* members = nullptr;
    for (const Step& step : recipe.steps) {
        if (phaseOf(step, recipe.steps, stepCatalogue()) != phase)
            continue;
        addCard(step.group.empty() || members == nullptr ? layout : *members, step);
        if (step.type != kGroup)
            continue;
        members = new QVBoxLayout;
        members->setContentsMargins(kMemberIndent, 0, 0, 0);
        members->setSpacing(layout.spacing());
        layout.addLayout(members);
    }
}

void RecipePanel::addCard(QVBoxLayout& layout, const Step& step) {
    StepCard* card = makeCard(step);
    card->setSoloed(m_soloed == step.id);
    layout.addWidget(card);
    const std::string id = step.id;
    connect(card, &StepCard::soloAsked, this, [this, id](bool on) { solo(on ? id : ""); });
    connect(card, &StepCard::keyAsked, this, [this](const TrackPlace& place) {
        m_session.change(tr("Key"), {}, [&](Project& p) {
            toggleKey(p.recipe, stepCatalogue(), m_session.time(), place);
        });
    });
    connect(card, &StepCard::curveAsked, this, &RecipePanel::curveAsked);
    connect(card, &StepCard::foldAsked, this, [this, id] { fold(id); });
    connect(card, &StepCard::remedyAsked, this, [this, id] { remedy(id); });
    connect(card, &StepCard::companionAsked, this,
            [this](const QString& what, const Step& added) { addStep(what, added); });
    connect(card, &StepCard::groupAsked, this, [this, id] {
        groupSteps(tr("Put into a group"), [id](Steps& steps) {
            return groupStep(steps, id, freeTitle(steps, stepCatalogue(), groupType().label));
        });
    });
    connect(card, &StepCard::ungroupAsked, this, [this, id] {
        const Step* asked = m_session.project().recipe.find(id);
        const bool whole = asked != nullptr && asked->type == kGroup;
        changeList(whole ? tr("Dissolve a group") : tr("Take out of the group"),
                   [&](Steps& steps) { whole ? ungroup(steps, id) : takeOut(steps, id); });
    });
    connect(card, &StepCard::shareWhereAsked, this,
            [this, id](const QString& name) { shareWhere(id, name); });
    connect(card, &StepCard::whereShownAsked, this, &RecipePanel::setWhereShown);
    connect(card, &StepCard::exportWhereAsked, this, [this, id] { Q_EMIT exportWhereAsked(id); });
}

void RecipePanel::remedy(const std::string& id) {
    const Recipe& recipe = m_session.project().recipe;
    const Step* asked = recipe.find(id);
    if (asked == nullptr)
        return;
    const auto found = m_session.scene() == nullptr
                           ? std::nullopt
                           : remedyFor(*asked, recipe, m_session.passes(), m_states);
    if (found)
        Q_EMIT renderAsked(found->passes);
    else
        changeList(tr("Move"), [&](Steps& steps) { moveLast(steps, id); });
}

void RecipePanel::refresh() {
    if (!m_soloed.empty() && m_session.project().recipe.find(m_soloed) == nullptr)
        solo({});
    m_amount->setVisible(!m_session.project().recipe.steps.empty());
    m_amount->setAmount(m_session.project().recipe.amount, true);
    refreshCards();
    // Where nothing is limited any more, no switch would take the overlay away.
    const Step* open = m_session.project().recipe.find(chosen());
    if (m_whereShown != WhereShown::No && (open == nullptr || open->where.everywhere()))
        setWhereShown(WhereShown::No);
    showMembers();
    showKeys();
    m_orderNotes = orderNotes(m_session.recipeNow(), stepCatalogue());
    setProblems(problems());
}

void RecipePanel::showKeys() {
    const int frame = m_session.time().number;
    for (StepCard* card : cards()) {
        KeyStates states;
        const Recipe& recipe = m_session.project().recipe;
        if (const Step* step = recipe.find(card->step().id))
            for (const TrackPlace& place : trackPlacesOf(*step)) {
                const auto& keys = tracksAt(recipe, place)->keys;
                const auto own = keys.find(place.setting);
                if (own != keys.end())
                    states[place.criterion][place.setting] =
                        std::ranges::count(own->second, frame, &Key::frame) > 0
                            ? KeyState::Here
                            : KeyState::Elsewhere;
            }
        card->setKeys(states);
    }
}

void RecipePanel::showMembers() {
    const Steps& all = m_session.project().recipe.steps;
    std::erase_if(m_folded, [&](const std::string& id) { return findStep(all, id) == nullptr; });
    for (StepCard* card : cards()) {
        const Step& step = card->step();
        if (step.type == kGroup)
            card->setMembers(static_cast<int>(std::ranges::count(all, step.id, &Step::group)),
                             m_folded.contains(step.id));
        card->setVisible(!m_folded.contains(step.group));
    }
}

void RecipePanel::fold(const std::string& group) {
    if (m_folded.erase(group) == 0)
        m_folded.insert(group);
    const Step* open = m_session.project().recipe.find(chosen());
    if (open != nullptr && open->group == group)
        choose({});
    showMembers();
}

void RecipePanel::setPassStates(const std::map<std::string, PassState>& states) {
    m_states = states;
    setProblems(problems());
}

void RecipePanel::setNotices(const QMap<QString, QString>& byStep) {
    if (m_notices == byStep)
        return;
    m_notices = byStep;
    setProblems(problems());
}

void RecipePanel::showProblem(StepCard& card, const QString& problem) {
    const auto remedy =
        m_session.scene() == nullptr
            ? std::nullopt
            : remedyFor(card.step(), m_session.project().recipe, m_session.passes(), m_states);
    if (!problem.isEmpty() || remedy)
        return card.setProblem(problem.isEmpty() ? qstring(remedy->text) : problem,
                               remedy ? tr("Render it") : QString());
    const auto note = m_orderNotes.find(card.step().id);
    const bool noted = note != m_orderNotes.end();
    card.setProblem(noted ? qstring(note->second) : m_notices.value(qstring(card.step().id)),
                    noted ? tr("Move it last") : QString());
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

void RecipePanel::moveOne(Steps& steps, const std::string& step, int way) const {
    // It stays in its phase.
    moveInPhase(steps, step, way, stepCatalogue());
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
