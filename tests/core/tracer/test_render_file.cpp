#include "core/tracer/render_file.h"

#include "core/image/error.h"
#include "support/files.h"
#include "support/render.h"
#include "support/scenes.h"

#include <algorithm>

#include <catch2/catch.hpp>

using namespace noctis;
using test::Folder;

namespace {

Scene ballScene() {
    Scene scene;
    test::addGround(scene, 10.0F);
    test::addBall(scene, "ball", V3f(0, 1, 0), 1.0F, 24);
    return scene;
}

RenderRequest everything(const Scene& scene) {
    RenderRequest request;
    request.view = test::looking(V3f(0, 2, 6), V3f(0, 0.8F, 0));
    request.width = 40;
    request.height = 30;
    request.passes =
        passRequests({"depth", "beauty", "objects", "coverage", "diffuse.direct", "diffuse.colour",
                      "light", "occlusion", "behind.colour", "normal"},
                     scene);
    for (const char* setting :
         {"beauty.samples=3", "beauty.denoise=0.5", "beauty.keep_raw=on", "occlusion.samples=4"})
        applyPassSetting(request.passes, setting);
    return request;
}

std::vector<std::filesystem::path> filesIn(const std::filesystem::path& folder) {
    std::vector<std::filesystem::path> files;
    for (const auto& entry : std::filesystem::directory_iterator(folder))
        files.push_back(entry.path().filename());
    return files;
}

}  // namespace

TEST_CASE("passes rendered some at a time make the same file as all at once", "[tracer][files]") {
    const Folder folder;
    const Scene scene = ballScene();
    const Accelerator accelerator(scene);
    const RenderRequest request = everything(scene);
    const auto layout = GENERATE(PassLayout::PartPerPass, PassLayout::OnePart);
    writePasses(folder / "whole.exr", renderPasses(scene, accelerator, request),
                {.layout = layout});
    RenderFileOptions options;
    options.packing.layout = layout;
    options.memory = 0;
    std::vector<std::string> timed;
    options.timed = [&](const std::string& passes, double seconds) {
        CHECK(seconds >= 0.0);
        timed.push_back(passes);
    };
    renderToFile(scene, accelerator, request, folder / "parts.exr", options);

    const PassSet whole = readPasses({folder / "whole.exr"});
    const PassSet parts = readPasses({folder / "parts.exr"});
    REQUIRE(parts.passes.size() == whole.passes.size());
    for (std::size_t i = 0; i < whole.passes.size(); ++i) {
        INFO(whole.passes[i].name);
        CHECK(parts.passes[i].name == whole.passes[i].name);
        CHECK(parts.passes[i].kind == whole.passes[i].kind);
        CHECK(parts.passes[i].settings == whole.passes[i].settings);
        CHECK(test::sameBits(parts.passes[i].image, whole.passes[i].image));
    }
    CHECK(parts.camera == whole.camera);
    CHECK(std::find(timed.begin(), timed.end(), "depth") != timed.end());
    CHECK(std::count(timed.begin(), timed.end(), "occlusion") == 1);
    CHECK(filesIn(folder / "").size() == 2);  // what lay beside them is gone
}

TEST_CASE("a stopped render leaves no file, and nothing beside it", "[tracer][files]") {
    const Folder folder;
    const Scene scene = ballScene();
    const Accelerator accelerator(scene);
    std::stop_source stop;
    RenderFileOptions options;
    options.memory = 0;
    options.timed = [&](const std::string&, double) { stop.request_stop(); };  // after the first
    renderToFile(scene, accelerator, everything(scene), folder / "out.exr", options,
                 {.stop = stop.get_token(), .progress = {}});
    CHECK(filesIn(folder / "").empty());
}

TEST_CASE("what can't be written says so, and leaves nothing", "[tracer][files]") {
    const Folder folder;
    const Scene scene = ballScene();
    const Accelerator accelerator(scene);
    RenderFileOptions options;
    options.memory = 0;
    const auto path = folder / "no folder" / "out.exr";
    try {
        renderToFile(scene, accelerator, everything(scene), path, options);
        FAIL("was written");
    } catch (const Error& error) {
        CHECK(error.code() == ErrorCode::FileAccess);
        CHECK(std::string(error.what()).find(path.string()) != std::string::npos);
    }
    CHECK(filesIn(folder / "").empty());
}
