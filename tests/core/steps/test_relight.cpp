#include "core/steps/relight.h"

#include "core/tracer/render.h"
#include "core/tracer/scene_lights.h"
#include "support/frames.h"
#include "support/scenes.h"

#include <array>
#include <cmath>

#include <catch2/catch.hpp>
#include <fmt/format.h>

using namespace noctis;

namespace {

constexpr int kWidth = 96;
constexpr int kHeight = 64;

/// A ball alone: no surface stands in another's light.
Scene ball(float roughness) {
    Scene scene;
    test::addBall(scene, "ball", {0, 0, -4}, 1.0F, 96);
    scene.materials = {{.name = "clay", .baseColour = {0.7F, 0.4F, 0.2F}, .roughness = roughness}};
    Sky dark;
    dark.strength = 0.0F;
    scene.sky = dark;
    return scene;
}

PassSet rendered(const Scene& scene, const std::vector<std::string>& passes, int samples) {
    const Accelerator accelerator(scene);
    RenderRequest request;
    request.view = {"front", lookingAt(V3f(0, 0, 0), V3f(0, 0, -1), 0.7F)};
    request.width = kWidth;
    request.height = kHeight;
    request.passes = passRequests(passes, scene);
    for (const PassRequest& pass : request.passes)
        if (pass.kind == PassKind::Beauty) {
            applyPassSetting(request.passes, fmt::format("beauty.samples={}", samples));
            applyPassSetting(request.passes, "beauty.bounces=1");
            break;
        }
    return renderPasses(scene, accelerator, request);
}

/// PSNR as shown, on pixels wholly of the ball.
double decibels(const Image& ours, const Image& truth, const Image& coverage) {
    const auto shown = [](float v) {
        v = std::clamp(v, 0.0F, 1.0F);
        return static_cast<double>(v <= 0.0031308F ? 12.92F * v
                                                   : 1.055F * std::pow(v, 1.0F / 2.4F) - 0.055F);
    };
    double sum = 0.0;
    double count = 0.0;
    for (int y = 0; y < kHeight; ++y)
        for (int x = 0; x < kWidth; ++x) {
            if (coverage(x, y, 0) < 1.0F)
                continue;
            for (int c = 0; c < 3; ++c)
                sum += std::pow(shown(ours(x, y, c)) - shown(truth(x, y, c)), 2.0);
            count += 3.0;
        }
    return -10.0 * std::log10(sum / count);
}

/// The step on a dark picture of the ball, against the ball lit by the same light.
double compared(const std::string& settings, const Scene& lit, int samples,
                bool withColours = true) {
    const float roughness = lit.materials.front().roughness;
    const PassSet truth = rendered(lit, {"beauty", "coverage"}, samples);
    PassSet set = rendered(ball(roughness), {"position", "normal", "depth"}, 1);
    if (withColours)
        for (Pass pass : rendered(ball(roughness),
                                  {"beauty", "diffuse.colour", "specular.colour", "roughness"}, 16)
                             .passes)
            if (pass.kind != PassKind::Beauty)
                set.put(std::move(pass));
    set.camera = truth.camera;
    // A picture that has the ball's own tint, dim, for guesses; or none at all.
    set.put(test::passOf({PassKind::Beauty, {}}, kWidth, kHeight, [&](int, int, int c) {
        return withColours ? 0.0F : std::array{0.007F, 0.004F, 0.002F}[static_cast<std::size_t>(c)];
    }));
    const Image out =
        test::finished(set, test::recipeOf(R"({"step":"relight","settings":)" + settings + "}"));
    return decibels(out, truth.find(PassKind::Beauty)->image,
                    truth.find(PassKind::Coverage)->image);
}

double compared(const std::string& settings, const std::vector<Light>& lights, int samples,
                bool withColours = true) {
    Scene lit = ball(0.8F);
    lit.lights = lights;
    return compared(settings, lit, samples, withColours);
}

std::string text(const V3f& v) { return fmt::format("[{},{},{}]", v.x, v.y, v.z); }

}  // namespace

TEST_CASE("a relit sun, lamp and spot are what the tracer gives, in ten directions",
          "[steps][relight][truth]") {
    const std::array<V3f, 10> directions{
        V3f(0, 0, 1),        V3f(1, 0, 0.3F),      V3f(-1, 0, 0.3F), V3f(0, 1, 0),
        V3f(0, -1, 0.2F),    V3f(1, 1, 1),         V3f(-1, 1, 1),    V3f(0.5F, -1, 1),
        V3f(1, 0.2F, -0.4F), V3f(0.2F, 0.9F, 0.4F)};
    for (const V3f& towards : directions) {
        const V3f unit = towards.normalized();
        Light sun;
        sun.name = "sun";
        sun.kind = LightKind::Sun;
        sun.direction = -unit;
        sun.power = {1.5F, 1.2F, 0.9F};
        sun.angleRadians = 0.001F;
        INFO("towards " << text(towards));
        CHECK(compared(R"({"kind":"sun","colour":[1,0.8,0.6],"strength":1.5,"towards":)" +
                           text(towards) + "}",
                       {sun}, 16) > 45.0);
        const V3f place = V3f(0, 0, -4) + unit * 3.0F;
        Light lamp;
        lamp.name = "lamp";
        lamp.position = place;
        lamp.power = {8.0F, 6.0F, 5.0F};
        CHECK(compared(R"({"kind":"point","colour":[1,0.75,0.625],"strength":8,"position":)" +
                           text(place) + "}",
                       {lamp}, 16) > 45.0);
        Light spot = lamp;
        spot.kind = LightKind::Spot;
        spot.direction = -unit;
        spot.innerRadians = 0.15F;
        spot.outerRadians = 0.3F;
        CHECK(compared(
                  fmt::format(R"({{"kind":"spot","colour":[1,0.75,0.625],"strength":8,"position":{},
                     "towards":{},"inner":{},"outer":{}}})",
                              text(place), text(towards), 0.15 * 180.0 / M_PI, 0.3 * 180.0 / M_PI),
                  {spot}, 16) > 45.0);
    }
}

TEST_CASE("a relit area is near what the tracer gives", "[steps][relight][truth]") {
    for (const V3f& towards : {V3f(0.4F, 0.5F, 0.7F), V3f(-0.8F, 0.1F, 0.5F), V3f(0, 1, 0.3F)}) {
        const V3f unit = towards.normalized();
        const V3f middle = V3f(0, 0, -4) + unit * 2.5F;
        Scene lit = ball(0.9F);
        V3f side = unit.cross(V3f(0, 1, 0)).normalized();
        const V3f up = side.cross(unit);
        side *= 0.6F;
        test::addQuad(lit, "panel", middle - side + up * -0.6F, middle - side + up * 0.6F,
                      middle + side + up * 0.6F, middle + side + up * -0.6F);
        lit.materials.push_back({.name = "panel", .emission = {4.0F, 3.0F, 2.0F}});
        lit.meshes.back().material = 1;
        INFO("towards " << text(towards));
        const double found =
            compared(fmt::format(R"({{"kind":"area","colour":[1,0.75,0.5],"strength":4,"size":1.2,
                "position":{},"towards":{}}})",
                                 text(middle), text(towards)),
                     lit, 512);
        INFO(found << " dB");
        CHECK(found > 40.0);
    }
}

TEST_CASE("an even dome is near what the tracer gives", "[steps][relight][truth]") {
    Scene lit = ball(0.9F);
    lit.sky->strength = 1.0F;
    lit.sky->zenith = lit.sky->horizon = lit.sky->ground = {0.5F, 0.6F, 0.7F};
    CHECK(compared(R"({"kind":"dome","colour":[0.714286,0.857143,1],"strength":0.7})", lit, 512) >
          35.0);
}

TEST_CASE("without colour passes the guess from the picture's tint is near",
          "[steps][relight][truth]") {
    Light sun;
    sun.name = "sun";
    sun.kind = LightKind::Sun;
    sun.direction = V3f(-0.4F, -0.5F, -0.7F).normalized();
    sun.power = {0.8F, 0.8F, 0.8F};
    sun.angleRadians = 0.001F;
    const double found =
        compared(R"({"kind":"sun","strength":0.8,"towards":[0.4,0.5,0.7]})", {sun}, 16, false);
    INFO(found << " dB");
    CHECK(found > 30.0);
}

TEST_CASE("a light of the scene is used by its name, with all its numbers", "[steps][relight]") {
    Scene scene = ball(0.8F);
    Light lamp;
    lamp.name = "lamp";
    lamp.position = V3f(2, 2, -2);
    lamp.power = {8.0F, 6.0F, 5.0F};
    scene.lights = {lamp};
    PassSet set = rendered(scene, {"position", "normal", "depth"}, 1);
    REQUIRE(set.lights.contains("lamp"));
    CHECK(set.lights["lamp"].strength == 8.0F);
    set.put(
        test::passOf({PassKind::Beauty, {}}, kWidth, kHeight, [](int, int, int) { return 0.1F; }));
    const Image byName =
        test::finished(set, test::recipeOf(R"({"step":"relight","settings":{"light":"lamp"}})"));
    const Image byNumbers = test::finished(
        set, test::recipeOf(R"({"step":"relight","settings":{"kind":"point","position":[2,2,-2],
                              "colour":[1,0.75,0.625],"strength":8}})"));
    const Image byOwn =
        test::finished(set, test::recipeOf(R"({"step":"relight","settings":{"light":"mine"}})",
                                           R"(,"lights":{"mine":{"kind":"point","position":[2,2,-2],
                               "colour":[1,0.75,0.625],"strength":8}})"));
    for (int y = 0; y < kHeight; ++y)
        for (int x = 0; x < kWidth; ++x) {
            REQUIRE(byName(x, y, 0) == byNumbers(x, y, 0));
            REQUIRE(byOwn(x, y, 2) == byNumbers(x, y, 2));
        }
    CHECK_THROWS_WITH(
        test::finished(set, test::recipeOf(R"({"step":"relight","settings":{"light":"none"}})")),
        Catch::Contains("lamp"));
}

TEST_CASE("pixels left over from whole vectors are lit as the others", "[steps][relight]") {
    constexpr int kOdd = 23;
    for (const bool withColours : {true, false}) {
        PassSet set = test::greyFrame(kOdd, 3, 0.2F);
        const auto put = [&](PassKind kind, std::array<float, 3> value) {
            set.put(test::passOf({kind, {}}, kOdd, 3, [&](int, int, int c) {
                return value[static_cast<std::size_t>(c)];
            }));
        };
        put(PassKind::Position, {0.5F, -1.0F, -4.0F});
        put(PassKind::Normal, {0.0F, 0.8F, 0.6F});
        put(PassKind::Depth, {4.0F, 4.0F, 4.0F});
        if (withColours) {
            put(PassKind::DiffuseColour, {0.6F, 0.3F, 0.1F});
            put(PassKind::SpecularColour, {0.08F, 0.06F, 0.05F});
            put(PassKind::Roughness, {0.3F, 0.3F, 0.3F});
        }
        for (const char* kind : {"sun", "point", "spot"}) {
            const Image out = test::finished(
                set, test::recipeOf(fmt::format(
                         R"({{"step":"relight","settings":{{"kind":"{}","position":[0.2,2,-2],
                            "towards":[-0.1,0.9,0.6],"inner":10,"outer":70,"strength":3}}}})",
                         kind)));
            INFO(kind << (withColours ? "" : ", guessed"));
            CHECK(out(0, 1, 0) > 0.21F);
            for (int x = 0; x < kOdd; ++x)
                for (int c = 0; c < 3; ++c)
                    REQUIRE(out(x, 1, c) == Approx(out(0, 1, c)).epsilon(2e-4));
        }
    }
}

TEST_CASE("a replaced light is taken away", "[steps][relight]") {
    PassSet set = rendered(ball(0.8F), {"position", "normal", "depth"}, 1);
    set.put(
        test::passOf({PassKind::Beauty, {}}, kWidth, kHeight, [](int, int, int) { return 0.5F; }));
    set.put(test::passOf({PassKind::Light, "moon"}, kWidth, kHeight,
                         [](int, int, int) { return 0.2F; }));
    const Image out = test::finished(
        set, test::recipeOf(R"({"step":"relight","settings":{"strength":0,"mode":"replace",
                              "replaces":"moon"}})"));
    CHECK(out(5, 5, 0) == Approx(0.3F));
    CHECK(out(kWidth / 2, kHeight / 2, 1) == Approx(0.3F));
}
