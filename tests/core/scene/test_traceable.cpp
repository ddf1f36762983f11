#include "core/scene/traceable.h"

#include "core/scene/animation.h"
#include "core/scene/import.h"
#include "core/tracer/render.h"
#include "support/files.h"
#include "support/scenes.h"

#include <cmath>
#include <limits>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

constexpr float kNan = std::numeric_limits<float>::quiet_NaN();
constexpr float kInf = std::numeric_limits<float>::infinity();

PassSet rendered(const Scene& scene, const View& view, const std::optional<TracedLens>& lens = {},
                 const std::string& panorama = {}) {
    RenderRequest request;
    request.view = view;
    request.width = request.height = 24;
    request.lens = lens;
    for (const PassKind kind : {PassKind::Beauty, PassKind::Depth, PassKind::Occlusion})
        request.passes.push_back(passRequest(kind));
    for (const char* samples : {"beauty.samples=2", "occlusion.samples=2"})
        applyPassSetting(request.passes, samples);
    if (!panorama.empty())
        applyPassSetting(request.passes, "beauty.panorama=" + panorama);
    const Accelerator accelerator(scene);
    return renderPasses(scene, accelerator, request);
}

bool hasOnlyFinite(const Image& image) {
    for (int c = 0; c < image.channels(); ++c)
        for (int y = 0; y < image.height(); ++y)
            for (int x = 0; x < image.width(); ++x)
                if (!std::isfinite(image(x, y, c)))
                    return false;
    return true;
}

Scene ground() {
    Scene scene;
    test::addGround(scene, 10.0F);
    return scene;
}

}  // namespace

TEST_CASE("a camera that nothing can be traced from becomes one that can", "[scene][traceable]") {
    const Camera usual = lookingAt(V3f(0, 2, 5), V3f(0, 0, 0), 0.7F);
    Camera same = usual;
    CHECK_FALSE(makeTraceable(same));
    CHECK(same == usual);
    const Scene scene = ground();
    const auto tried = [&](const char* what, const std::function<void(Camera&)>& spoil) {
        INFO(what);
        Camera camera = usual;
        spoil(camera);
        const PassSet set =
            rendered(scene, {"v", camera}, TracedLens::ofFNumber(2.0F, 50.0F, 5.0F));
        REQUIRE(set.warnings.size() == 1);
        CHECK_THAT(set.warnings.front(), Catch::Contains("View v"));
        CHECK(hasOnlyFinite(set.passes.front().image));
        CHECK(makeTraceable(camera));
        CHECK_FALSE(makeTraceable(camera));
    };
    tried("too far", [](Camera& c) { c.cameraToWorld[3][0] = 1e19F; });
    tried("infinite", [](Camera& c) { c.cameraToWorld[3][1] = kInf; });
    tried("turned by nothing", [](Camera& c) { c.cameraToWorld[1][1] = kNan; });
    tried("flat", [](Camera& c) { c.cameraToWorld = M44f(0.0F); });
    tried("angle of nothing", [](Camera& c) { c.yfovRadians = 0.0F; });
    tried("angle of everything", [](Camera& c) { c.yfovRadians = kInf; });
    tried("height of nothing", [](Camera& c) { c.orthographicHeight = kNan; });
}

TEST_CASE("a lens as wide as a number can say is traced as one that isn't", "[scene][traceable]") {
    const Scene scene = ground();
    const View view{"v", lookingAt(V3f(0, 2, 5), V3f(0, 0, 0), 0.7F)};
    for (const TracedLens& lens : {TracedLens{.focusDistance = 5.0F, .apertureRadius = kInf},
                                   TracedLens{.focusDistance = kNan, .apertureRadius = 0.1F},
                                   TracedLens::ofFNumber(1e-38F, 50.0F, 5.0F)}) {
        const PassSet set = rendered(scene, view, lens);
        REQUIRE(set.warnings.size() == 1);
        CHECK_THAT(set.warnings.front(), Catch::Contains("lens"));
        CHECK(hasOnlyFinite(set.passes.front().image));
    }
}

TEST_CASE("a panorama with an infinite sun lights with a very bright one", "[scene][traceable]") {
    const test::Folder folder;
    Image sky(64, 32, {"R", "G", "B"}, 0.5F);
    sky.editPlane(0)[sky.rowStride() * 10 + 20] = kInf;
    sky.editPlane(1)[sky.rowStride() * 10 + 20] = kNan;
    sky.editPlane(2)[sky.rowStride() * 10 + 20] = -3.0F;
    for (const SampleType type : {SampleType::Half, SampleType::Float}) {
        writeImageFile(folder / "sky.exr", {{"", "", sky, type, {}}});
        const View view{"v", lookingAt(V3f(0, 2, 5), V3f(0, 0, 0), 0.7F)};
        const PassSet set = rendered(ground(), view, {}, (folder / "sky.exr").string());
        REQUIRE(set.warnings.size() == 1);
        CHECK_THAT(set.warnings.front(), Catch::Contains("sky.exr"));
        CHECK(hasOnlyFinite(set.passes.front().image));
        CHECK(readPanorama(folder / "sky.exr").image(20, 10, 0) == 65504.0F);
        CHECK(readPanorama(folder / "sky.exr").image(20, 10, 1) == 0.0F);
        CHECK(readPanorama(folder / "sky.exr").image(20, 10, 2) == 0.0F);
        CHECK(readPanorama(folder / "sky.exr").image(0, 0, 0) == 0.5F);
    }
}

TEST_CASE("what an animation puts nowhere stays where it was", "[scene][traceable]") {
    Scene scene = ground();
    auto animation = std::make_shared<Animation>();
    animation->nodes.push_back({-1, M44f(), 0});
    animation->keys.push_back(
        {{{0.0, V3f(0, 1, 0)}, {1.0, V3f(kNan, 1, 0)}, {2.0, V3f(3e38F, 3e38F, kInf)}}, {}, {}});
    animation->seconds = 1e300;
    animation->nodeOfInstance = {0};
    scene.animation = animation;
    for (const double seconds : {0.0, 0.5, 1.0, 1.5, 2.0, 3.0}) {
        poseAt(scene, seconds);
        CHECK(isFinite(scene.instances[0].toWorld));
    }
    CHECK(lastFrame(scene, 24.0) > 1);
    const View view{"v", lookingAt(V3f(0, 3, 5), V3f(0, 0, 0), 0.7F)};
    CHECK(hasOnlyFinite(rendered(scene, view).passes.front().image));
}

TEST_CASE("a scene's numbers that aren't finite are named and brought to ones that are",
          "[scene][traceable]") {
    const test::Folder folder;
    // 1e39 is infinite as a float.
    const auto path =
        folder.write("a.gltf",
                     R"({"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0,1,2]}],
            "nodes":[{"mesh":0},{"name":"eye","camera":0,"translation":[1e25,0,0]},
                     {"name":"lost","mesh":0,"translation":[1e39,0,0]}],
            "cameras":[{"type":"perspective","perspective":{"yfov":0.8,"znear":0.1}}],
            "buffers":[{"uri":"data:application/octet-stream;base64,AAAAAAAAAAAAAAAAAACAPwAAAAAAAAAAAAAAAAAAgD8AAAAA","byteLength":36}],
            "bufferViews":[{"buffer":0,"byteLength":36}],
            "accessors":[{"bufferView":0,"componentType":5126,"count":3,"type":"VEC3","max":[1,1,0],"min":[0,0,0]}],
            "meshes":[{"primitives":[{"attributes":{"POSITION":0}}]}]})");
    const Scene scene = importScene(path);
    CHECK(scene.instances.size() == 1);
    std::string warnings;
    for (const std::string& warning : scene.warnings)
        warnings += warning + "\n";
    CHECK_THAT(warnings, Catch::Contains("lost") && Catch::Contains("eye"));
    for (const View& view : scene.views)
        CHECK(hasOnlyFinite(rendered(scene, view).passes.front().image));
}
