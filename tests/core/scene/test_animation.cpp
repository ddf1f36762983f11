#include "core/scene/animation.h"

#include "core/image/error.h"
#include "core/passes/frame_name.h"
#include "core/passes/pass_file.h"
#include "core/recipe/frame_context.h"
#include "core/scene/import.h"
#include "core/tracer/sequence.h"
#include "support/files.h"
#include "support/render.h"
#include "support/scenes.h"

#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;
using test::Folder;
using test::imageOf;

namespace {

/// A board that moves 2 m in x within 2 s below a parent that stands at y = 1, and a still camera.
Scene movingScene() {
    Scene scene;
    test::addQuad(scene, "board", V3f(-5, -5, 0), V3f(5, -5, 0), V3f(5, 5, 0), V3f(-5, 5, 0));
    scene.views = {{"still", lookingAt(V3f(0, 1, 10), V3f(0, 1, 0), 0.7F)}};
    Animation animation;
    M44f up;
    up.setTranslation(V3f(0, 1, 0));
    animation.nodes = {{-1, up, -1}, {0, M44f(), 0}};
    animation.keys = {{{{0.0, V3f(0.0F)}, {2.0, V3f(2, 0, 0)}}, {}, {}}};
    animation.seconds = 2.0;
    animation.nodeOfInstance = {1};
    animation.nodeOfView = {-1};
    scene.animation = std::make_shared<const Animation>(animation);
    return scene;
}

const char* kMovingGltf = R"({
 "asset": {"version": "2.0"}, "scene": 0, "scenes": [{"nodes": [0, 1]}],
 "nodes": [{"name": "leaf", "mesh": 0, "translation": [0, 0, 0]},
           {"name": "eye", "camera": 0, "translation": [0, 1, 9]}],
 "cameras": [{"name": "eye", "type": "perspective", "perspective": {"yfov": 0.6, "znear": 0.1}}],
 "materials": [{"name": "green"}],
 "meshes": [{"name": "leaf", "primitives": [{"attributes": {"POSITION": 0}, "material": 0}]}],
 "animations": [{"name": "drift", "samplers": [{"input": 1, "output": 2, "interpolation": "LINEAR"}],
   "channels": [{"sampler": 0, "target": {"node": 0, "path": "translation"}},
                {"sampler": 0, "target": {"node": 1, "path": "translation"}}]}],
 "accessors": [{"bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC3", "min": [0, 0, 0], "max": [1, 1, 0]},
   {"bufferView": 1, "componentType": 5126, "count": 2, "type": "SCALAR", "min": [0], "max": [2]},
   {"bufferView": 2, "componentType": 5126, "count": 2, "type": "VEC3"}],
 "bufferViews": [{"buffer": 0, "byteLength": 36}, {"buffer": 0, "byteOffset": 36, "byteLength": 8},
                 {"buffer": 0, "byteOffset": 44, "byteLength": 24}],
 "buffers": [{"byteLength": 68, "uri": "motion.bin"}]
})";

std::string motionBytes() {
    const float numbers[] = {0, 0, 0, 1, 0, 0, 0, 1, 0, /* times */ 0, 2, /* places */ 0,
                             0, 0, 4, 0, -2};
    return {reinterpret_cast<const char*>(numbers), sizeof numbers};
}

}  // namespace

TEST_CASE("things are between their keys, rest outside of them, and follow their parents",
          "[scene][animation]") {
    Scene scene = movingScene();
    const auto placeAt = [&](double seconds) {
        poseAt(scene, seconds);
        return V3f(scene.instances[0].toWorld.translation());
    };
    CHECK(placeAt(-1.0).equalWithAbsError(V3f(0, 1, 0), 1e-6F));
    CHECK(placeAt(0.5).equalWithAbsError(V3f(0.5F, 1, 0), 1e-6F));
    CHECK(placeAt(2.0).equalWithAbsError(V3f(2, 1, 0), 1e-6F));
    CHECK(placeAt(9.0).equalWithAbsError(V3f(2, 1, 0), 1e-6F));
    CHECK(lastFrame(scene, 24.0) == 49);
    CHECK(secondsOfFrame(1, 24.0) == 0.0);
    CHECK(secondsOfFrame(25, 24.0) == 1.0);
    Scene still;
    poseAt(still, 1.0);
    CHECK(lastFrame(still, 24.0) == 1);
}

TEST_CASE("turning goes the short way, at an even pace", "[scene][animation]") {
    Scene scene = movingScene();
    Animation animation = *scene.animation;
    const auto turned = [](float radians) {
        Imath::Quatf q;
        q.setAxisAngle(V3f(0, 1, 0), radians);
        return q;
    };
    animation.keys = {{{}, {{0.0, turned(0.0F)}, {1.0, turned(1.0F)}}, {}}};
    scene.animation = std::make_shared<const Animation>(animation);
    poseAt(scene, 0.25);
    V3f front;
    scene.instances[0].toWorld.multDirMatrix(V3f(0, 0, 1), front);
    CHECK(std::atan2(front.x, front.z) == Approx(0.25F).epsilon(1e-4));
}

TEST_CASE("a glTF's animated nodes and cameras are read with their times", "[scene][animation]") {
    const Folder folder;
    folder.write("motion.bin", motionBytes());
    Scene scene = importScene(folder.write("a.gltf", kMovingGltf));
    REQUIRE(scene.animation);
    CHECK(scene.animation->seconds == Approx(2.0));
    poseAt(scene, 1.0);
    CHECK(V3f(scene.instances[0].toWorld.translation()).equalWithAbsError(V3f(2, 0, -1), 1e-5F));
    CHECK(scene.views[0].camera.position().equalWithAbsError(V3f(2, 0, -1), 1e-5F));
    poseAt(scene, 0.0);
    CHECK(V3f(scene.instances[0].toWorld.translation()).equalWithAbsError(V3f(0, 0, 0), 1e-5F));
}

TEST_CASE("motion vectors are where the surface is projected before and after",
          "[tracer][truth][vectors]") {
    const Folder folder;
    Scene scene = movingScene();
    RenderRequest request;
    request.view = scene.views[0];
    request.width = 96;
    request.height = 64;
    request.passes = passRequests({"vectors", "position"}, scene);
    const SequenceReport report = renderSequence(
        scene, request, {.first = 24, .last = 26, .pattern = folder / "v.##.exr", .packing = {}});
    CHECK(report.written == 3);
    CHECK(report.failures.empty());
    const PassSet set = readPasses({folder / "v.25.exr"});
    CHECK(set.find(PassKind::Vectors)->warnings.empty());
    const Image& vectors = imageOf(set, "vectors");
    const Image& position = imageOf(set, "position");
    const V3f step(1.0F / 24.0F, 0, 0);
    for (const auto& [x, y] : {std::pair(48, 32), std::pair(30, 20), std::pair(60, 50)}) {
        const V3f place(position(x, y, 0), position(x, y, 1), position(x, y, 2));
        const V3f now = project(request.view.camera, place, 96, 64);
        const V3f before = project(request.view.camera, place - step, 96, 64);
        const V3f after = project(request.view.camera, place + step, 96, 64);
        CHECK(vectors(x, y, 0) == Approx(before.x - now.x).margin(0.01));
        CHECK(vectors(x, y, 1) == Approx(before.y - now.y).margin(0.01));
        CHECK(vectors(x, y, 2) == Approx(after.x - now.x).margin(0.01));
        CHECK(vectors(x, y, 3) == Approx(after.y - now.y).margin(0.01));
        CHECK(vectors(x, y, 2) > 0.1F);  // to the right
    }
}

TEST_CASE("a camera that moves makes vectors, too", "[tracer][truth][vectors]") {
    Scene scene = movingScene();
    RenderRequest request;
    request.view = scene.views[0];
    request.width = 96;
    request.height = 64;
    request.passes = passRequests({"vectors", "position"}, scene);
    request.after = Moment{lookingAt(V3f(0.2F, 1, 10), V3f(0.2F, 1, 0), 0.7F), {}};
    const Accelerator accelerator(scene);
    const PassSet set = renderPasses(scene, accelerator, request);
    const Image& vectors = imageOf(set, "vectors");
    const V3f place(imageOf(set, "position")(48, 32, 0), imageOf(set, "position")(48, 32, 1), 0.0F);
    const V3f now = project(request.view.camera, place, 96, 64);
    const V3f after = project(request.after->camera, place, 96, 64);
    CHECK(vectors(48, 32, 0) == 0.0F);
    CHECK(vectors(48, 32, 2) == Approx(after.x - now.x).margin(0.01));
    CHECK(vectors(48, 32, 2) < -0.5F);

    // The cameras of the frames beside it go with the passes, into files too, and to the steps.
    CHECK_FALSE(set.cameraBefore);
    CHECK(set.cameraAfter == request.after->camera);
    const Folder folder;
    writePasses(folder / "v.exr", set);
    const PassSet back = readPasses({folder / "v.exr"});
    CHECK_FALSE(back.cameraBefore);
    REQUIRE(back.cameraAfter);
    CHECK(back.cameraAfter->cameraToWorld.equalWithAbsError(request.after->camera.cameraToWorld,
                                                            1e-4F));
    CHECK(project(*back.cameraAfter, place, 96, 64).x == Approx(after.x).margin(0.01));
    ResultCache cache(std::size_t{1} << 20U);
    PictureFiles files;
    const FrameContext frame(back, 1, cache, files, 1);
    REQUIRE(frame.cameraAfter());
    CHECK(*frame.cameraAfter() == *back.cameraAfter);
}

TEST_CASE("a still has the vectors of the first frame", "[tracer][vectors]") {
    const Folder folder;
    Scene scene = movingScene();
    poseAt(scene, 0.0);
    RenderRequest request;
    request.view = scene.views[0];
    request.width = 48;
    request.height = 32;
    request.passes = passRequests({"vectors"}, scene);
    const Accelerator accelerator(scene);
    const PassSet still = renderPasses(scene, accelerator, request);
    CHECK(still.passes[0].warnings.empty());
    SequenceOptions options{.first = 1, .last = 1, .pattern = folder / "v.#.exr", .packing = {}};
    Scene moving = scene;
    REQUIRE(renderSequence(moving, request, options).written == 1);
    const PassSet first = readPasses({folder / "v.1.exr"});
    CHECK(test::sameBits(imageOf(still, "vectors"), imageOf(first, "vectors")));
    float most = 0.0F;
    for (int y = 0; y < 32; ++y)
        for (int x = 0; x < 48; ++x)
            most = std::max(most, imageOf(still, "vectors")(x, y, 2));
    CHECK(most > 0.1F);

    // Where it is not the first frame's pose, there is no telling which frame it is.
    scene.instances[0].toWorld[3][1] += 1.0F;
    CHECK_FALSE(withMotion(scene, request).after);
}

TEST_CASE("vectors of a scene without motion say that nothing moves", "[tracer][vectors]") {
    Scene scene = movingScene();
    scene.animation.reset();
    const PassSet set = test::rendered(scene, scene.views[0], {"vectors"});
    REQUIRE(set.passes[0].warnings.size() == 1);
    CHECK(set.passes[0].warnings[0].find("Nothing in this view moves") == 0);

    // Nor does it where only another view moves.
    Scene other = movingScene();
    Animation animation = *other.animation;
    animation.nodeOfInstance = {0};
    other.animation = std::make_shared<const Animation>(animation);
    poseAt(other, 0.0);
    const PassSet still = test::rendered(other, other.views[0], {"vectors"});
    CHECK(still.passes[0].warnings.size() == 1);
}

TEST_CASE("a sequence goes on where it stopped, and a frame that fails does not stop it",
          "[tracer][sequence]") {
    const Folder folder;
    Scene scene = movingScene();
    RenderRequest request;
    request.view = scene.views[0];
    request.width = request.height = 16;
    request.passes = passRequests({"depth"}, scene);
    SequenceOptions options{.first = 1, .last = 4, .pattern = folder / "d.###.exr", .packing = {}};
    // A folder where the third frame's file should be: it can't be written.
    std::filesystem::create_directories(folder / "d.003.exr" / "x");
    const SequenceReport first = renderSequence(scene, request, options);
    CHECK(first.written == 3);
    REQUIRE(first.failures.size() == 1);
    CHECK(first.failures[0].find("frame 3") != std::string::npos);
    std::filesystem::remove_all(folder / "d.003.exr");
    options.resume = true;
    const SequenceReport second = renderSequence(scene, request, options);
    CHECK(second.written == 1);
    CHECK(second.skipped == 3);
    options.first = 5;
    CHECK_THROWS_AS(renderSequence(scene, request, options), Error);
}

TEST_CASE("frames are numbered where the name says", "[passes]") {
    CHECK(fileOfFrame("a/quay.####.exr", 12) == "a/quay.0012.exr");
    CHECK(fileOfFrame("quay_##_v2.exr", 123) == "quay_123_v2.exr");
    CHECK(fileOfFrame("quay.exr", 7) == "quay.0007.exr");
    CHECK(fileOfFrame("fol#der/quay.#.png", 7) == "fol#der/quay.7.png");
}

TEST_CASE("frames in folders go on where they stopped", "[tracer][sequence]") {
    const Folder folder;
    Scene scene = movingScene();
    RenderRequest request;
    request.view = scene.views[0];
    request.width = 8;
    request.height = 6;
    request.passes = passRequests({"depth", "normal"}, scene);
    const SequenceOptions options{.first = 1,
                                  .last = 3,
                                  .pattern = folder / "f.####.exr",
                                  .packing = {.layout = PassLayout::FolderPerPass},
                                  .resume = true};
    CHECK(renderSequence(scene, request, options).written == 3);
    std::filesystem::remove(folder / "normal" / "f.0002.exr");
    const SequenceReport again = renderSequence(scene, request, options);
    CHECK(again.written == 1);
    CHECK(again.skipped == 2);
    CHECK(std::filesystem::exists(folder / "normal" / "f.0002.exr"));
}

TEST_CASE("names of views and things become names that files can have", "[passes]") {
    CHECK(fileNameOf("heron 1/8") == "heron 1_8");
    CHECK(fileNameOf("a\\b:c*?\n") == "a_b_c___");
    CHECK(fileNameOf("Münster 2") == "Münster 2");
}
