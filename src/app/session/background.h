#pragma once

#include <QObject>

#include <functional>
#include <stop_token>
#include <thread>

namespace noctis {

/// Runs one piece of work at a time on its own thread; what it gives is handled on the owner's
/// thread. Starting another stops the one before and drops its result. Let it be its class's last member,
/// so that the thread ends before what it works with.
class Background {
public:
    explicit Background(QObject* owner) : m_owner(owner) {}
    ~Background() { stop(); }
    Background(const Background&) = delete;
    Background& operator=(const Background&) = delete;

    /// work returns what to call on the owner's thread; it may be empty. An exception reaches failed as a
    /// sentence.
    void start(std::function<std::function<void()>(std::stop_token)> work,
               std::function<void(const QString&)> failed);
    /// Stops and waits.
    void stop();
    /// Asks the work to end early; what it then returns is handled as ever.
    void askToStop() { m_thread.request_stop(); }
    [[nodiscard]] bool running() const noexcept { return m_running; }

private:
    QObject* m_owner;
    std::jthread m_thread;
    unsigned m_serial = 0;
    bool m_running = false;
};

}  // namespace noctis
