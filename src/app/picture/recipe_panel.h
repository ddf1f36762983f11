#pragma once

#include "app/cards/step_list.h"
#include "core/tracer/pass_state.h"

#include <set>

class QHBoxLayout;
class QMenu;
class QScrollArea;
class QVBoxLayout;

namespace noctis {

class AmountBar;
class Session;

/// The recipe: its steps as cards under their phases.
class RecipePanel : public StepList {
    Q_OBJECT
public:
    explicit RecipePanel(Session& session, QWidget* parent = nullptr);

    /// The step that is shown without the others; empty: all are.
    [[nodiscard]] const std::string& soloed() const { return m_soloed; }
    /// How the chosen step's Where is shown.
    [[nodiscard]] WhereShown whereShown() const { return m_whereShown; }
    void addStep(const std::string& type);
    /// The same with settings of its own; what: for undo.
    void addStep(const QString& what, Step step);
    /// How a look is taken: in the place of the recipe, or added to it as groups that are mixed.
    enum class LookTaken { Instead, Added };
    /// Takes a recipe from a file, or says why it can't.
    void openLook(const QString& file, LookTaken taken);

    /// Of the frame's passes, by name.
    void setPassStates(const std::map<std::string, PassState>& states);

    /// Who has a part of the picture drawn; see CardOffers::askPart.
    void setAskPart(decltype(CardOffers::askPart) ask) { m_askPart = std::move(ask); }
    /// What is worth knowing of what steps work on.
    void setNotices(const QMap<QString, QString>& byStep);

Q_SIGNALS:
    /// To render passes that a step reads.
    void renderAsked(const std::vector<noctis::PassName>& passes);
    void exportWhereAsked(const std::string& step);
    /// What is shown of the same recipe is another: alone, a Where.
    void shownChanged();
    void stepAdded();
    /// To see how a setting moves.
    void curveAsked(const noctis::TrackPlace& place);

protected:
    [[nodiscard]] Steps steps() const override;
    [[nodiscard]] StepTypes types() const override;
    [[nodiscard]] CardOffers offersFor(const Step& step) const override;
    void changeSteps(const QString& what, const QString& gesture, const Edit& edit) override;
    void changeList(const QString& what, const Edit& edit) override;
    void endGesture() override;
    void layOut() override;
    [[nodiscard]] ShownFrame frame() const override;
    [[nodiscard]] NamedWheres wheres() const override;
    void showProblem(StepCard& card, const QString& problem) override;
    void moveOne(Steps& steps, const std::string& step, int way) const override;

private:
    QWidget* buildHead();
    void offerSteps(QWidget* below);
    void offerLooks(QWidget* below);
    void chooseLook(LookTaken taken);
    void addLooks(QMenu& menu, LookTaken taken);
    void keepLook();
    void addPhase(QVBoxLayout& layout, Phase phase);
    QHBoxLayout* phaseHead(Phase phase);
    void addCard(QVBoxLayout& layout, const Step& step);
    void showMembers();
    void showKeys();
    void fold(const std::string& group);
    /// Steps that are in a group now.
    void groupSteps(const QString& what, const std::function<std::string(Steps&)>& group);
    void refresh();
    /// Does what a step's card offers against what is amiss with it.
    void remedy(const std::string& id);
    void shareWhere(const std::string& id, const QString& name);
    void setWhereShown(WhereShown shown);
    void solo(const std::string& id);

    Session& m_session;
    QScrollArea* m_scroll;
    AmountBar* m_amount;
    std::set<std::string> m_folded;  ///< groups whose steps are hidden
    std::map<std::string, PassState> m_states;
    decltype(CardOffers::askPart) m_askPart;
    QMap<QString, QString> m_notices;
    std::map<std::string, std::string> m_orderNotes;  ///< by step
    std::string m_soloed;
    WhereShown m_whereShown = WhereShown::No;
};

}  // namespace noctis
