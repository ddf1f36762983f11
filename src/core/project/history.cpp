#include "core/project/history.h"

namespace noctis {

namespace {

constexpr std::size_t kMostStates = 500;

}  // namespace

void History::change(Project next, std::string what, std::string gesture) {
    if (next == current())
        return;
    m_states.resize(m_at + 1);
    if (!gesture.empty() && m_states[m_at].gesture == gesture && m_at > 0) {
        m_states[m_at].project = std::move(next);
        return;
    }
    m_states.push_back({std::move(next), std::move(what), std::move(gesture)});
    if (m_states.size() > kMostStates)
        m_states.erase(m_states.begin());
    m_at = m_states.size() - 1;
}

void History::undo() noexcept {
    if (canUndo())
        m_states[--m_at].gesture.clear();
}

void History::redo() noexcept {
    if (canRedo())
        m_states[++m_at].gesture.clear();
}

}  // namespace noctis
