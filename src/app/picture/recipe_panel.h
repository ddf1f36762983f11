#pragma once

#include "app/cards/step_list.h"

class QScrollArea;
class QVBoxLayout;

namespace noctis {

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
    /// Replaces the recipe by one from a file, or says why it can't.
    void openLook(const QString& file);

Q_SIGNALS:
    void exportWhereAsked(const std::string& step);
    /// What is shown of the same recipe is another: alone, a Where.
    void shownChanged();
    void stepAdded();

protected:
    [[nodiscard]] Steps steps() const override;
    [[nodiscard]] StepTypes types() const override;
    [[nodiscard]] CardOffers offersFor(const Step& step) const override;
    void changeSteps(const QString& what, const QString& gesture, const Edit& edit) override;
    void endGesture() override;
    void layOut() override;
    [[nodiscard]] ShownFrame frame() const override;
    [[nodiscard]] NamedWheres wheres() const override;
    [[nodiscard]] int distanceToNext(const std::string& step, int way) const override;

private:
    QWidget* buildHead();
    void offerSteps(QWidget* below);
    void offerLooks(QWidget* below);
    void chooseLook();
    void keepLook();
    void addPhase(QVBoxLayout& layout, Phase phase);
    void addCard(QVBoxLayout& layout, const Step& step);
    void refresh();
    void shareWhere(const std::string& id, const QString& name);
    void setWhereShown(WhereShown shown);
    void solo(const std::string& id);

    Session& m_session;
    QScrollArea* m_scroll;
    std::string m_soloed;
    WhereShown m_whereShown = WhereShown::No;
};

}  // namespace noctis
