#pragma once

#include "app/cards/step_card.h"

#include <QMap>
#include <QWidget>

#include <functional>
#include <map>
#include <string>

namespace noctis {

/// What of a list is drawn or clicked outside of its cards.
struct InHand {
    std::string step{};
    std::optional<std::string> path{};  ///< to a criterion of its Where
    std::string picked{};               ///< a setting that is places

    [[nodiscard]] bool any() const { return path || !picked.empty(); }
    /// The criterion, as criterionOf has it; empty: none.
    [[nodiscard]] std::string owner() const;
};

/// A list of steps as cards: what the recipe and the operations on heights have in common. Cards, selection and
/// problems go by the ids of steps.
class StepList : public QWidget {
    Q_OBJECT
public:
    explicit StepList(NameSource names, QWidget* parent = nullptr);

    /// Opens a step's card; empty: none.
    void choose(const std::string& step);
    [[nodiscard]] const std::string& chosen() const { return m_chosen; }
    [[nodiscard]] const InHand& inHand() const { return m_inHand; }
    void setInHand(const InHand& inHand);
    [[nodiscard]] const Brush& brush() const { return m_brush; }
    void setProblems(const QMap<QString, QString>& byStep);
    [[nodiscard]] const QMap<QString, QString>& problems() const { return m_problems; }

Q_SIGNALS:
    void chosenChanged();
    void inHandChanged();
    void handMoves(bool moving);
    void refused(const QString& why);

protected:
    using Edit = std::function<void(Steps&)>;

    /// The steps as they stand in the project.
    [[nodiscard]] virtual Steps steps() const = 0;
    [[nodiscard]] virtual StepTypes types() const = 0;
    [[nodiscard]] virtual CardOffers offersFor(const Step& step) const = 0;
    /// gesture: the same for all of one drag; empty: none.
    virtual void changeSteps(const QString& what, const QString& gesture, const Edit& edit) = 0;
    /// Changes which steps there are, and their order: what they are, keys too, stays.
    virtual void changeList(const QString& what, const Edit& edit) { changeSteps(what, {}, edit); }
    virtual void endGesture() = 0;
    /// Lays out all cards anew, each made by makeCard.
    virtual void layOut() = 0;
    [[nodiscard]] virtual ShownFrame frame() const { return {}; }
    [[nodiscard]] virtual NamedWheres wheres() const { return {}; }
    /// Moves a step up (-1) or down (1), if it can be.
    virtual void moveOne(Steps& steps, const std::string& step, int way) const;
    /// Whether there may be one more step; says so if not.
    bool hasRoom();
    virtual void replaceStep(const QString& what, const QString& gesture, const Step& step);

    StepCard* makeCard(const Step& step);
    /// Brings the cards to the steps.
    void refreshCards();
    /// Shows on a card what is wrong with its step; problem: empty for nothing.
    virtual void showProblem(StepCard& card, const QString& problem);
    /// All cards are laid out anew.
    void rebuildCards();
    [[nodiscard]] const std::vector<StepCard*>& cards() const { return m_cards; }

private:
    void edit(const QString& what, const QString& gesture, const Step& step);
    void duplicate(const std::string& id);

    NameSource m_names;
    std::vector<StepCard*> m_cards;  ///< in the order of the steps
    QMap<QString, QString> m_problems;
    std::string m_chosen;
    InHand m_inHand;
    Brush m_brush;
};

}  // namespace noctis
