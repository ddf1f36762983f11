#pragma once

#include "core/dispatch/job_queue.h"

#include <QObject>

#include <atomic>
#include <map>

namespace noctis {

class Session;

/// The queue of jobs as the window has it. It works while other rooms are shown.
class DispatchQueue : public QObject {
    Q_OBJECT
public:
    DispatchQueue(Session& session, const std::filesystem::path& folder, QObject* parent = nullptr);

    /// Queues a job of the project as it is now, with these views besides its own; says why, if it can't be.
    bool add(Job job, const std::vector<View>& views = {}, bool first = false);
    [[nodiscard]] JobQueue& jobs() { return m_queue; }
    /// What a job is, for people: "saltern_quay, finished".
    [[nodiscard]] static QString titleOf(const Job& job);

Q_SIGNALS:
    void changed();

private:
    void announce();

    Session& m_session;
    std::atomic<bool> m_announced = false;
    std::map<std::string, JobStage> m_stages;
    JobQueue m_queue;  ///< last: its thread uses all of the above
};

}  // namespace noctis
