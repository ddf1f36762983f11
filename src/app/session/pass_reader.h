#pragma once

#include "app/session/background.h"
#include "core/image/run_context.h"

#include <QElapsedTimer>
#include <QObject>
#include <QString>

#include <atomic>
#include <deque>
#include <functional>

namespace noctis {

/// Reads pass files off the window's thread, one request after another, in the order they were made.
class PassReader : public QObject {
    Q_OBJECT
public:
    /// Called on the owner's thread with what was read.
    using Apply = std::function<void()>;
    using Work = std::function<Apply(const RunContext&)>;
    using Failed = std::function<void(const QString&)>;

    struct Request {
        QString what;                 ///< is read, for people
        std::function<Work()> begin;  ///< on the owner's thread, when its turn comes
        Failed failed;                ///< with what begin, the work or its result threw
        QString once{};  ///< if set, nothing is asked while one of the same waits or runs
    };

    explicit PassReader(QObject* parent = nullptr) : QObject(parent) {}

    void ask(Request request);
    /// Drops what is read and what waits. Reading ends soon; what is asked from now on waits for that.
    void stop();
    [[nodiscard]] bool running() const { return !m_requests.empty() || m_background.running(); }
    /// What is read now; empty if nothing is.
    [[nodiscard]] QString what() const;
    [[nodiscard]] float done() const { return m_done; }
    [[nodiscard]] double secondsLeft() const;

Q_SIGNALS:
    void progressed();
    /// Nothing is left to read.
    void finished();

private:
    void next();
    /// Applies what was read, unless it was dropped, and takes up what comes after it.
    void end(const Apply& apply, const Failed& failed);

    std::deque<Request> m_requests;  ///< the first one is being read
    bool m_applying = false;         ///< the result of the last one
    bool m_dropped = false;          ///< what is being read is not wanted any more
    std::atomic<float> m_done = 0.0F;
    QElapsedTimer m_clock;
    Background m_background{this};  ///< last: it uses all of the above
};

}  // namespace noctis
