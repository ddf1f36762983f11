#include "support/files.h"
#include "support/render.h"
#include "support/scenes.h"

#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;
using test::imageOf;
using test::looking;
using test::rendered;

namespace {

constexpr int kSide = 64;

/// A ground seen straight from above, 10 m wide in the frame: pixel x lies at (x + 0.5) / 6.4 - 5 m.
View fromAbove() {
    View view = looking(V3f(0, 50, 0), V3f(0, 0, 0));
    view.camera = lookingAt(V3f(0, 50, 0.0F), V3f(0, 0, -1e-4F), 0.7F);
    view.camera.orthographicHeight = 10.0F;
    return view;
}

Scene underBoard(float lampRadius) {
    Scene scene;
    test::addGround(scene, 100.0F);
    // A board at 1 m height over x from 0 on; the lamp stands at 2 m above x = 0.
    test::addQuad(scene, "board", V3f(0, 1, 60), V3f(60, 1, 60), V3f(60, 1, -60), V3f(0, 1, -60));
    Light lamp;
    lamp.name = "lamp";
    lamp.position = V3f(-1, 3, 0);
    lamp.power = {1, 1, 1};
    lamp.radius = lampRadius;
    scene.lights.push_back(lamp);
    return scene;
}

}  // namespace

TEST_CASE("a point lamp's shadow begins where the ray past the edge meets the ground",
          "[tracer][truth][shadow]") {
    // From (-1, 3) past (0, 1) the ray meets the ground at x = 0.5; the ground under the board counts.
    const PassSet set = rendered(
        underBoard(0.0F), fromAbove(), {"shadow.lamp"},
        {.width = kSide, .height = kSide, .settings = {"shadow.samples=4", "shadow.on=ground"}});
    const Image& open = imageOf(set, "shadow.lamp");
    for (int x = 0; x < kSide; ++x) {
        const float at = (static_cast<float>(x) + 0.5F) / 6.4F - 5.0F;
        if (std::abs(at - 0.5F) > 0.01F)
            CHECK(open(x, 32, 0) == (at < 0.5F ? 1.0F : 0.0F));
    }
}

TEST_CASE("a lamp with a radius throws a soft shadow that its size makes",
          "[tracer][truth][shadow]") {
    const PassSet set = rendered(
        underBoard(0.25F), fromAbove(), {"shadow.lamp"},
        {.width = kSide, .height = kSide, .settings = {"shadow.samples=1024", "shadow.on=ground"}});
    const Image& open = imageOf(set, "shadow.lamp");
    float before = 1.0F;
    for (int x = 30; x < 44; ++x) {
        CHECK(open(x, 32, 0) <= before + 0.03F);
        before = open(x, 32, 0);
        // The sphere looks like an evenly bright disc; the plane through the edge and this place cuts
        // a segment off it.
        const double at = (x + 0.5) / 6.4 - 5.0;
        const double length = std::hypot(at, 1.0);
        // Distance of the lamp's middle from that plane, towards the open side.
        const double away = (1.0 * (at + 1.0) - at * 3.0 + 0.0) / length;
        const double towards = (at - 0.5) < 0 ? std::abs(away) : -std::abs(away);
        const double part = std::clamp(towards / 0.25, -1.0, 1.0);
        const double truth =
            0.5 + (part * std::sqrt(1.0 - part * part) + std::asin(part)) / 3.14159265358979;
        CHECK(open(x, 32, 0) == Approx(truth).margin(0.03));
    }
}

TEST_CASE("shadows come from what may throw them and fall on what may take them",
          "[tracer][shadow]") {
    const Scene scene = underBoard(0.0F);
    const auto middle = [&](const std::vector<std::string>& settings) {
        const PassSet set = rendered(scene, fromAbove(), {"shadow.lamp"},
                                     {.width = kSide, .height = kSide, .settings = settings});
        return imageOf(set, "shadow.lamp")(50, 32, 0);
    };
    CHECK(middle({"shadow.on=ground"}) == 0.0F);
    CHECK(middle({"shadow.on=ground", "shadow.of=ground"}) == 1.0F);
    CHECK(middle({}) == 1.0F);  // on the board itself
}

TEST_CASE("the environment's shadow is the part of its light that comes through",
          "[tracer][shadow]") {
    Scene scene;
    test::addGround(scene, 200.0F);
    test::addQuad(scene, "wall", V3f(0, 0, 200), V3f(0, 200, 200), V3f(0, 200, -200),
                  V3f(0, 0, -200));
    const PassSet set =
        rendered(scene, fromAbove(), {"shadow.environment"},
                 {.width = kSide, .height = kSide, .settings = {"shadow.samples=256"}});
    // Close by a long, tall wall half of the sky is left.
    CHECK(imageOf(set, "shadow.environment")(31, 32, 0) == Approx(0.5F).margin(0.05));
}

TEST_CASE("the ground shadow of a ball lies under it and is nothing far away", "[tracer][shadow]") {
    Scene scene;
    test::addBall(scene, "ball", V3f(0, 1, 0), 1.0F, 24);
    Light sun;
    sun.name = "sun";
    sun.kind = LightKind::Sun;
    sun.direction = V3f(0, -1, 0);
    sun.power = {3, 3, 3};
    scene.lights.push_back(sun);
    const PassSet set = rendered(scene, fromAbove(), {"ground_shadow", "beauty"},
                                 {.width = kSide,
                                  .height = kSide,
                                  .settings = {"ground_shadow.samples=64", "beauty.samples=1",
                                               "beauty.scene_sky=off", "beauty.sky_strength=0"}});
    const Image& shadow = imageOf(set, "ground_shadow");
    CHECK(shadow(32, 32, 0) == 1.0F);
    CHECK(shadow(32 + 5, 32, 0) == 1.0F);  // within 1 m of the middle
    CHECK(shadow(32 + 8, 32, 0) == 0.0F);  // beyond
    CHECK(shadow(2, 2, 0) == 0.0F);
}

TEST_CASE("the bent normal leans away from a wall, and is the normal in the open",
          "[tracer][truth][occlusion]") {
    Scene scene;
    test::addGround(scene, 400.0F);
    test::addQuad(scene, "wall", V3f(0, 0, 400), V3f(0, 400, 400), V3f(0, 400, -400),
                  V3f(0, 0, -400));
    const PassSet set =
        rendered(scene, fromAbove(), {"bent"},
                 {.width = kSide, .height = kSide, .settings = {"bent.samples=512"}});
    const Image& bent = imageOf(set, "bent");
    // Hard by an endless wall the open directions are a quarter of the sphere: by symmetry, cosine
    // weighted over u in [-1, 0], their mean is (-4/(3 pi), 2/3) before it is brought to length 1.
    const double x = -4.0 / (3.0 * M_PI);
    const double y = 2.0 / 3.0;
    CHECK(bent(31, 32, 0) == Approx(x / std::hypot(x, y)).margin(0.03));
    CHECK(bent(31, 32, 1) == Approx(y / std::hypot(x, y)).margin(0.03));
    CHECK(bent(31, 32, 2) == Approx(0.0).margin(0.03));
}

TEST_CASE("shadows and light passes are the same bits on any number of threads", "[tracer]") {
    const Scene scene = underBoard(0.25F);
    const std::vector<std::string> names{"shadow.lamp", "light",         "bent",
                                         "curvature",   "ground_shadow", "behind.colour"};
    const auto with = [&](int threads) {
        return rendered(scene, fromAbove(), names,
                        {.width = kSide,
                         .height = 40,
                         .settings = {"shadow.samples=3", "bent.samples=3"},
                         .threads = threads});
    };
    const PassSet one = with(1);
    const PassSet two = with(2);
    for (const Pass& pass : one.passes)
        CHECK(test::sameBits(pass.image, two.find(std::string_view(pass.name))->image));
}
