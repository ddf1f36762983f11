#pragma once

#include "core/dispatch/job_run.h"
#include "core/image/run_lock.h"

#include <chrono>
#include <condition_variable>
#include <filesystem>
#include <functional>
#include <memory>
#include <mutex>
#include <optional>
#include <stop_token>
#include <string>
#include <thread>
#include <vector>

namespace noctis {

enum class JobStage { Waits, Runs, Stopped, Failed, Done };

/// A job in the queue, and how far it is.
struct QueuedJob {
    Job job;
    JobStage stage = JobStage::Waits;
    JobState state{};
    float progress = 0.0F;                   ///< 0 to 1
    std::optional<double> secondsLeft{};     ///< while it runs, once that can be known
    std::string trouble{};                   ///< why it failed as a whole
    std::vector<std::string> warnings{};     ///< each sentence once
    std::shared_ptr<const Image> picture{};  ///< what was made last, small, sRGB-encoded; none yet
};

/// Runs jobs one after the other, the first of those that wait, on a thread of its own, and keeps them in a folder: a
/// queue that is opened again goes on where it stopped.
/// Threads  safe from any.
class JobQueue {
public:
    /// folder: made if needed, and locked. Where another run has it, this one has a folder beside it; what ended runs left
    /// in such folders is taken over.
    /// changed: called from any thread after a change; may be empty.
    JobQueue(const std::filesystem::path& folder, std::function<void()> changed);
    /// Stops what runs, which goes on next time.
    ~JobQueue();
    JobQueue(const JobQueue&) = delete;
    JobQueue& operator=(const JobQueue&) = delete;

    /// At the end, or first of all. The project is kept as it is now. passing: files of it that may be gone when the job
    /// runs; they are kept, too.
    /// Errors   Error(FileAccess) if it can't be kept.
    void add(Job job, Project project, const std::vector<std::filesystem::path>& passing = {},
             bool first = false);
    /// Before the one that is at that place without it; one that runs ends its frame, and lets those before it go first.
    void move(const std::string& id, std::size_t place);
    void stop(const std::string& id);
    /// Goes on with one that was stopped, failed or is done: frames that stand are kept.
    void retry(const std::string& id);
    /// Takes it out of the queue; what it wrote stays.
    void remove(const std::string& id);
    /// While paused, none runs; what ran goes on later.
    void pause(bool paused);
    [[nodiscard]] bool paused() const;
    [[nodiscard]] std::vector<QueuedJob> jobs() const;
    /// What couldn't be kept, and why; empty if all could.
    [[nodiscard]] std::string trouble() const;

private:
    using Clock = std::chrono::steady_clock;

    void open(const std::filesystem::path& folder);
    void takeOver(const std::filesystem::path& folder);
    void loop(const std::stop_token& end);
    void run(const Job& job);
    /// What follows is called with m_mutex held.
    [[nodiscard]] QueuedJob* find(const std::string& id);
    [[nodiscard]] QueuedJob* next();
    void interrupt(JobStage then);
    /// The running one ends its frame and waits, if another is before it.
    void yieldToFirst();
    void settle(QueuedJob& queued, const JobState& state, const std::string& trouble);
    void save();
    [[nodiscard]] std::filesystem::path folderOfJob(const std::string& id) const;
    void changed() const {
        if (m_changed)
            m_changed();
    }

    std::filesystem::path m_folder;
    std::unique_ptr<RunLock> m_lock;
    std::function<void()> m_changed;
    mutable std::mutex m_mutex;
    std::condition_variable_any m_wake;
    std::vector<QueuedJob> m_jobs;
    bool m_paused = false;
    std::string m_running;  ///< the id; empty: none
    std::stop_source m_stop;
    bool m_yields = false;
    JobStage m_then = JobStage::Waits;  ///< of the running one, when it is stopped
    std::optional<Clock::time_point> m_workBegan;
    float m_workFrom = 0.0F;
    std::string m_trouble;
    std::jthread m_thread;  ///< last: it uses all of the above
};

}  // namespace noctis
