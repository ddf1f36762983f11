#include "core/dispatch/job_record.h"
#include "core/dispatch/job_run.h"
#include "core/image/error.h"
#include "core/image/safe_write.h"
#include "core/project/project_file.h"
#include "core/scene/import.h"
#include "core/steps/registry.h"
#include "support/files.h"
#include "support/frames.h"
#include "support/yard.h"

#include <catch2/catch.hpp>

using namespace noctis;
using test::Folder;

namespace {

JobState ranKind(const Folder& folder, const Job& job) {
    return runJob(job, {}, recordFileOf(folder / "job.json", 1, 1), {}, {});
}

/// A project that renders depth and beauty of the yard, from two views of its own, and has no files of passes.
Job yardRendered(const Folder& folder) {
    Project project = newProject();
    project.scene = test::yardFile(folder);
    project.width = 32;
    project.height = 18;
    project.passes = {passRequest(PassKind::Depth), passRequest(PassKind::Beauty)};
    project.passes.back().settings.set("samples", 1.0F);
    project.views = {{"near", lookingAt(V3f(0, 1, 4), V3f(0, 1, 0), 0.6F)},
                     {"far", lookingAt(V3f(0, 1, 30), V3f(0, 1, 0), 0.6F)}};
    saveProject(project, folder / "yard.noctis", stepCatalogue());
    Job job;
    job.id = "yard";
    job.kind = JobKind::Passes;
    job.project = folder / "yard.noctis";
    job.views = {"near", "far"};
    job.settings.render = JobRender::Missing;
    job.to = folder / "out/{view}.exr";
    return job;
}

float middleDepth(const std::filesystem::path& file) {
    const PassSet set = readPasses({file});
    REQUIRE(set.find(PassKind::Depth) != nullptr);
    return set.find(PassKind::Depth)->image(16, 9, 0);
}

}  // namespace

TEST_CASE("a job renders the passes of views that have none", "[dispatch][job]") {
    const Folder folder;
    Job job = yardRendered(folder);
    CHECK(ranKind(folder, job).written == 2);
    const float near = middleDepth(folder / "out/near.exr");
    CHECK(near == Approx(5.0F).margin(0.2));  // the post
    CHECK(middleDepth(folder / "out/far.exr") > near + 10.0F);
    CHECK(readPasses({folder / "out/near.exr"}).passes.size() >= 2);
    // What has files is read, unless all is to be rendered.
    Project project = openProject(job.project, stepCatalogue());
    PassSet other = test::greyFrame(32, 18, 0.25F);
    other.put(test::passOf({PassKind::Depth, {}}, 32, 18, [](int, int, int) { return 2.0F; }));
    writePasses(folder / "kept.exr", other);
    project.viewFiles["near"] = {folder / "kept.exr"};
    saveProject(project, job.project, stepCatalogue());
    CHECK(ranKind(folder, job).failures.empty());
    CHECK(middleDepth(folder / "out/near.exr") == 2.0F);
    job.settings.render = JobRender::All;
    CHECK(ranKind(folder, job).failures.empty());
    CHECK(middleDepth(folder / "out/near.exr") == near);
    // A finished picture comes of the same passes.
    job.kind = JobKind::Finished;
    job.to = folder / "out/{view}.png";
    CHECK(ranKind(folder, job).written == 2);
    CHECK(readPicture(folder / "out/far.png").width() == 32);
    job.views = {"nowhere"};
    const JobState state = ranKind(folder, job);
    REQUIRE(state.failures.size() == 1);
    CHECK(state.failures.front().reason.find("nowhere") != std::string::npos);
}

TEST_CASE("sets of objects are rendered without the others, each into its folder",
          "[dispatch][job]") {
    const Folder folder;
    Job job = yardRendered(folder);
    job.views = {"near"};
    job.settings.sets = {{"posts", "post"}, {"walls", "wall"}};
    job.settings.passes = {"depth"};
    job.settings.packing = PassPacking::FileEach;
    job.to = folder / "out/{view}_{pass}.exr";
    CHECK(ranKind(folder, job).written == 2);
    CHECK(middleDepth(folder / "out/posts/near_depth.exr") == Approx(5.0F).margin(0.2));
    CHECK(middleDepth(folder / "out/walls/near_depth.exr") == Approx(9.0F).margin(0.2));
    job.to = folder / "all/{set}-{pass}.exr";
    CHECK(ranKind(folder, job).written == 2);
    CHECK(std::filesystem::exists(folder / "all/walls-depth.exr"));
    job.settings.passes = {"normal"};
    const JobState state = ranKind(folder, job);
    CHECK(state.failures.size() == 2);
    CHECK(state.failures.front().reason.find("normal") != std::string::npos);
}

TEST_CASE("a job writes height maps, what derives from them, and solids", "[dispatch][job]") {
    const Folder folder;
    PassSet set = test::greyFrame(16, 16, 0.5F);
    set.camera = lookingAt(V3f(0, 8, 0), V3f(0, 0, -0.001F), 0.8F);
    set.camera->orthographicHeight = 4.0F;
    set.put(test::passOf({PassKind::Depth, {}}, 16, 16,
                         [](int x, int, int) { return 8.0F - 0.1F * static_cast<float>(x); }));
    writePasses(folder / "above.exr", set);
    Project project;
    project.passFiles = {folder / "above.exr"};
    Relief relief = newRelief("depth");
    relief.id = "r1";
    relief.name = "stone";
    project.reliefs.push_back(relief);
    saveProject(project, folder / "stone.noctis", stepCatalogue());
    Job job;
    job.id = "stone";
    job.kind = JobKind::Relief;
    job.project = folder / "stone.noctis";
    job.to = folder / "out/{project}_{pass}.tif";
    job.settings.picture.bits = 32;
    CHECK(ranKind(folder, job).written == 1);
    REQUIRE(std::filesystem::exists(folder / "out/stone_stone.tif"));
    const PassSet heights = readPasses({folder / "out/stone_stone.tif"});
    REQUIRE(heights.find(PassKind::Height) != nullptr);
    const Image& map = heights.find(PassKind::Height)->image;
    CHECK(map(12, 8, 0) - map(4, 8, 0) == Approx(0.8F).margin(1e-3));
    CHECK(ranKind(folder, job).kept == 1);
    job.settings.relief.as = "mesh";
    job.to = folder / "out/{pass}.glb";
    CHECK(ranKind(folder, job).written == 1);
    CHECK(importScene(folder / "out/stone.glb").objects.size() == 1);
    job.settings.relief.as = "slope";
    job.to = folder / "out/{pass}_slope.png";
    job.settings.picture.bits = 16;
    CHECK(ranKind(folder, job).written == 1);
    job.settings.relief.as = "steepness";
    CHECK_THROWS_AS(ranKind(folder, job), Error);
    job.settings.relief.as = "height";
    job.settings.relief.ids = {"other"};
    CHECK(ranKind(folder, job).pieces == 0);
}
