#include "core/tracer/bsdf.h"
#include "core/tracer/lighting.h"
#include "core/tracer/render.h"
#include "core/tracer/rgb.h"
#include "support/scenes.h"

#include <cmath>
#include <optional>
#include <tuple>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

Image beautyOf(const Scene& scene, const View& view, int side,
               const std::vector<std::string>& settings,
               const std::optional<TracedLens>& lens = {}) {
    RenderRequest request;
    request.view = view;
    request.width = request.height = side;
    request.passes = {passRequest(PassKind::Beauty)};
    request.lens = lens;
    for (const std::string& setting : settings)
        applyPassSetting(request.passes, "beauty." + setting);
    const Accelerator accelerator(scene);
    return renderPasses(scene, accelerator, request).passes[0].image;
}

double meanOf(const Image& image, int channel, int x0, int y0, int x1, int y1) {
    double sum = 0.0;
    for (int y = y0; y < y1; ++y)
        for (int x = x0; x < x1; ++x)
            sum += static_cast<double>(image(x, y, channel));
    return sum / ((x1 - x0) * (y1 - y0));
}

const std::vector<std::string> kWhiteSky{"scene_sky=off", "zenith=1,1,1", "horizon=1,1,1",
                                         "ground=1,1,1"};
const std::vector<std::string> kNoSky{"scene_sky=off", "sky_strength=0"};

std::vector<std::string> with(std::vector<std::string> settings,
                              std::initializer_list<std::string> more) {
    settings.insert(settings.end(), more);
    return settings;
}

/// A level ground of a plain diffuse grey, seen from straight above.
Scene greyGround(float reflectance) {
    Scene scene;
    scene.materials.push_back({.name = "matt",
                               .baseColour = {reflectance, reflectance, reflectance},
                               .roughness = 1.0F,
                               .refraction = 1.0F});
    test::addGround(scene, 50.0F);
    return scene;
}

View above(float height) {
    return {"above", lookingAt(V3f(0, height, 0.0001F), V3f(0, 0, 0), 0.4F)};
}

}  // namespace

TEST_CASE("in a white room of light, a white ball of any finish gives back no more than it gets",
          "[tracer][beauty]") {
    for (const auto& [roughness, metalness, least] :
         {std::tuple(1.0F, 0.0F, 0.90), std::tuple(0.3F, 0.0F, 0.93), std::tuple(0.1F, 1.0F, 0.97),
          std::tuple(0.6F, 1.0F, 0.75)}) {
        Scene scene;
        scene.materials.push_back({.name = "white",
                                   .baseColour = {1, 1, 1},
                                   .roughness = roughness,
                                   .metalness = metalness});
        test::addBall(scene, "ball", V3f(0, 0, -5), 1.0F, 60);
        const Image image = beautyOf(scene, {"v", lookingAt(V3f(0, 0, 0), V3f(0, 0, -1), 0.3F)}, 24,
                                     with(kWhiteSky, {"samples=128", "bounces=8"}));
        const double mean = meanOf(image, 1, 8, 8, 16, 16);
        INFO("roughness " << roughness << ", metalness " << metalness);
        CHECK(mean <= 1.02);
        CHECK(mean >= least);
    }
}

TEST_CASE("glass without colour loses no light in a white room", "[tracer][beauty]") {
    Scene scene;
    scene.materials.push_back(
        {.name = "glass", .baseColour = {1, 1, 1}, .roughness = 0.0F, .transmission = 1.0F});
    test::addBall(scene, "ball", V3f(0, 0, -5), 1.0F, 60);
    const Image image = beautyOf(scene, {"v", lookingAt(V3f(0, 0, 0), V3f(0, 0, -1), 0.3F)}, 24,
                                 with(kWhiteSky, {"samples=256", "bounces=24"}));
    CHECK(meanOf(image, 1, 8, 8, 16, 16) == Approx(1.0).margin(0.04));
}

TEST_CASE("a point light gives a matt ground the inverse-square law", "[tracer][beauty][truth]") {
    Scene scene = greyGround(0.5F);
    scene.lights.push_back(
        {.name = "lamp", .kind = LightKind::Point, .position = V3f(0, 2, 0), .power = {8, 4, 2}});
    const Image image = beautyOf(scene, above(6.0F), 33, with(kNoSky, {"samples=64", "bounces=1"}));
    const double truth = 0.5 / M_PI * 8.0 / 4.0;  // straight below
    CHECK(image(16, 16, 0) == Approx(truth).epsilon(0.01));
    CHECK(image(16, 16, 1) == Approx(truth / 2).epsilon(0.01));
}

TEST_CASE("a sun gives a level ground its irradiance times the cosine", "[tracer][beauty][truth]") {
    Scene scene = greyGround(0.5F);
    scene.lights.push_back({.name = "sun",
                            .kind = LightKind::Sun,
                            .direction = V3f(0, -1, -1).normalized(),
                            .power = {3, 3, 3}});
    const Image image = beautyOf(scene, above(6.0F), 9, with(kNoSky, {"samples=64", "bounces=1"}));
    CHECK(image(4, 4, 1) == Approx(0.5 / M_PI * 3.0 * std::sqrt(0.5)).epsilon(0.01));
}

TEST_CASE("a shining surface lights a ground as the form factor says", "[tracer][beauty][truth]") {
    Scene scene = greyGround(0.5F);
    scene.materials.push_back({.name = "panel", .baseColour = {0, 0, 0}, .emission = {5, 5, 5}});
    test::addQuad(scene, "panel", {-0.05F, 3, -0.05F}, {0.05F, 3, -0.05F}, {0.05F, 3, 0.05F},
                  {-0.05F, 3, 0.05F});
    scene.meshes.back().material = 1;
    View view{"side", lookingAt(V3f(4, 2, 0), V3f(0, 0, 0), 0.05F)};
    const Image image = beautyOf(scene, view, 9, with(kNoSky, {"samples=256", "bounces=1"}));
    const double truth =
        0.5 / M_PI * 5.0 * 0.01 / 9.0;  // radiance * area / distance^2, both cosines 1
    CHECK(image(4, 4, 1) == Approx(truth).epsilon(0.02));
}

TEST_CASE("a sky of one brightness gives an open ground its own brightness times reflectance",
          "[tracer][beauty][truth]") {
    const Image image =
        beautyOf(greyGround(0.4F), above(6.0F), 9, with(kWhiteSky, {"samples=256", "bounces=1"}));
    CHECK(meanOf(image, 1, 2, 2, 7, 7) == Approx(0.4).epsilon(0.015));
}

TEST_CASE("a spot lights nothing outside its cone", "[tracer][beauty]") {
    Scene scene = greyGround(0.5F);
    scene.lights.push_back({.name = "spot",
                            .kind = LightKind::Spot,
                            .position = V3f(0, 2, 0),
                            .direction = V3f(0, -1, 0),
                            .power = {8, 8, 8},
                            .innerRadians = 0.2F,
                            .outerRadians = 0.3F});
    const Image image = beautyOf(scene, above(6.0F), 33, with(kNoSky, {"samples=16", "bounces=1"}));
    CHECK(image(16, 16, 0) > 0.2F);
    CHECK(image(1, 16, 0) == 0.0F);
}

TEST_CASE("more bounces bring more light into a corner, and none is lost by stopping paths early",
          "[tracer][beauty]") {
    Scene scene = greyGround(0.8F);
    test::addQuad(scene, "wall", {-50, 0, -1}, {50, 0, -1}, {50, 50, -1}, {-50, 50, -1});
    const View view{"corner", lookingAt(V3f(0, 1, 1), V3f(0, 0.2F, -0.9F), 0.3F)};
    const double one = meanOf(
        beautyOf(scene, view, 12, with(kWhiteSky, {"samples=256", "bounces=1"})), 1, 0, 0, 12, 12);
    const double many = meanOf(
        beautyOf(scene, view, 12, with(kWhiteSky, {"samples=256", "bounces=12"})), 1, 0, 0, 12, 12);
    CHECK(many > one * 1.2);
    CHECK(many < 1.0);
}

TEST_CASE("a point seen through a traced lens becomes a disc of the circle of confusion",
          "[tracer][beauty][truth]") {
    Scene scene;
    scene.materials.push_back(
        {.name = "light", .baseColour = {0, 0, 0}, .emission = {1000, 1000, 1000}});
    const float s = 0.02F;
    test::addQuad(scene, "star", {-s, -s, -10}, {s, -s, -10}, {s, s, -10}, {-s, s, -10});
    const View view{"v", lookingAt(V3f(0, 0, 0), V3f(0, 0, -1), 0.5F)};
    const TracedLens lens{.focusDistance = 4.0F, .apertureRadius = 0.25F};
    const Image image = beautyOf(scene, view, 128, with(kNoSky, {"samples=64", "bounces=1"}), lens);
    double energy = 0.0;
    double moment = 0.0;
    for (int y = 0; y < 128; ++y)
        for (int x = 0; x < 128; ++x) {
            const auto v = static_cast<double>(image(x, y, 0));
            energy += v;
            moment += v * ((x - 63.5) * (x - 63.5) + (y - 63.5) * (y - 63.5));
        }
    // A disc of radius R has a mean square radius of R^2 / 2.
    const double radius = std::sqrt(2.0 * moment / energy);
    const double truth = 0.25 * std::abs(10.0 - 4.0) / 10.0 / 4.0 / (2.0 * std::tan(0.25)) * 128.0;
    CHECK(radius == Approx(truth).margin(0.5));
    CHECK(TracedLens::ofFNumber(2.0F, 50.0F, 4.0F).apertureRadius == Approx(0.0125F));
}

TEST_CASE("directions drawn from a surface agree with what it says of them", "[tracer][bsdf]") {
    Scene scene;
    scene.materials.push_back(
        {.name = "m", .baseColour = {0.8F, 0.6F, 0.4F}, .roughness = 0.35F, .metalness = 0.3F});
    Surface surface;
    surface.normal = surface.geometricNormal = surface.smoothNormal = V3f(0, 1, 0);
    const Bsdf bsdf(surface, scene.materials[0], scene, V3f(0.5F, 0.7F, 0.2F).normalized());
    // The reflected part of white light, by drawing and by summing over the hemisphere.
    double drawn = 0.0;
    constexpr int kDraws = 60000;
    for (int i = 0; i < kDraws; ++i) {
        PixelSampler sampler(1, 2, static_cast<std::uint32_t>(i), 3);
        const float lobe = sampler.next1();
        drawn += static_cast<double>(bsdf.sample(lobe, sampler.next2()).weight.g) / kDraws;
    }
    double summed = 0.0;
    double chance = 0.0;
    constexpr int kSteps = 400;
    for (int i = 0; i < kSteps; ++i)
        for (int j = 0; j < kSteps; ++j) {
            const double z = (i + 0.5) / kSteps;
            const double phi = 2.0 * M_PI * (j + 0.5) / kSteps;
            const double r = std::sqrt(1.0 - z * z);
            float pdf = 0.0F;
            const LinearRgb value =
                bsdf.evaluate(V3f(static_cast<float>(r * std::cos(phi)), static_cast<float>(z),
                                  static_cast<float>(r * std::sin(phi))),
                              pdf)
                    .sum();
            summed += static_cast<double>(value.g) * 2.0 * M_PI / (kSteps * kSteps);
            chance += static_cast<double>(pdf) * 2.0 * M_PI / (kSteps * kSteps);
        }
    CHECK(drawn == Approx(summed).epsilon(0.01));
    CHECK(chance == Approx(1.0).margin(0.04));
}
