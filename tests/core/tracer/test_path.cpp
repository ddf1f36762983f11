#include "core/tracer/path.h"

#include "core/tracer/rgb.h"
#include "support/render.h"
#include "support/scenes.h"

#include <algorithm>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

/// A grey ground under a lamp, with a board that shades part of it.
Scene lampOverGround() {
    Scene scene;
    scene.materials.push_back({.name = "grey", .roughness = 1.0F, .refraction = 1.0F});
    test::addGround(scene, 20.0F);
    test::addQuad(scene, "board", {-2, 1, 1}, {0, 1, 1}, {0, 1, -1}, {-2, 1, -1});
    Light lamp;
    lamp.name = "lamp";
    lamp.position = V3f(0, 4, 0);
    lamp.power = {30, 30, 30};
    scene.lights.push_back(lamp);
    scene.sky = Sky{.strength = 0.0F, .panorama = {}};
    return scene;
}

struct Traced {
    Scene scene = lampOverGround();
    Accelerator accelerator{scene};
    Lighting lighting{scene, scene.lights, *scene.sky};
    BeautySettings settings;

    [[nodiscard]] std::vector<PathRay> rays(const V3f& target) const {
        std::vector<PathRay> rays;
        PixelSampler sampler(3, 4, 0, 0);
        visitPathRays(accelerator, lighting, towards(target), settings, sampler,
                      [&](const PathRay& ray) { rays.push_back(ray); });
        return rays;
    }
    [[nodiscard]] PathLight light(const V3f& target) const {
        PathLight light;
        PixelSampler sampler(3, 4, 0, 0);
        tracePath(accelerator, lighting, towards(target), settings, sampler, light);
        return light;
    }
    static CameraRay towards(const V3f& target) {
        const V3f eye(0, 2, 6);
        return {eye, (target - eye).normalized(), 1.0F};
    }
};

}  // namespace

TEST_CASE("the reported rays are those a path traces, the camera's first", "[tracer][path]") {
    const Traced t;
    const std::vector<PathRay> rays = t.rays(V3f(1, 0, 0));
    REQUIRE(rays.size() >= 3);
    CHECK(rays[0].origin == V3f(0, 2, 6));
    CHECK_FALSE(rays[0].anyHit);
    CHECK(rays[0].met);
    CHECK(rays[1].anyHit);  // towards the lamp, which is seen from there
    CHECK_FALSE(rays[1].met);
    for (const PathRay& ray : rays) {
        const bool met =
            ray.anyHit ? t.accelerator.occluded(ray.origin, ray.direction, ray.from, ray.to)
                       : t.accelerator.intersect(ray.origin, ray.direction, ray.from, ray.to).any();
        CHECK(met == ray.met);
    }
}

TEST_CASE("a path brings light from a lamp it sees, and none of it from behind a board",
          "[tracer][path]") {
    Traced t;
    t.settings.bounces = 1;
    CHECK(luminance(t.light(V3f(1, 0, 0)).total) > 0.1F);
    CHECK(luminance(t.light(V3f(-0.8F, 0, 0)).total) < 0.05F);
    const std::vector<PathRay> shaded = t.rays(V3f(-0.8F, 0, 0));
    CHECK(std::any_of(shaded.begin(), shaded.end(),
                      [](const PathRay& ray) { return ray.anyHit && ray.met; }));
}

TEST_CASE("the parts of a path's light add up to it", "[tracer][path]") {
    const Traced t;
    for (const float x : {-3.0F, -1.0F, 0.5F, 2.0F}) {
        const PathLight light = t.light(V3f(x, 0, 0));
        LinearRgb sum{};
        for (const LinearRgb& part : light.parts)
            sum = sum + part;
        CHECK(sum.g == Approx(light.total.g).epsilon(1e-5));
    }
}
