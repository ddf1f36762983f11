#include "cli/commands.h"
#include "cli/progress.h"
#include "core/dispatch/job_record.h"
#include "core/dispatch/job_run.h"
#include "core/image/error.h"

#include <memory>

#include <fmt/format.h>

namespace noctis {

namespace {

struct RunOptions {
    std::string job;
    std::string part = "1/1";
};

void runSaved(const RunOptions& options, const CommandContext& context) {
    const JobShare share = jobShareFromText(options.part);
    const Job job = openJob(options.job);
    Progress progress(context.err, "writing");
    const RunContext run{.stop = context.stop,
                         .progress = [&](float done) { progress.report(done); }};
    JobObserver observer;
    observer.warned = [&](const std::string& sentence) {
        fmt::print(context.err, "warning: {}\n", sentence);
    };
    const JobState state =
        runJob(job, share, recordFileOf(options.job, share.part, share.parts), observer, run);
    context.written += state.written;
    if (state.kept > 0)
        fmt::print(context.err, "kept {} of {} frames, which were written before\n", state.kept,
                   state.pieces);
    for (const JobFailure& failure : state.failures)
        fmt::print(context.err, "warning: {}frame {}: {}\n",
                   failure.view.empty() ? "" : failure.view + ", ", failure.frame, failure.reason);
    if (!state.halted.empty())
        throw Error(ErrorCode::FileAccess,
                    fmt::format("{}; run the job again to go on", state.halted));
    if (!state.failures.empty() && !context.stop.stop_requested())
        throw Error(ErrorCode::FileAccess,
                    fmt::format("{} of {} frames failed; fix the cause and run the job again",
                                state.failures.size(), state.pieces));
}

}  // namespace

void addRunCommand(CLI::App& app, Command& chosen) {
    const auto o = std::make_shared<RunOptions>();
    CLI::App* command = app.add_subcommand("run", "Run a saved job; what it wrote before is kept");
    command->add_option("JOB", o->job, "The job's file")->required();
    command->add_option("--part", o->part, "I/N: the Ith of N shares of its frames");
    command->callback(
        [&chosen, o] { chosen = [o](const CommandContext& context) { runSaved(*o, context); }; });
}

}  // namespace noctis
