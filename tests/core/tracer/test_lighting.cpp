#include "core/tracer/lighting.h"

#include "core/tracer/directions.h"
#include "core/tracer/rgb.h"
#include "support/scenes.h"

#include <algorithm>
#include <cmath>
#include <functional>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

Scene lampAndSun() {
    Scene scene;
    test::addGround(scene, 5.0F);
    scene.materials.push_back({.name = "glow", .emission = {2.0F, 2.0F, 2.0F}});
    test::addQuad(scene, "panel", V3f(-1, 3, -1), V3f(1, 3, -1), V3f(1, 3, 1), V3f(-1, 3, 1));
    scene.meshes.back().material = 1;
    Light lamp;
    lamp.name = "lamp";
    lamp.position = V3f(0, 2, 0);
    lamp.power = {8, 4, 2};
    Light sun;
    sun.name = "sun";
    sun.kind = LightKind::Sun;
    sun.direction = V3f(0, -1, 0);
    sun.power = {1, 1, 1};
    scene.lights = {lamp, sun};
    return scene;
}

/// Irradiance on a level place by one emitter, as the mean of its samples.
double irradiance(const Lighting& lighting, int emitter, const V3f& place, int samples) {
    double sum = 0.0;
    for (int i = 0; i < samples; ++i) {
        PixelSampler sampler(1, 1, static_cast<std::uint32_t>(i), 3);
        const LightSample light = lighting.sampleOne(emitter, place, V3f(0, 1, 0), sampler.next2());
        if (light.pdf > 0.0F)
            sum += static_cast<double>(light.radiance.r * std::max(0.0F, light.direction.y) /
                                       light.pdf);
    }
    return sum / samples;
}

}  // namespace

TEST_CASE("each light gives the irradiance it is said to give", "[tracer][lighting][truth]") {
    const Scene scene = lampAndSun();
    const Lighting lighting(scene, scene.lights, Sky{});
    const auto only = [&](const char* name) {
        const std::vector<int> found = lighting.emittersNamed(name);
        REQUIRE(found.size() == 1);
        return found.front();
    };
    CHECK(irradiance(lighting, only("lamp"), V3f(0, 0, 0), 16) == Approx(8.0 / 4.0));
    CHECK(irradiance(lighting, only("lamp"), V3f(2, 0, 0), 16) ==
          Approx(8.0 / 8.0 * std::sqrt(0.5)).epsilon(1e-4));
    CHECK(irradiance(lighting, only("sun"), V3f(0, 0, 0), 64) == Approx(1.0).epsilon(1e-3));
    // A square of side 2 a height 3 above: its form factor by quadrature.
    double factor = 0.0;
    constexpr int kSteps = 400;
    for (int i = 0; i < kSteps; ++i)
        for (int j = 0; j < kSteps; ++j) {
            const double x = -1.0 + 2.0 * (i + 0.5) / kSteps;
            const double z = -1.0 + 2.0 * (j + 0.5) / kSteps;
            const double d2 = x * x + z * z + 9.0;
            factor += 9.0 / (d2 * d2) * 4.0 / (kSteps * kSteps);
        }
    CHECK(irradiance(lighting, only("panel"), V3f(0, 0, 0), 4096) ==
          Approx(2.0 * factor).epsilon(0.01));
}

TEST_CASE("a sky of one brightness lights a level place with pi times it",
          "[tracer][lighting][truth]") {
    Scene scene;
    test::addGround(scene, 5.0F);
    Sky sky;
    sky.zenith = sky.horizon = sky.ground = {0.5F, 0.5F, 0.5F};
    const Lighting lighting(scene, scene.lights, sky);
    const int emitter = lighting.emittersNamed("environment").front();
    CHECK(irradiance(lighting, emitter, V3f(0, 0, 0), 64) == Approx(0.5 * M_PI).epsilon(1e-4));
}

TEST_CASE("a panorama replaces the light that stands in where a scene has none",
          "[tracer][light]") {
    Scene scene;
    scene.materials.push_back({.name = "matt"});
    test::addGround(scene, 10.0F);
    Light key;
    key.name = "key light";
    key.kind = LightKind::Sun;
    key.standIn = true;
    scene.lights = {key};
    const auto sunSeen = [&](const Sky& sky) {
        float most = 0.0F;
        Lighting(scene, scene.lights, sky).beyond(-key.direction, [&](const LinearRgb& c, int) {
            most = std::max(most, c.g);
        });
        return most > 100.0F;
    };
    Sky sky;
    CHECK(sunSeen(sky));
    sky.panorama = Image(8, 4, {"R", "G", "B"}, 0.5F);
    CHECK_FALSE(sunSeen(sky));
}

TEST_CASE("what leaves the scene meets the sky, and a sun only where it stands",
          "[tracer][lighting]") {
    const Scene scene = lampAndSun();
    const Lighting lighting(scene, scene.lights, Sky{});
    int met = 0;
    const auto count = [&](const LinearRgb& light, int) { met += largest(light) > 0.0F ? 1 : 0; };
    lighting.beyond(V3f(0, 1, 0), count);
    CHECK(met == 2);
    met = 0;
    lighting.beyond(V3f(1, 0.2F, 0).normalized(), count);
    CHECK(met == 1);
}

TEST_CASE("chances of all lights add up: the mean of one over the chance is the whole",
          "[tracer][lighting]") {
    const Scene scene = lampAndSun();
    const Lighting lighting(scene, scene.lights, Sky{});
    // Weighted by its chance, each light is met as often as its importance says; none is lost.
    std::vector<int> counts(4, 0);
    for (int i = 0; i < 4000; ++i) {
        PixelSampler sampler(2, 3, static_cast<std::uint32_t>(i), 1);
        const float choice = sampler.next1();
        const LightSample light =
            lighting.sample(V3f(0.5F, 0, 0.5F), V3f(0, 1, 0), choice, sampler.next2());
        CHECK(light.pdf > 0.0F);
        ++counts.at(static_cast<std::size_t>(light.group));
    }
    for (const int count : counts)
        CHECK(count > 20);
}

TEST_CASE("groups of lights go by what shines", "[tracer][lighting]") {
    Scene scene = lampAndSun();
    scene.lights[0].group = "inside";
    scene.materials[1].lightGroup = "inside";
    CHECK(lightGroups(scene) == std::vector<std::string>{"inside", "sun", "sky"});
    const Lighting lighting(scene, scene.lights, Sky{});
    CHECK(lighting.groupOf(1) == 0);
    CHECK(lighting.emittersNamed("nobody").empty());
}

TEST_CASE("middles are the lights that matter most, each where it is", "[tracer][lighting]") {
    const Scene scene = lampAndSun();
    const Lighting lighting(scene, scene.lights, Sky{});
    const V3f place(0, 0, 0);
    const V3f up(0, 1, 0);
    LightSample samples[4];
    REQUIRE(lighting.middles(place, up, Lighting::Lamps::All, samples, 4) == 3);
    for (int i = 0; i < 3; ++i) {
        CHECK(samples[i].pdf > 0.0F);
        CHECK(samples[i].direction.dot(up) > 0.5F);
    }
    // The strongest alone: the lamp, 2 m up.
    REQUIRE(lighting.middles(place, up, Lighting::Lamps::All, samples, 1) == 1);
    CHECK(samples[0].distance == Approx(2.0F).epsilon(0.05));
    // Without surfaces the lamp and the sun are left; seen from below, none.
    CHECK(lighting.middles(place, up, Lighting::Lamps::WithoutSurface, samples, 4) == 2);
    CHECK(lighting.middles(place, -up, Lighting::Lamps::All, samples, 4) == 0);
}

TEST_CASE("of many lamps the strongest at each place are found, strongest first",
          "[tracer][lighting]") {
    // A row of small lamps of growing power along the ground, and a weak sun.
    Scene scene;
    test::addGround(scene, 20.0F);
    for (int i = 0; i < 12; ++i) {
        const auto x = static_cast<float>(i) - 6.0F;
        const std::string name = "lamp " + std::to_string(i);
        test::addQuad(scene, name, V3f(x, 1, 0.1F), V3f(x + 0.1F, 1, 0.1F), V3f(x + 0.1F, 1, 0),
                      V3f(x, 1, 0));
        Material glows;
        glows.name = name;
        const float power = 2.0F + static_cast<float>(i);
        glows.emission = {power, power, power};
        scene.meshes.back().material = static_cast<int>(scene.materials.size());
        scene.materials.push_back(glows);
    }
    Light sun;
    sun.name = "sun";
    sun.kind = LightKind::Sun;
    sun.direction = V3f(0.2F, -1, 0).normalized();
    sun.angleRadians = 0.01F;
    sun.power = {1e-4F, 1e-4F, 1e-4F};
    scene.lights.push_back(sun);
    const Lighting lighting(scene, scene.lights, Sky{});
    const V3f up(0, 1, 0);
    for (const float x : {-6.0F, -2.2F, 0.4F, 3.0F, 5.5F}) {
        const V3f place(x, 0, 0.05F);
        LightSample most[4];
        REQUIRE(lighting.middles(place, up, Lighting::Lamps::All, most, 4) == 4);
        LightSample two[4];
        REQUIRE(lighting.middles(place, up, Lighting::Lamps::All, two, 2) == 2);
        INFO(x);
        CHECK(two[0].direction == most[0].direction);
        CHECK(two[1].direction == most[1].direction);
        // By power over the distance squared, none that is left out gives more than the last.
        const auto given = [&](int i) {
            const V3f lamp(static_cast<float>(i) - 5.95F, 1, 0.05F);
            const V3f to = lamp - place;
            return (2.0F + static_cast<float>(i)) * to.y / to.length() / to.length2();
        };
        std::vector<float> all;
        for (int i = 0; i < 12; ++i)
            all.push_back(given(i));
        std::sort(all.begin(), all.end(), std::greater<>());
        for (std::size_t i = 0; i < 4; ++i) {
            const float across = most[i].direction.x / most[i].direction.y;
            const auto lamp = static_cast<int>(std::lround(x + across + 5.95F));
            CHECK(given(lamp) >= 0.9F * all[i]);
        }
        // The sun is no surface, and so the only one to be found without them.
        REQUIRE(lighting.middles(place, up, Lighting::Lamps::WithoutSurface, most, 4) == 1);
        CHECK((most[0].direction + sun.direction).length() < 1e-5F);
        CHECK(std::isinf(most[0].distance));
    }
}
