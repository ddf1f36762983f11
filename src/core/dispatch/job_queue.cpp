#include "core/dispatch/job_queue.h"

#include "core/dispatch/job_record.h"
#include "core/image/error.h"
#include "core/image/json_text.h"
#include "core/image/safe_write.h"
#include "core/project/project_file.h"
#include "core/steps/registry.h"

#include <algorithm>
#include <array>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

namespace fs = std::filesystem;
using Json = nlohmann::json;

namespace {

constexpr const char* kListName = "queue.json";
constexpr const char* kJobName = "job.json";
constexpr const char* kLockName = "lock";
constexpr int kMostQueues = 64;
constexpr std::size_t kMostWarnings = 20;

constexpr std::array<std::string_view, 5> kStages{"waits", "runs", "stopped", "failed", "done"};

std::string_view stageId(JobStage stage) { return kStages.at(static_cast<std::size_t>(stage)); }

JobStage stageNamed(const Json& json) {
    for (std::size_t i = 0; i < kStages.size(); ++i)
        if (json == kStages[i] && static_cast<JobStage>(i) != JobStage::Runs)
            return static_cast<JobStage>(i);
    return JobStage::Waits;
}

/// "dispatch", "dispatch-2", …
fs::path queueFolder(const fs::path& folder, int number) {
    return number == 1 ? folder : fs::path(fmt::format("{}-{}", folder.string(), number));
}

Json listedJob(const QueuedJob& queued) {
    Json failures = Json::array();
    for (const JobFailure& failure : queued.state.failures)
        failures.push_back(
            {{"view", failure.view}, {"frame", failure.frame}, {"reason", failure.reason}});
    return {{"id", queued.job.id},           {"stage", stageId(queued.stage)},
            {"frames", queued.state.pieces}, {"done", queued.state.written + queued.state.kept},
            {"trouble", queued.trouble},     {"failures", failures}};
}

/// As far as it can be read: what a queue shows of a job isn't worth the job.
void readListed(const Json& json, QueuedJob& queued) {
    const auto whole = [&](const char* key) {
        const Json number = json.value(key, Json(0));
        return number.is_number_integer() ? number.get<int>() : 0;
    };
    queued.stage = stageNamed(json.value("stage", Json()));
    queued.state.pieces = whole("frames");
    queued.state.kept = whole("done");
    if (const Json trouble = json.value("trouble", Json()); trouble.is_string())
        queued.trouble = trouble.get<std::string>();
    for (const Json& each : json.value("failures", Json::array()))
        if (each.is_object() && each.value("view", Json()).is_string() &&
            each.value("frame", Json()).is_number_integer() &&
            each.value("reason", Json()).is_string())
            queued.state.failures.push_back({each["view"].get<std::string>(),
                                             each["frame"].get<int>(),
                                             each["reason"].get<std::string>()});
    const int pieces = std::max(queued.state.pieces, 1);
    queued.progress = queued.stage == JobStage::Done
                          ? 1.0F
                          : static_cast<float>(queued.state.done()) / static_cast<float>(pieces);
}

/// Under another name of the same file where the file system has that, else as a copy.
void keepFile(const fs::path& from, const fs::path& to) {
    std::error_code failed;
    fs::create_hard_link(from, to, failed);
    if (failed)
        writeThenRename(to, copyWriter(std::make_shared<const InputFile>(from)));
}

}  // namespace

JobQueue::JobQueue(const fs::path& folder, std::function<void()> changed)
    : m_changed(std::move(changed)) {
    for (int number = 1; number <= kMostQueues && !m_lock; ++number) {
        m_folder = queueFolder(folder, number);
        auto lock = std::make_unique<RunLock>(m_folder / kLockName);
        if (lock->held())
            m_lock = std::move(lock);
        else if (!RunLock::isHeld(m_folder / kLockName))
            break;  // it can't be made at all
    }
    open(m_folder);
    for (int number = 1; number <= kMostQueues; ++number) {
        const fs::path other = queueFolder(folder, number);
        std::error_code unknown;
        if (other != m_folder && fs::is_directory(other, unknown))
            takeOver(other);
    }
    m_thread = std::jthread([this](const std::stop_token& end) { loop(end); });
}

JobQueue::~JobQueue() {
    m_thread.request_stop();
    {
        const std::scoped_lock lock(m_mutex);
        interrupt(JobStage::Waits);
    }
    m_wake.notify_all();
    if (m_thread.joinable())
        m_thread.join();
}

void JobQueue::open(const fs::path& folder) {
    Json list;
    try {
        list = parseJsonIfAny(readTextFile(folder / kListName));
    } catch (const Error&) {
        return;  // a new one
    }
    if (!list.is_object())
        return;
    m_paused = m_paused || list.value("paused", Json(false)) == true;
    for (const Json& each : list.value("jobs", Json::array())) {
        const Json id = each.is_object() ? each.value("id", Json()) : Json();
        if (!id.is_string())
            continue;
        QueuedJob queued;
        try {
            queued.job = openJob(folder / id.get<std::string>() / kJobName);
        } catch (const Error& error) {
            m_trouble = error.what();
            continue;
        }
        if (queued.job.id != id)
            continue;
        readListed(each, queued);
        m_jobs.push_back(std::move(queued));
    }
}

void JobQueue::takeOver(const fs::path& folder) {
    const RunLock other(folder / kLockName);
    if (!other.held() || !m_lock)
        return;
    const std::size_t before = m_jobs.size();
    open(folder);
    for (std::size_t i = before; i < m_jobs.size(); ++i) {
        const std::string& id = m_jobs[i].job.id;
        std::error_code failed;
        fs::rename(folder / id, folderOfJob(id), failed);
        if (!failed)
            try {
                m_jobs[i].job = openJob(folderOfJob(id) / kJobName);
            } catch (const Error& error) {
                m_trouble = error.what();
            }
    }
    save();
    std::error_code ignored;
    fs::remove(folder / kListName, ignored);
}

fs::path JobQueue::folderOfJob(const std::string& id) const { return m_folder / id; }

void JobQueue::add(Job job, Project project, const std::vector<fs::path>& passing, bool first) {
    const fs::path folder = folderOfJob(job.id);
    makeFolder(folder);
    const auto kept = [&](fs::path& file) {
        if (std::ranges::find(passing, file) == passing.end())
            return;
        const fs::path own = folder / file.filename();
        keepFile(file, own);
        file = own;
    };
    for (fs::path& file : project.passFiles)
        kept(file);
    for (auto& [view, files] : project.viewFiles)
        for (fs::path& file : files)
            kept(file);
    // Its name stays that of the project: names of files may have it.
    job.project = folder / job.project.filename();
    saveProject(project, job.project, stepCatalogue());
    saveJob(job, folder / kJobName);
    {
        const std::scoped_lock lock(m_mutex);
        QueuedJob queued;
        queued.job = std::move(job);
        m_jobs.insert(first ? m_jobs.begin() : m_jobs.end(), std::move(queued));
        yieldToFirst();
        save();
    }
    m_wake.notify_all();
    changed();
}

QueuedJob* JobQueue::find(const std::string& id) {
    const auto found =
        std::ranges::find_if(m_jobs, [&](const QueuedJob& queued) { return queued.job.id == id; });
    return found == m_jobs.end() ? nullptr : &*found;
}

QueuedJob* JobQueue::next() {
    if (m_paused)
        return nullptr;
    const auto found = std::ranges::find_if(m_jobs, [](const QueuedJob& queued) {
        return queued.stage == JobStage::Waits || queued.stage == JobStage::Runs;
    });
    return found == m_jobs.end() ? nullptr : &*found;
}

void JobQueue::interrupt(JobStage then) {
    if (m_running.empty())
        return;
    m_then = then;
    m_stop.request_stop();
}

void JobQueue::yieldToFirst() {
    const QueuedJob* first = next();
    m_yields = !m_running.empty() && first != nullptr && first->job.id != m_running;
}

void JobQueue::move(const std::string& id, std::size_t place) {
    {
        const std::scoped_lock lock(m_mutex);
        QueuedJob* const found = find(id);
        if (found == nullptr)
            return;
        QueuedJob queued = std::move(*found);
        m_jobs.erase(m_jobs.begin() + (found - m_jobs.data()));
        const auto to = static_cast<std::ptrdiff_t>(std::min(place, m_jobs.size()));
        m_jobs.insert(m_jobs.begin() + to, std::move(queued));
        yieldToFirst();
        save();
    }
    changed();
}

void JobQueue::stop(const std::string& id) {
    {
        const std::scoped_lock lock(m_mutex);
        QueuedJob* const queued = find(id);
        if (queued == nullptr)
            return;
        if (id == m_running)
            interrupt(JobStage::Stopped);
        else if (queued->stage == JobStage::Waits)
            queued->stage = JobStage::Stopped;
        save();
    }
    changed();
}

void JobQueue::retry(const std::string& id) {
    {
        const std::scoped_lock lock(m_mutex);
        QueuedJob* const queued = find(id);
        if (queued == nullptr || id == m_running)
            return;
        queued->stage = JobStage::Waits;
        queued->trouble.clear();
        queued->state.failures.clear();
        save();
    }
    m_wake.notify_all();
    changed();
}

void JobQueue::remove(const std::string& id) {
    {
        const std::scoped_lock lock(m_mutex);
        if (id == m_running)
            interrupt(JobStage::Stopped);
        std::erase_if(m_jobs, [&](const QueuedJob& queued) { return queued.job.id == id; });
        save();
        if (id != m_running) {
            std::error_code ignored;
            fs::remove_all(folderOfJob(id), ignored);
        }
    }
    changed();
}

void JobQueue::pause(bool paused) {
    {
        const std::scoped_lock lock(m_mutex);
        m_paused = paused;
        if (paused)
            interrupt(JobStage::Waits);
        save();
    }
    m_wake.notify_all();
    changed();
}

bool JobQueue::paused() const {
    const std::scoped_lock lock(m_mutex);
    return m_paused;
}

std::vector<QueuedJob> JobQueue::jobs() const {
    const std::scoped_lock lock(m_mutex);
    return m_jobs;
}

std::string JobQueue::trouble() const {
    const std::scoped_lock lock(m_mutex);
    return m_trouble;
}

void JobQueue::save() {
    Json jobs = Json::array();
    for (const QueuedJob& queued : m_jobs)
        jobs.push_back(listedJob(queued));
    try {
        makeFolder(m_folder);
        writeTextFile(
            m_folder / kListName,
            Json{{"format", "noctis-queue"}, {"paused", m_paused}, {"jobs", jobs}}.dump(2) + "\n");
    } catch (const Error& error) {
        m_trouble = error.what();
    }
}

void JobQueue::loop(const std::stop_token& end) {
    while (!end.stop_requested()) {
        Job job;
        {
            std::unique_lock lock(m_mutex);
            if (!m_wake.wait(lock, end, [&] { return next() != nullptr; }))
                return;
            QueuedJob& queued = *next();
            queued.stage = JobStage::Runs;
            queued.warnings.clear();
            queued.trouble.clear();
            job = queued.job;
            m_running = job.id;
            m_stop = std::stop_source();
            m_yields = false;
            m_then = JobStage::Waits;
            m_workBegan.reset();
        }
        changed();
        run(job);
        changed();
    }
}

void JobQueue::run(const Job& job) {
    // The list may change meanwhile, and the job be taken out of it.
    const auto onto = [&](const std::function<void(QueuedJob&)>& edit) {
        {
            const std::scoped_lock lock(m_mutex);
            if (QueuedJob* const queued = find(job.id))
                edit(*queued);
        }
        changed();
    };
    JobObserver observer;
    observer.changed = [&](const JobState& state) {
        onto([&](QueuedJob& queued) {
            if (state.kept > queued.state.kept || !m_workBegan) {
                // What was kept took no time.
                m_workBegan = Clock::now();
                m_workFrom = queued.progress;
            }
            queued.state = state;
        });
    };
    observer.warned = [&](const std::string& sentence) {
        onto([&](QueuedJob& queued) {
            if (queued.warnings.size() < kMostWarnings)
                queued.warnings.push_back(sentence);
        });
    };
    observer.shown = [&](const Image& picture) {
        onto([&](QueuedJob& queued) { queued.picture = std::make_shared<const Image>(picture); });
    };
    observer.yields = [this] {
        const std::scoped_lock lock(m_mutex);
        return m_yields;
    };
    const RunContext run{m_stop.get_token(), [&](float done) {
                             onto([&](QueuedJob& queued) {
                                 queued.progress = done;
                                 const float part = done - m_workFrom;
                                 if (!m_workBegan || part <= 0.0F)
                                     return;
                                 const std::chrono::duration<double> taken =
                                     Clock::now() - *m_workBegan;
                                 queued.secondsLeft =
                                     taken.count() * static_cast<double>((1.0F - done) / part);
                             });
                         }};
    JobState state;
    std::string trouble;
    try {
        const fs::path file = folderOfJob(job.id) / kJobName;
        state = runJob(job, {}, recordFileOf(file, 1, 1), observer, run);
        trouble = state.halted;
    } catch (const std::exception& error) {
        trouble = error.what();
    }
    const std::scoped_lock lock(m_mutex);
    m_running.clear();
    if (QueuedJob* const queued = find(job.id)) {
        settle(*queued, state, trouble);
    } else {
        std::error_code ignored;
        fs::remove_all(folderOfJob(job.id), ignored);
    }
    save();
}

void JobQueue::settle(QueuedJob& queued, const JobState& state, const std::string& trouble) {
    queued.secondsLeft.reset();
    queued.trouble = trouble;
    if (state.pieces > 0)
        queued.state = state;
    const bool whole = state.pieces > 0 && state.done() == state.pieces;
    const bool yielded = m_yields && trouble.empty() && !whole && state.pieces > 0;
    if ((m_stop.stop_requested() && !whole) || yielded) {
        queued.stage = m_then;
        queued.trouble.clear();
    } else if (!trouble.empty() || !state.failures.empty())
        queued.stage = JobStage::Failed;
    else
        queued.stage = JobStage::Done;
    if (queued.stage == JobStage::Done)
        queued.progress = 1.0F;
}

}  // namespace noctis
