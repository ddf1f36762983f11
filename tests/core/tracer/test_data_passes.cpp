#include "core/tracer/render.h"

#include "core/image/error.h"
#include "core/passes/matte.h"
#include "core/passes/probe.h"
#include "support/files.h"
#include "support/scenes.h"

#include <algorithm>
#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

constexpr int kWidth = 160;
constexpr int kHeight = 90;
/// What is promised of data passes.
constexpr double kDataTolerance = 1e-4;

PassSet renderOf(const Scene& scene, const View& view, std::initializer_list<PassKind> kinds,
                 const std::vector<std::string>& settings = {}, int threads = 0) {
    RenderRequest request;
    request.view = view;
    request.width = kWidth;
    request.height = kHeight;
    for (const PassKind kind : kinds)
        request.passes.push_back(passRequest(kind));
    for (const std::string& setting : settings)
        applyPassSetting(request.passes, setting);
    const ThreadLimit limit(threads);
    const Accelerator accelerator(scene);
    return renderPasses(scene, accelerator, request);
}

View viewOf(const V3f& eye, const V3f& target) { return {"test", lookingAt(eye, target, 0.7F)}; }

Scene groundScene() {
    Scene scene;
    test::addGround(scene, 5000.0F);
    return scene;
}

}  // namespace

TEST_CASE(
    "depth, distance, position and normal of a level ground are the analytic ones at every pixel",
    "[tracer][truth]") {
    const View view = viewOf(V3f(1, 2, 3), V3f(-2, 0.5F, -9));
    const PassSet set =
        renderOf(groundScene(), view,
                 {PassKind::Depth, PassKind::Distance, PassKind::Position, PassKind::Normal});
    int compared = 0;
    for (int y = 0; y < kHeight; ++y)
        for (int x = 0; x < kWidth; ++x) {
            const CameraRay ray = cameraRay(view.camera, static_cast<float>(x) + 0.5F,
                                            static_cast<float>(y) + 0.5F, kWidth, kHeight);
            const float distance = set.find(PassKind::Distance)->image(x, y, 0);
            const double down = -static_cast<double>(ray.direction.y);
            if (down < 0.001) {
                if (down < 0.0)
                    REQUIRE(distance == kNothingHit);
                continue;
            }
            const double truth = 2.0 / down;
            REQUIRE(distance == Approx(truth).epsilon(kDataTolerance));
            REQUIRE(
                set.find(PassKind::Depth)->image(x, y, 0) ==
                Approx(truth * static_cast<double>(ray.planarPerDistance)).epsilon(kDataTolerance));
            REQUIRE(set.find(PassKind::Position)->image(x, y, 0) ==
                    Approx(1.0 + truth * static_cast<double>(ray.direction.x))
                        .epsilon(kDataTolerance)
                        .margin(1e-3));
            REQUIRE(set.find(PassKind::Position)->image(x, y, 1) ==
                    Approx(0.0).margin(1e-4 * truth));
            REQUIRE(set.find(PassKind::Normal)->image(x, y, 1) == Approx(1.0).epsilon(1e-6));
            ++compared;
        }
    CHECK(compared > kWidth * kHeight / 3);
}

TEST_CASE("a finely divided ball is where the sphere is, with the sphere's normals",
          "[tracer][truth]") {
    Scene scene;
    const V3f centre(0.3F, 0.2F, -6.0F);
    test::addBall(scene, "ball", centre, 1.5F, 600);
    const View view = viewOf(V3f(0, 0, 0), V3f(0, 0, -1));
    const PassSet set = renderOf(scene, view, {PassKind::Distance, PassKind::Normal});
    int compared = 0;
    for (int y = 0; y < kHeight; ++y)
        for (int x = 0; x < kWidth; ++x) {
            const CameraRay ray = cameraRay(view.camera, static_cast<float>(x) + 0.5F,
                                            static_cast<float>(y) + 0.5F, kWidth, kHeight);
            const double b = static_cast<double>(ray.direction.dot(centre));
            const double c = static_cast<double>(centre.length2()) - 2.25;
            const double root = b * b - c;
            if (root < 0.05)  // the outline of a mesh is no circle
                continue;
            const double truth = b - std::sqrt(root);
            REQUIRE(set.find(PassKind::Distance)->image(x, y, 0) ==
                    Approx(truth).epsilon(kDataTolerance));
            const V3f n = (ray.direction * static_cast<float>(truth) - centre) / 1.5F;
            for (int k = 0; k < 3; ++k)
                REQUIRE(set.find(PassKind::Normal)->image(x, y, k) == Approx(n[k]).margin(2e-3));
            ++compared;
        }
    CHECK(compared > 1000);
}

TEST_CASE("normals in the camera's space look towards it", "[tracer]") {
    const View view = viewOf(V3f(0, 4, 0), V3f(0, 0, -0.01F));
    const PassSet set = renderOf(groundScene(), view, {PassKind::Normal}, {"normal.space=camera"});
    CHECK(set.passes[0].space == "camera");
    CHECK(set.passes[0].image(kWidth / 2, kHeight / 2, 2) == Approx(1.0F).margin(1e-3));
}

TEST_CASE("data passes do not blend surfaces at edges unless asked to", "[tracer]") {
    Scene scene = groundScene();
    test::addQuad(scene, "board", {-1, 0, -4}, {1, 0, -4}, {1, 2, -4}, {-1, 2, -4});
    const View view = viewOf(V3f(0.13F, 1.2F, 1), V3f(0.1F, 1, -4));
    const auto between = [&](const PassSet& set) {
        int count = 0;
        for (int x = 0; x < kWidth; ++x) {
            const float depth = set.passes[0].image(x, 30, 0);
            count += depth > 5.2F && depth < 1e6F && std::isfinite(depth) &&
                             std::abs(depth - 5.0F) > 0.3F
                         ? 1
                         : 0;
        }
        return count;
    };
    const PassSet sharp = renderOf(scene, view, {PassKind::Position});
    const PassSet soft = renderOf(scene, view, {PassKind::Position},
                                  {"position.filtered=on", "position.samples=32"});
    CHECK(sharp.passes[0].sampling == Sampling::Centre);
    CHECK(soft.passes[0].sampling == Sampling::Filtered);
    CHECK_FALSE(test::sameBits(sharp.passes[0].image, soft.passes[0].image));
    CHECK(between(renderOf(scene, view, {PassKind::Depth})) == 0);
}

TEST_CASE("mist follows the depth with its own settings", "[tracer]") {
    const View view = viewOf(V3f(0, 2, 0), V3f(0, 0, -8));
    const PassSet set = renderOf(groundScene(), view, {PassKind::Depth, PassKind::Mist},
                                 {"mist.begins=3", "mist.half=17", "mist.full=23"});
    for (int y = 0; y < kHeight; y += 7)
        CHECK(set.passes[1].image(80, y, 0) ==
              Approx(mistAt(set.passes[0].image(80, y, 0), {3.0F, 17.0F, 23.0F})).margin(1e-5));
}

TEST_CASE("a mist is 0 where it begins, a half where it is half, and 1 where it is full",
          "[tracer]") {
    for (const float half : {4.0F, 10.0F, 13.0F, 22.0F}) {
        const MistSettings mist{3.0F, half, 23.0F};
        CHECK(mistAt(3.0F, mist) == 0.0F);
        CHECK(mistAt(half, mist) == Approx(0.5F).margin(1e-4));
        CHECK(mistAt(23.0F, mist) == 1.0F);
        CHECK(mistAt(kNothingHit, mist) == 1.0F);
        CHECK(mistAt(std::nanf(""), mist) == 0.0F);
    }
}

TEST_CASE("coverage carries the soft edge", "[tracer]") {
    Scene scene;
    test::addQuad(scene, "board", {-1, -1, -4}, {1, -1, -4}, {1, 1, -4}, {-1, 1, -4});
    const PassSet set = renderOf(scene, viewOf(V3f(0, 0, 0), V3f(0.02F, 0.01F, -1)),
                                 {PassKind::Coverage}, {"coverage.samples=64"});
    double sum = 0.0;
    bool soft = false;
    for (int y = 0; y < kHeight; ++y)
        for (int x = 0; x < kWidth; ++x) {
            const float v = set.passes[0].image(x, y, 0);
            sum += static_cast<double>(v);
            soft = soft || (v > 0.1F && v < 0.9F);
        }
    const double side = 2.0 / 4.0 / (2.0 * std::tan(0.35)) * kHeight;
    CHECK(sum == Approx(side * side).epsilon(0.01));
    CHECK(soft);
}

TEST_CASE("mattes name the objects under a pixel and share it out", "[tracer]") {
    Scene scene = groundScene();
    test::addQuad(scene, "board", {-1, 0, -4}, {1, 0, -4}, {1, 2, -4}, {-1, 2, -4});
    const PassSet set = renderOf(scene, viewOf(V3f(0, 1, 0), V3f(0, 1, -4)),
                                 {PassKind::Objects, PassKind::Materials});
    const Pass& objects = *set.find(PassKind::Objects);
    CHECK(matteNameAt(objects, kWidth / 2, kHeight / 2) == "board");
    CHECK(matteNameAt(objects, 3, kHeight - 2) == "ground");
    CHECK(matteNameAt(objects, 3, 3).empty());
    CHECK(matteNameAt(*set.find(PassKind::Materials), 3, kHeight - 2) == "grey");
    const Image board = matteOf(objects, "board");
    const Image ground = matteOf(objects, "ground");
    for (int x = 0; x < kWidth; ++x)
        CHECK(board(x, 60, 0) + ground(x, 60, 0) == Approx(1.0F).margin(1e-5));
}

TEST_CASE("a render is the same bits on any number of threads", "[tracer][threads]") {
    Scene scene = groundScene();
    test::addBall(scene, "ball", V3f(0, 1, -5), 1.0F, 24);
    const View view = viewOf(V3f(0, 1.5F, 0), V3f(0, 1, -5));
    const auto all = {PassKind::Beauty, PassKind::Depth, PassKind::Occlusion, PassKind::Objects,
                      PassKind::Coverage};
    const std::vector<std::string> few{"beauty.samples=5", "occlusion.samples=12"};
    const PassSet one = renderOf(scene, view, all, few, 1);
    for (const int threads : {2, 7}) {
        const PassSet more = renderOf(scene, view, all, few, threads);
        for (std::size_t i = 0; i < one.passes.size(); ++i)
            CHECK(test::sameBits(one.passes[i].image, more.passes[i].image));
    }
}

TEST_CASE("many placed meshes are traced as instances, with the same distances", "[tracer]") {
    Scene scene;
    test::addBall(scene, "ball", V3f(0, 0, 0), 1.0F, 700);  // about two million triangles each
    scene.instances[0].toWorld.setTranslation(V3f(0, 0, -6));
    const View view = viewOf(V3f(0, 0, 0), V3f(0, 0, -1));
    const PassSet flat = renderOf(scene, view, {PassKind::Distance, PassKind::Normal});
    for (int i = 1; i < 4; ++i) {
        Instance behind = scene.instances[0];
        behind.toWorld.setTranslation(V3f(0, 0, -60.0F * static_cast<float>(i)));
        scene.instances.push_back(behind);
    }
    REQUIRE(triangleCount(scene) > 6'000'000);
    const PassSet placed = renderOf(scene, view, {PassKind::Distance, PassKind::Normal});
    for (int x = 60; x < 100; x += 3) {
        const float truth = flat.passes[0].image(x, 45, 0);
        CHECK(placed.passes[0].image(x, 45, 0) == Approx(truth).epsilon(1e-5));
        CHECK(placed.passes[1].image(x, 45, 2) ==
              Approx(flat.passes[1].image(x, 45, 2)).margin(1e-4));
    }
}

TEST_CASE("a stopped render ends at once", "[tracer]") {
    const Scene scene = groundScene();
    const Accelerator accelerator(scene);
    std::stop_source source;
    RenderRequest request;
    request.view = viewOf(V3f(0, 2, 0), V3f(0, 0, -8));
    request.passes = {passRequest(PassKind::Beauty)};
    applyPassSetting(request.passes, "beauty.samples=60000");
    float last = 0.0F;
    const RunContext run{.stop = source.get_token(), .progress = [&](float done) {
                             last = done;
                             source.request_stop();
                         }};
    (void)renderPasses(scene, accelerator, request, run);
    CHECK(last < 0.01F);
}

TEST_CASE("a render refines in rounds, each telling what there is", "[tracer]") {
    const Scene scene = groundScene();
    const Accelerator accelerator(scene);
    RenderRequest request;
    request.view = viewOf(V3f(0, 2, 0), V3f(0, 0, -8));
    request.width = 32;
    request.height = 18;
    request.passes = {passRequest(PassKind::Beauty), passRequest(PassKind::Depth)};
    applyPassSetting(request.passes, "beauty.samples=8");
    int rounds = 0;
    RenderObserver observer;
    observer.refined = [&](const PassSet& set) {
        ++rounds;
        REQUIRE(set.passes.size() == 2);
        CHECK(set.passes[0].image(16, 2, 1) > 0.0F);  // never a picture without a sample
    };
    float done = 0.0F;
    const PassSet watched = renderPasses(
        scene, accelerator, request,
        {.stop = {}, .progress = [&](float d) { done = std::max(done, d); }}, observer);
    CHECK(rounds == 4);  // 1, 2, 4 and 8 samples
    CHECK(done == Approx(1.0F));
    CHECK(test::sameBits(watched.passes[0].image,
                         renderPasses(scene, accelerator, request).passes[0].image));
}

TEST_CASE("requests that make no sense are refused before any work", "[tracer]") {
    const Scene scene = groundScene();
    const Accelerator accelerator(scene);
    RenderRequest request;
    request.view = viewOf(V3f(0, 2, 0), V3f(0, 0, -8));
    request.passes = {passRequest(PassKind::Depth), passRequest(PassKind::Depth)};
    CHECK_THROWS_AS(renderPasses(scene, accelerator, request), Error);
    request.passes.pop_back();
    request.width = 0;
    CHECK_THROWS_AS(renderPasses(scene, accelerator, request), Error);
    std::vector<PassRequest> requests{passRequest(PassKind::Occlusion)};
    for (const char* bad : {"occlusion.reach", "occlusion=3", "mist.begins=1",
                            "occlusion.nothing=1", "occlusion.spread=7", "occlusion.samples=many"})
        CHECK_THROWS_AS(applyPassSetting(requests, bad), Error);
}
