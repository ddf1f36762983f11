#pragma once

#include "core/project/project.h"

#include <optional>
#include <string>
#include <vector>

namespace noctis {

/// Undo and redo: every state of the project, each with the name of the change. Consecutive changes with the
/// same non-empty gesture count as one, so a drag is one undo.
class History {
public:
    explicit History(Project start) : m_states{{std::move(start), {}, {}}} {}

    [[nodiscard]] const Project& current() const noexcept { return m_states[m_at].project; }
    /// Adds a state and forgets undone ones. Does nothing if it equals the current state.
    void change(Project next, std::string what, std::string gesture = {});
    /// Ends a gesture: the next change is a new step even if it has the same name.
    void endGesture() noexcept { m_states[m_at].gesture.clear(); }

    [[nodiscard]] bool canUndo() const noexcept { return m_at > 0; }
    [[nodiscard]] bool canRedo() const noexcept { return m_at + 1 < m_states.size(); }
    void undo() noexcept;
    void redo() noexcept;
    /// What undo would revert, and redo would repeat.
    [[nodiscard]] std::string undoText() const { return canUndo() ? m_states[m_at].what : ""; }
    [[nodiscard]] std::string redoText() const { return canRedo() ? m_states[m_at + 1].what : ""; }

    void markSaved() noexcept { m_saved = m_states[m_at].project; }
    /// Of a project that no file holds as it is.
    void markUnsaved() noexcept { m_saved.reset(); }
    [[nodiscard]] bool changedSinceSaved() const { return !(m_saved == current()); }

private:
    struct State {
        Project project;
        std::string what;
        std::string gesture;
    };
    std::vector<State> m_states;
    std::size_t m_at = 0;
    std::optional<Project> m_saved = m_states.front().project;
};

}  // namespace noctis
