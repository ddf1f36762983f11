#pragma once

#include "core/dispatch/job.h"
#include "core/image/run_context.h"

#include <functional>
#include <string>
#include <vector>

namespace noctis {

/// A frame that failed, and why.
struct JobFailure {
    std::string view;
    int frame = 1;
    std::string reason;
    bool operator==(const JobFailure&) const = default;
};

/// How far a job is.
struct JobState {
    int pieces = 0;   ///< frames, of all views
    int written = 0;  ///< by this run
    int kept = 0;     ///< written by an earlier run, and still as they were
    std::vector<JobFailure> failures{};
    std::string halted{};  ///< why it can't go on: no room, no folder; empty: nothing is in its way
    [[nodiscard]] int done() const noexcept {
        return written + kept + static_cast<int>(failures.size());
    }
    bool operator==(const JobState&) const = default;
};

/// Called while a job runs, on its thread. Each may be empty.
struct JobObserver {
    std::function<void(const JobState&)> changed{};    ///< a frame is done
    std::function<void(const std::string&)> warned{};  ///< each sentence once
    std::function<void(const Image&)> shown{};         ///< a small picture of what was made last
    std::function<bool()> yields{};  ///< asked between frames: whether it ends here, to go on later
};

/// Runs a job, or a share of it. Frames that an earlier run wrote, that would come out the same and that nobody changed
/// are kept. One that fails is reported and the rest goes on; a file that can't be written halts the job, for the next
/// one couldn't be either. A sheet is put together when all its pictures are there, by whichever share comes last.
/// record   where it keeps what it wrote; see JobRecord.
/// Errors   what makes the job unusable as a whole: of opening its project, of its steps, names and formats.
JobState runJob(const Job& job, const JobShare& share, const std::filesystem::path& record,
                const JobObserver& observer, const RunContext& run);

}  // namespace noctis
