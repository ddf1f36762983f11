#include "core/dispatch/job_queue.h"
#include "core/image/error.h"
#include "core/image/json_text.h"
#include "core/image/safe_write.h"
#include "core/passes/frame_name.h"
#include "core/project/project_file.h"
#include "core/steps/registry.h"
#include "support/files.h"
#include "support/frames.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include <thread>

using namespace noctis;
using test::Folder;

namespace {

constexpr int kQueuedFrames = 40;

/// A project of numbered frames, and a job that finishes them.
struct Numbered {
    Project project;
    Job job;
};

Numbered numbered(const Folder& folder, const std::string& id) {
    Numbered made;
    for (int i = 1; i <= kQueuedFrames; ++i) {
        const auto file = fileOfFrame(folder / "shot.####.exr", i);
        if (!std::filesystem::exists(file))
            writePasses(file, test::greyFrame(64, 36, 0.01F * static_cast<float>(i)));
    }
    made.project.passFiles = {folder / "shot.0001.exr"};
    made.project.recipe = test::recipeOf(R"({"step":"sharpen"},{"step":"grain"})");
    made.job.id = id;
    made.job.project = folder / "shot.noctis";
    made.job.frames = FrameRange{1, kQueuedFrames};
    made.job.to = folder / id / "{project}.####.exr";
    return made;
}

template <typename Holds> bool waitUntil(const JobQueue& queue, Holds holds) {
    for (int i = 0; i < 60'000; ++i) {
        const std::vector<QueuedJob> jobs = queue.jobs();
        if (holds(jobs))
            return true;
        if (std::ranges::any_of(jobs, [](const QueuedJob& q) { return !q.trouble.empty(); }))
            return false;
        std::this_thread::sleep_for(std::chrono::milliseconds(1));
    }
    return false;
}

const auto kAllDone = [](const std::vector<QueuedJob>& jobs) {
    return std::ranges::all_of(jobs, [](const QueuedJob& q) { return q.stage == JobStage::Done; });
};

std::vector<std::string> idsOf(const JobQueue& queue) {
    std::vector<std::string> ids;
    for (const QueuedJob& queued : queue.jobs())
        ids.push_back(queued.job.id);
    return ids;
}

}  // namespace

TEST_CASE("a queue runs its jobs in order, with progress and a picture", "[dispatch][queue]") {
    const Folder folder;
    std::atomic<int> changes = 0;
    JobQueue queue(folder / "queue", [&] { ++changes; });
    queue.pause(true);
    for (const char* id : {"a", "b"}) {
        const Numbered made = numbered(folder, id);
        queue.add(made.job, made.project);
    }
    CHECK(queue.jobs().front().stage == JobStage::Waits);
    queue.move("b", 0);
    CHECK(idsOf(queue) == std::vector<std::string>{"b", "a"});
    queue.pause(false);
    CHECK(waitUntil(queue, [](const std::vector<QueuedJob>& jobs) {
        return jobs[0].state.written > 0 && jobs[0].picture != nullptr;
    }));
    CHECK(queue.jobs()[1].stage == JobStage::Waits);
    REQUIRE(waitUntil(queue, kAllDone));
    CHECK(queue.jobs()[1].state.written == kQueuedFrames);
    CHECK(queue.jobs()[1].progress == 1.0F);
    CHECK(changes > 2 * kQueuedFrames);
    // The project's name stays in the names of files.
    CHECK(std::filesystem::exists(folder / "a/shot.0040.exr"));
    // Done once is done: what stands is kept.
    queue.retry("a");
    REQUIRE(waitUntil(queue, kAllDone));
    CHECK(queue.jobs()[1].state.kept == kQueuedFrames);
    queue.remove("b");
    CHECK(idsOf(queue) == std::vector<std::string>{"a"});
    CHECK_FALSE(std::filesystem::exists(folder / "queue/b"));
    CHECK(std::filesystem::exists(folder / "b/shot.0001.exr"));
}

TEST_CASE("a queue that is closed goes on where it was, frame by frame", "[dispatch][queue]") {
    const Folder folder;
    const Numbered made = numbered(folder, "long");
    {
        JobQueue whole(folder / "other", {});
        Numbered same = numbered(folder, "whole");
        whole.add(same.job, same.project);
        REQUIRE(waitUntil(whole, kAllDone));
    }
    int before = 0;
    {
        JobQueue queue(folder / "queue", {});
        queue.add(made.job, made.project);
        REQUIRE(waitUntil(
            queue, [](const std::vector<QueuedJob>& jobs) { return jobs[0].state.written >= 3; }));
        before = queue.jobs()[0].state.written;
    }
    CHECK(before < kQueuedFrames);
    JobQueue again(folder / "queue", {});
    REQUIRE(again.jobs().size() == 1);
    REQUIRE(waitUntil(again, kAllDone));
    CHECK(again.jobs()[0].state.kept >= before);
    CHECK(again.jobs()[0].state.kept + again.jobs()[0].state.written == kQueuedFrames);
    for (int i = 1; i <= kQueuedFrames; ++i) {
        CAPTURE(i);
        CHECK(readTextFile(fileOfFrame(folder / "long/shot.####.exr", i)) ==
              readTextFile(fileOfFrame(folder / "whole/shot.####.exr", i)));
    }
}

TEST_CASE("a job is stopped, paused and gone on with; another may go first", "[dispatch][queue]") {
    const Folder folder;
    JobQueue queue(folder / "queue", {});
    const Numbered first = numbered(folder, "first");
    const Numbered second = numbered(folder, "second");
    queue.add(first.job, first.project);
    queue.add(second.job, second.project);
    const auto begun = [](const std::vector<QueuedJob>& jobs) {
        return jobs[0].state.written >= 2;
    };
    REQUIRE(waitUntil(queue, begun));
    queue.stop("first");
    REQUIRE(waitUntil(queue, [](const std::vector<QueuedJob>& jobs) {
        return jobs[0].stage == JobStage::Stopped;
    }));
    const int written = queue.jobs()[0].state.done();
    CHECK(written < kQueuedFrames);
    REQUIRE(waitUntil(
        queue, [](const std::vector<QueuedJob>& jobs) { return jobs[1].stage == JobStage::Runs; }));
    queue.retry("first");
    queue.move("first", 0);  // before the one that runs, which waits then
    REQUIRE(waitUntil(queue, [](const std::vector<QueuedJob>& jobs) {
        return jobs[0].job.id == "first" && jobs[0].stage == JobStage::Runs;
    }));
    queue.pause(true);
    REQUIRE(waitUntil(queue, [](const std::vector<QueuedJob>& jobs) {
        return jobs[0].stage == JobStage::Waits || jobs[0].stage == JobStage::Done;
    }));
    CHECK(queue.paused());
    queue.pause(false);
    REQUIRE(waitUntil(queue, kAllDone));
    CHECK(queue.jobs()[0].state.kept >= written);
}

TEST_CASE("what fails is named, and goes on when its cause is gone", "[dispatch][queue]") {
    const Folder folder;
    JobQueue queue(folder / "queue", {});
    const Numbered made = numbered(folder, "gap");
    std::filesystem::rename(folder / "shot.0007.exr", folder / "away.exr");
    queue.add(made.job, made.project);
    const auto failed = [](const std::vector<QueuedJob>& jobs) {
        return jobs[0].stage == JobStage::Failed;
    };
    REQUIRE(waitUntil(queue, failed));
    REQUIRE(queue.jobs()[0].state.failures.size() == 1);
    CHECK(queue.jobs()[0].state.failures[0].frame == 7);
    std::filesystem::rename(folder / "away.exr", folder / "shot.0007.exr");
    queue.retry("gap");
    REQUIRE(waitUntil(queue, kAllDone));
    CHECK(queue.jobs()[0].state.written == 1);
    Numbered wrong = numbered(folder, "wrong");
    wrong.job.to = folder / "wrong/a.xyz";
    queue.add(wrong.job, wrong.project);
    REQUIRE(waitUntil(queue, [](const std::vector<QueuedJob>& jobs) {
        return jobs[1].stage == JobStage::Failed;
    }));
    CHECK(queue.jobs()[1].trouble.find(".xyz") != std::string::npos);
}

TEST_CASE("two runs don't share a queue, and what one left is taken over", "[dispatch][queue]") {
    const Folder folder;
    Numbered left = numbered(folder, "left");
    {
        JobQueue first(folder / "queue", {});
        JobQueue second(folder / "queue", {});
        second.pause(true);
        second.add(left.job, left.project, {folder / "shot.0001.exr"});
        CHECK(first.jobs().empty());
    }
    CHECK(std::filesystem::exists(folder / "queue-2/left/shot.0001.exr"));
    JobQueue next(folder / "queue", {});
    REQUIRE(next.jobs().size() == 1);
    CHECK(std::filesystem::exists(folder / "queue/left/shot.noctis"));
    CHECK(next.paused());
    next.pause(false);
    // Its frames are those that were kept with it: the first one alone.
    REQUIRE(waitUntil(next, [](const std::vector<QueuedJob>& jobs) {
        return jobs[0].stage == JobStage::Failed || jobs[0].stage == JobStage::Done;
    }));
    CHECK(next.jobs()[0].state.written >= 1);
}

TEST_CASE("a queue whose files are damaged opens with what can be read", "[dispatch][queue]") {
    const Folder folder;
    for (const char* text : {"", "{", "[]", R"({"jobs":3})", R"({"jobs":[3,{"id":4},{"id":"x"}]})",
                             R"({"jobs":[{"id":"../x"}],"paused":"yes"})"}) {
        CAPTURE(text);
        std::filesystem::create_directories(folder / "queue");
        writeTextFile(folder / "queue/queue.json", text);
        const JobQueue queue(folder / "queue", {});
        CHECK(queue.jobs().empty());
    }
}
