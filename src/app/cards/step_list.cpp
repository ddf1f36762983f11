#include "app/cards/step_list.h"

#include "app/look/picture_paint.h"
#include "core/project/handles.h"

#include <algorithm>

namespace noctis {

std::string InHand::owner() const { return path ? ownerOfCriterion(step, *path) : std::string(); }

StepList::StepList(NameSource names, QWidget* parent)
    : QWidget(parent), m_names(std::move(names)) {}

StepCard* StepList::makeCard(const Step& step) {
    const Declaration* type = step.usable() ? &types().type(step.type) : nullptr;
    auto* card = new StepCard(step, type, offersFor(step), m_names);
    card->setStep(step, wheres(), frame());
    card->setOpen(m_chosen == step.id);
    m_cards.push_back(card);
    const std::string id = step.id;
    connect(card, &StepCard::opened, this,
            [this, id] { choose(m_chosen == id ? std::string() : id); });
    connect(card, &StepCard::edited, this, &StepList::edit);
    connect(card, &StepCard::refused, this, &StepList::refused);
    connect(card, &StepCard::rested, this, [this] {
        endGesture();
        Q_EMIT handMoves(false);
    });
    connect(card, &StepCard::moveAsked, this, [this, id](int way) {
        changeList(tr("Move"), [&](Steps& steps) { moveOne(steps, id, way); });
    });
    connect(card, &StepCard::duplicateAsked, this, [this, id] { duplicate(id); });
    connect(card, &StepCard::removeAsked, this,
            [this, id] { changeList(tr("Remove"), [&](Steps& steps) { removeStep(steps, id); }); });
    connect(card, &StepCard::inHandAsked, this, [this, id](const QString& path, bool on) {
        setInHand(on ? InHand{id, path.toStdString(), {}} : InHand{});
    });
    connect(card, &StepCard::picksAsked, this, [this, id](const QString& setting, bool on) {
        setInHand(on ? InHand{id, std::nullopt, setting.toStdString()} : InHand{});
    });
    connect(card, &StepCard::brushChanged, this, [this](const Brush& brush) {
        m_brush = brush;
        Q_EMIT inHandChanged();
    });
    return card;
}

void StepList::rebuildCards() {
    m_cards.clear();
    layOut();
    const Steps now = steps();
    // However they are laid out.
    const auto placeOf = [&](const StepCard* card) {
        return findStep(now, card->step().id) - now.data();
    };
    std::ranges::sort(m_cards, {}, placeOf);
    setProblems(m_problems);
}

void StepList::refreshCards() {
    const Steps now = steps();
    if (findStep(now, m_chosen) == nullptr)
        m_chosen.clear();
    const bool gone = m_inHand.path ? criterionOf(now, m_inHand.owner()) == nullptr
                                    : findStep(now, m_inHand.step) == nullptr;
    if (m_inHand.any() && gone)
        setInHand({});
    const bool same = std::ranges::equal(
        m_cards, now, [](const StepCard* card, const Step& step) { return card->isFor(step); });
    if (!same)
        return rebuildCards();
    for (std::size_t i = 0; i < now.size(); ++i)
        m_cards[i]->setStep(now[i], wheres(), frame());
}

void StepList::setProblems(const QMap<QString, QString>& byStep) {
    m_problems = byStep;
    for (StepCard* card : m_cards)
        if (card->step().usable())
            showProblem(*card, byStep.value(qstring(card->step().id)));
}

void StepList::showProblem(StepCard& card, const QString& problem) { card.setProblem(problem); }

void StepList::choose(const std::string& step) {
    m_chosen = step;
    for (StepCard* card : m_cards)
        card->setOpen(card->step().id == step);
    if (m_inHand.any())
        setInHand({});
    Q_EMIT chosenChanged();
}

void StepList::setInHand(const InHand& inHand) {
    m_inHand = inHand;
    for (StepCard* card : m_cards) {
        const bool its = card->step().id == inHand.step;
        card->setInHand(its ? inHand.path : std::nullopt, its ? inHand.picked : std::string());
    }
    Q_EMIT inHandChanged();
}

void StepList::edit(const QString& what, const QString& gesture, const Step& step) {
    if (!gesture.isEmpty())
        Q_EMIT handMoves(true);
    replaceStep(what,
                gesture.isEmpty() ? QString()
                                  : QStringLiteral("step.%1.%2").arg(qstring(step.id), gesture),
                step);
}

void StepList::replaceStep(const QString& what, const QString& gesture, const Step& step) {
    changeSteps(what, gesture, [&](Steps& steps) {
        if (Step* there = findStep(steps, step.id))
            *there = step;
    });
}

bool StepList::hasRoom() {
    if (steps().size() < kMostSteps)
        return true;
    Q_EMIT refused(tr("A list has at most %1 steps; remove one first.").arg(kMostSteps));
    return false;
}

void StepList::moveOne(Steps& steps, const std::string& step, int way) const {
    moveStep(steps, step, way);
}

void StepList::duplicate(const std::string& id) {
    if (!hasRoom())
        return;
    changeList(tr("Duplicate"), [&](Steps& steps) {
        if (const Step* original = findStep(steps, id))
            duplicateStep(steps, id, freeTitle(steps, types(), titleOf(*original, types())));
    });
}

}  // namespace noctis
