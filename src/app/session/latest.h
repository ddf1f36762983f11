#pragma once

#include "app/session/background.h"

#include <functional>
#include <utility>

namespace noctis {

/// Work of which only the latest counts, one piece at a time on a thread of its own: what is asked for while
/// another piece runs waits for its end, in the place of what waits already. So a hand that moves sees a result
/// as often as there can be one, and never waits. Let it be its class's last member.
class Latest {
public:
    /// What to call on the owner's thread; may be empty.
    using Result = std::function<void()>;
    using Work = std::function<Result()>;

    explicit Latest(QObject* owner) : m_background(owner) {}

    void ask(Work work) {
        if (m_background.running())
            m_next = std::move(work);
        else
            start(std::move(work));
    }
    /// Nothing that was asked for is wanted any more.
    void drop() {
        m_next = {};
        ++m_serial;
    }
    [[nodiscard]] bool waits() const noexcept { return static_cast<bool>(m_next); }
    [[nodiscard]] bool running() const noexcept { return m_background.running(); }

private:
    void start(Work work) {
        m_background.start(
            [this, serial = m_serial, work = std::move(work)](const std::stop_token&) {
                return [this, serial, result = work()] {
                    if (result && serial == m_serial)
                        result();
                    goOn();
                };
            },
            [this](const QString&) { goOn(); });
    }
    void goOn() {
        if (m_next && !m_background.running())
            start(std::exchange(m_next, {}));
    }

    Work m_next;
    unsigned m_serial = 0;
    Background m_background;
};

}  // namespace noctis
