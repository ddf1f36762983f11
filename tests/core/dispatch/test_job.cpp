#include "core/dispatch/file_names.h"
#include "core/dispatch/job.h"
#include "core/dispatch/job_record.h"
#include "core/dispatch/job_run.h"
#include "core/image/error.h"
#include "core/image/safe_write.h"
#include "core/passes/frame_name.h"
#include "core/project/project_file.h"
#include "core/recipe/recipe_json.h"
#include "core/steps/registry.h"
#include "support/files.h"
#include "support/frames.h"

#include <catch2/catch.hpp>

using namespace noctis;
using test::Folder;

namespace {

constexpr int kFrames = 6;

std::string bytesOf(const std::filesystem::path& file) { return readTextFile(file); }

/// Numbered frames, each of another brightness, and a project of them that brightens them by a stop.
Job brightened(const Folder& folder) {
    for (int i = 1; i <= kFrames; ++i) {
        PassSet set;
        set.put(test::passOf({PassKind::Beauty, {}}, 16, 9,
                             [&](int, int, int) { return 0.02F * static_cast<float>(i); }));
        set.put(test::passOf({PassKind::Depth, {}}, 16, 9,
                             [](int x, int, int) { return x < 8 ? 4.0F : kNothingHit; }));
        writePasses(fileOfFrame(folder / "shot.####.exr", i), set);
    }
    Project project;
    project.passFiles = {folder / "shot.0001.exr"};
    project.recipe = test::recipeOf(R"({"step":"grade","settings":{"exposure":1}})");
    saveProject(project, folder / "shot.noctis", stepCatalogue());
    Job job;
    job.id = "brightened";
    job.project = folder / "shot.noctis";
    job.frames = FrameRange{1, kFrames};
    job.to = folder / "out/{project}.####.exr";
    return job;
}

JobState ran(const Folder& folder, const Job& job, const JobShare& share = {},
             const JobObserver& observer = {}, const RunContext& run = {}) {
    return runJob(job, share, recordFileOf(folder / "job.json", share.part, share.parts), observer,
                  run);
}

}  // namespace

TEST_CASE("a job is the same after it was saved, and keeps what it doesn't know",
          "[dispatch][job]") {
    const Folder folder;
    Job job;
    job.id = newJobId();
    job.kind = JobKind::Passes;
    job.project = folder / "a b/quay.noctis";
    job.views = {"quay view", "from above"};
    job.frames = FrameRange{3, 9};
    job.to = folder / "out/{view}_{pass}.png";
    job.settings.picture.bits = 16;
    job.settings.picture.framing.crop = Tile{1, 2, 11, 22};
    job.settings.picture.framing.longest = 64;
    job.settings.passes = {"depth"};
    job.settings.packing = PassPacking::FileEach;
    job.settings.span = GreySpan{0.5F, 40.0F, true};
    saveJob(job, folder / "job.json");
    CHECK(openJob(folder / "job.json") == job);
    job.kind = JobKind::Finished;
    job.settings = {};
    job.settings.picture = {.bits = 8, .straightAlpha = true, .dither = true, .framing = {}};
    job.settings.picture.framing.width = 320;
    job.settings.picture.framing.height = 180;
    job.settings.picture.framing.letterbox = 2.0F;
    job.settings.bridge = true;
    job.unknown = std::make_shared<const std::string>(R"({"later":1})");
    const std::string text = jobToText(job, folder.path());
    const Job again = jobFromText(text, folder.path());
    CHECK(again.settings == job.settings);
    CHECK(jobToText(again, folder.path()) == text);
    CHECK(text.find("\"later\"") != std::string::npos);
    // What lies below the job's folder goes along with it.
    CHECK(text.find(folder.path().string()) == std::string::npos);
}

TEST_CASE("a job that can't be used says why", "[dispatch][job]") {
    const std::string begin = R"({"format":"noctis-job","version":1,"id":"a","kind":"finished",)";
    const std::string good = R"("project":"p.noctis","to":"o.png")";
    CHECK_NOTHROW(jobFromText(begin + good + "}", "/x"));
    for (const char* more :
         {R"(,"frames":[4,1])", R"(,"frames":[1])", R"(,"frames":[0.5,2])", R"(,"views":"quay")",
          R"(,"settings":[])", R"(,"settings":{"bits":"8"})", R"(,"settings":{"crop":[1,2,3]})",
          R"(,"settings":{"size":0})", R"(,"settings":{"letterbox":0})",
          R"(,"settings":{"alpha":"none"})", R"(,"settings":{"normalise":[5,2]})",
          R"(,"settings":{"normalise":[1,2],"bright":"left"})",
          R"(,"settings":{"packing":"folders"})"}) {
        CAPTURE(more);
        CHECK_THROWS_AS(jobFromText(begin + good + more + "}", "/x"), Error);
    }
    CHECK_THROWS_AS(jobFromText(begin + R"("to":"o.png"})", "/x"), Error);
    CHECK_THROWS_AS(jobFromText("{}", "/x"), Error);
    CHECK_THROWS_AS(jobFromText("{", "/x"), Error);
    CHECK_THROWS_AS(
        jobFromText(
            R"({"format":"noctis-job","version":2,"id":"a","kind":"finished",)" + good + "}", "/x"),
        Error);
    CHECK_THROWS_AS(
        jobFromText(R"({"format":"noctis-job","version":1,"id":"../a","kind":"finished",)" + good +
                        "}",
                    "/x"),
        Error);
    for (const char* wrong : {"", "0/2", "3/2", "1", "1/0", "a/b", "1/2/3"})
        CHECK_THROWS_AS(jobShareFromText(wrong), Error);
}

TEST_CASE("a file's name holds what its placeholders stand for", "[dispatch][job]") {
    NameValues values{.project = "quay", .view = "from/above", .pass = "depth", .frame = 12};
    CHECK(namedFile("/o/{project}_{view}_{pass}_{frame}.exr", values) ==
          "/o/quay_from_above_depth_0012.exr");
    CHECK(namedFile("/o/a.######.exr", values) == "/o/a.000012.exr");
    CHECK(namedFile("/o/a.exr", values) == "/o/a.exr");
    values.numbered = true;
    CHECK(namedFile("/o/a.exr", values) == "/o/a.0012.exr");
    CHECK(namedFile("/o/{frame}/a.exr", values) == "/o/0012/a.exr");
    CHECK_THROWS_AS(namedFile("/o/{frames}.exr", values), Error);
    CHECK(namedFile("/o/{open.exr", values) == "/o/{open.0012.exr");
}

TEST_CASE("a job writes what finishing a frame writes, and its shares are all of it",
          "[dispatch][job]") {
    const Folder folder;
    const Job job = brightened(folder);
    const JobState whole = ran(folder, job);
    CHECK(whole.pieces == kFrames);
    CHECK(whole.written == kFrames);
    CHECK(whole.failures.empty());
    const Image third = readPicture(folder / "out/shot.0003.exr");
    CHECK(third(4, 4, 0) == Approx(0.12F).epsilon(1e-3));
    std::map<int, std::string> bytes;
    for (int i = 1; i <= kFrames; ++i)
        bytes[i] = bytesOf(fileOfFrame(folder / "out/shot.####.exr", i));
    Job again = job;
    again.to = folder / "parts/{pass}/{project}.####.exr";
    int pieces = 0;
    for (int part = 1; part <= 4; ++part)
        pieces += ran(folder, again, {part, 4}).written;
    CHECK(pieces == kFrames);
    for (int i = 1; i <= kFrames; ++i)
        CHECK(bytesOf(fileOfFrame(folder / "parts/beauty/shot.####.exr", i)) == bytes[i]);
}

TEST_CASE(
    "a job goes on where it stopped: what still stands is kept, what was touched is made anew",
    "[dispatch][job]") {
    const Folder folder;
    const Job job = brightened(folder);
    std::stop_source stop;
    JobObserver observer;
    observer.changed = [&](const JobState& state) {
        if (state.done() == 2)
            stop.request_stop();
    };
    const JobState stopped = ran(folder, job, {}, observer, {.stop = stop.get_token()});
    CHECK(stopped.written == 2);
    CHECK_FALSE(std::filesystem::exists(folder / "out/shot.0003.exr"));
    const std::string first = bytesOf(folder / "out/shot.0001.exr");
    writeTextFile(folder / "out/shot.0002.exr", "another program's");
    const JobState gone = ran(folder, job);
    CHECK(gone.kept == 1);
    CHECK(gone.written == kFrames - 1);
    CHECK(bytesOf(folder / "out/shot.0001.exr") == first);
    CHECK(readPicture(folder / "out/shot.0002.exr")(4, 4, 0) == Approx(0.08F).epsilon(1e-3));
    CHECK(ran(folder, job).kept == kFrames);
    // Another frame, another recipe, other settings: each is made of something else then.
    std::filesystem::copy_file(folder / "shot.0006.exr", folder / "shot.0005.exr",
                               std::filesystem::copy_options::overwrite_existing);
    CHECK(ran(folder, job).written == 1);
    Job smaller = job;
    smaller.settings.picture.framing.longest = 8;
    CHECK(ran(folder, smaller).written == kFrames);
    // A longer job has the frames of the shorter one.
    Job part = smaller;
    part.to = folder / "longer/{project}.####.exr";
    part.frames = FrameRange{1, 2};
    CHECK(ran(folder, part).written == 2);
    part.frames = FrameRange{1, kFrames};
    CHECK(ran(folder, part).kept == 2);
    CHECK(ran(folder, smaller).written == kFrames);  // a record has one file of each frame
    // A record that was cut off in the middle of a line costs that frame.
    const std::filesystem::path record = recordFileOf(folder / "job.json", 1, 1);
    std::string text = readTextFile(record);
    text.resize(text.size() - 20);
    writeTextFile(record, text);
    CHECK(ran(folder, smaller).written == 1);
}

TEST_CASE("a frame that fails is named and the rest goes on; a full disk halts the job",
          "[dispatch][job]") {
    const Folder folder;
    const Job job = brightened(folder);
    std::filesystem::remove(folder / "shot.0004.exr");
    JobState state = ran(folder, job);
    CHECK(state.written == kFrames - 1);
    REQUIRE(state.failures.size() == 1);
    CHECK(state.failures.front().frame == 4);
    CHECK(state.failures.front().reason.find("shot.0004.exr") != std::string::npos);
    std::filesystem::copy_file(folder / "shot.0003.exr", folder / "shot.0004.exr");
    Job other = job;
    other.to = folder / "full/{project}.####.exr";
    {
        const test::FullDisk full(256);
        state = ran(folder, other);
        CHECK(state.written == 0);
        CHECK(state.failures.empty());
        CHECK(state.halted.find("shot.0001.exr") != std::string::npos);
    }
    state = ran(folder, other);
    CHECK(state.halted.empty());
    CHECK(state.written == kFrames);
}

TEST_CASE("passes go out in one file, in a file each or in folders, in metres or as greys",
          "[dispatch][job]") {
    const Folder folder;
    Job job = brightened(folder);
    job.kind = JobKind::Passes;
    job.frames.reset();
    job.to = folder / "all.exr";
    CHECK(ran(folder, job).written == 1);
    CHECK(readPasses({folder / "all.exr"}).passes.size() == 2);
    job.settings.packing = PassPacking::FolderEach;
    job.to = folder / "sorted/f.exr";
    CHECK(ran(folder, job).written == 1);
    CHECK(readPasses({folder / "sorted/depth/f.exr"}).passes.front().image(2, 2, 0) == 4.0F);
    job.settings.packing = PassPacking::FileEach;
    job.settings.passes = {"depth"};
    job.settings.span = GreySpan{2.0F, 10.0F, true};
    job.settings.picture.bits = 16;
    job.to = folder / "grey_{pass}.png";
    CHECK(ran(folder, job).written == 1);
    const PassSet read = readPasses({folder / "grey_depth.png"});
    REQUIRE(read.find(PassKind::Depth) != nullptr);
    CHECK(read.find(PassKind::Depth)->image(2, 2, 0) == Approx(4.0F).margin(8.0 / 65535.0));
    CHECK(read.find(PassKind::Depth)->image(12, 2, 0) == kNothingHit);
    CHECK(readPicture(folder / "grey_depth.png")(12, 2, 0) == 0.0F);  // the far end's grey
    job.to = folder / "grey.png";
    job.settings.passes = {"depth", "beauty"};
    CHECK_THROWS_WITH(ran(folder, job), Catch::Contains("{pass}"));  // both would be one file
    job.to = folder / "both.exr";
    job.settings.packing = PassPacking::OneFile;
    CHECK_THROWS_WITH(ran(folder, job), Catch::Contains("a file for each pass"));
    job.to = folder / "shot.0001.exr";
    job.settings = {};
    CHECK_THROWS_AS(ran(folder, job), Error);  // it is what the job reads
}

TEST_CASE("passes in another frame keep their meaning", "[dispatch][framing]") {
    PassSet set;
    set.camera = lookingAt(V3f(0, 0, 0), V3f(0, 0, -1), 0.8F);
    set.put(test::passOf({PassKind::Beauty, {}}, 32, 18,
                         [](int x, int, int) { return x % 2 == 0 ? 1.0F : 0.0F; }));
    set.put(test::passOf({PassKind::Depth, {}}, 32, 18,
                         [](int x, int, int) { return x % 2 == 0 ? 4.0F : 9.0F; }));
    set.put(test::passOf({PassKind::Vectors, {}}, 32, 18,
                         [](int, int, int c) { return static_cast<float>(c + 1); }));
    Framing framing;
    framing.longest = 16;
    framing.letterbox = 4.0F;
    const PassSet half = framedPasses(set, framing);
    CHECK(half.width == 16);
    CHECK(half.camera.has_value());
    CHECK(half.find(PassKind::Beauty)->image(5, 5, 0) == Approx(0.5F));
    const float metres = half.find(PassKind::Depth)->image(5, 0, 0);  // under no bar
    CHECK((metres == 4.0F || metres == 9.0F));
    CHECK(half.find(PassKind::Vectors)->image(5, 5, 0) == Approx(0.5F));
    CHECK(half.find(PassKind::Vectors)->image(5, 5, 3) == Approx(2.0F));
    Framing part;
    part.crop = Tile{0, 0, 16, 9};
    CHECK_FALSE(framedPasses(set, part).camera.has_value());
    CHECK(framedPasses(set, part).find(PassKind::Vectors)->image(5, 5, 3) == 4.0F);
    Framing wide;
    wide.width = 32;
    wide.height = 9;
    CHECK_FALSE(framedPasses(set, wide).camera.has_value());
    CHECK(framedPasses(set, wide).find(PassKind::Vectors)->image(5, 5, 1) == Approx(1.0F));
    CHECK(framedPasses(set, wide).find(PassKind::Vectors)->image(5, 5, 2) == Approx(3.0F));
}
