#pragma once

#include "core/recipe/recipe.h"

#include <QWidget>

#include <optional>
#include <vector>

class QScrollArea;

namespace noctis {

class Session;
class StepCard;

/// The recipe: its steps as cards under their phases.
class RecipePanel : public QWidget {
    Q_OBJECT
public:
    explicit RecipePanel(Session& session, QWidget* parent = nullptr);

    void setProblems(const QStringList& byStep);
    void choose(std::optional<std::size_t> step);
    [[nodiscard]] std::optional<std::size_t> chosen() const { return m_chosen; }
    void addStep(const std::string& type);

Q_SIGNALS:
    void chosenChanged();
    void handMoves(bool moving);

private:
    void rebuild();
    void refresh();
    void editStep(std::size_t index, const QString& what, const QString& gesture, const Step& step);
    void moveStep(std::size_t index, int way);

    Session& m_session;
    QScrollArea* m_scroll;
    std::vector<StepCard*> m_cards;  ///< by step
    QStringList m_problems;
    std::optional<std::size_t> m_chosen;
};

}  // namespace noctis
