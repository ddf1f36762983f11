#pragma once

#include "app/controls/value_editor.h"
#include "app/picture/where_panel.h"
#include "core/recipe/recipe.h"

#include <QMap>
#include <QWidget>

#include <string>
#include <vector>

class QScrollArea;
class QVBoxLayout;

namespace noctis {

class Session;
class StepCard;

/// The recipe: its steps as cards under their phases. Cards, selection and problems go by the ids of
/// steps.
class RecipePanel : public QWidget {
    Q_OBJECT
public:
    explicit RecipePanel(Session& session, QWidget* parent = nullptr);

    void setProblems(const QMap<QString, QString>& byStep);
    /// Opens a step's card; empty: none.
    void choose(const std::string& step);
    [[nodiscard]] const std::string& chosen() const { return m_chosen; }
    /// The step that is shown without the others; empty: all are.
    [[nodiscard]] const std::string& soloed() const { return m_soloed; }
    /// How the chosen step's Where is shown.
    [[nodiscard]] WhereShown whereShown() const { return m_whereShown; }
    void addStep(const std::string& type);
    /// Whether the recipe may have one more step; says so if not.
    bool hasRoom();
    /// Replaces the recipe by one from a file, or says why it can't.
    void openLook(const QString& file);
    /// The criterion that is drawn on the picture, as criterionOf has it; empty: none is.
    [[nodiscard]] const std::string& inHand() const { return m_inHand; }
    [[nodiscard]] const Brush& brush() const { return m_brush; }

Q_SIGNALS:
    void inHandChanged();
    void exportWhereAsked(const std::string& step);
    void chosenChanged();
    /// What is shown of the same recipe is another: alone, a Where.
    void shownChanged();
    void handMoves(bool moving);
    void stepAdded();

private:
    QWidget* buildHead();
    void offerSteps(QWidget* below);
    void offerLooks(QWidget* below);
    void chooseLook();
    void keepLook();
    void rebuild();
    void addPhase(QVBoxLayout& layout, Phase phase);
    void addCard(QVBoxLayout& layout, const Step& step);
    void refresh();
    void editStep(const QString& what, const QString& gesture, const Step& step);
    void moveStep(const std::string& id, int way);
    void duplicateStep(const std::string& id);
    void removeStep(const std::string& id);
    void shareWhere(const std::string& id, const QString& name);
    void setWhereShown(WhereShown shown);
    void solo(const std::string& id);
    void takeInHand(const std::string& owner);
    [[nodiscard]] StepCard* cardOf(const std::string& id) const;

    Session& m_session;
    QScrollArea* m_scroll;
    std::vector<std::pair<std::string, StepCard*>> m_cards;  ///< by step, in the recipe's order
    QMap<QString, QString> m_problems;
    std::string m_chosen;
    std::string m_soloed;
    std::string m_inHand;
    Brush m_brush;
    WhereShown m_whereShown = WhereShown::No;
};

}  // namespace noctis
