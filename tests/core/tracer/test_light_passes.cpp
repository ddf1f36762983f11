#include "core/image/error.h"
#include "core/tracer/rgb.h"
#include "support/files.h"
#include "support/render.h"
#include "support/scenes.h"

#include <atomic>

#include <catch2/catch.hpp>

using namespace noctis;
using test::imageOf;
using test::looking;
using test::rendered;

namespace {

/// What the sums of light may be off by, as a part of white.
constexpr double kSumTolerance = 1e-4;

/// A glass ball and a metal one on a matt ground, under a sun, a lamp, a glowing board and a sky.
Scene glassAndMetal() {
    Scene scene;
    scene.materials = {
        Material{.name = "matt", .baseColour = {0.7F, 0.5F, 0.0F}, .roughness = 0.9F},
        Material{.name = "glass",
                 .baseColour = {0.9F, 1.0F, 0.9F},
                 .roughness = 0.05F,
                 .transmission = 1.0F},
        Material{.name = "metal",
                 .baseColour = {0.9F, 0.7F, 0.0F},
                 .roughness = 0.3F,
                 .metalness = 1.0F},
        Material{.name = "glow", .emission = {4.0F, 2.0F, 1.0F}, .lightGroup = "board"}};
    test::addGround(scene, 20.0F);
    test::addBall(scene, "glass ball", V3f(-0.8F, 0.7F, 0), 0.7F, 24);
    scene.meshes.back().material = 1;
    test::addBall(scene, "metal ball", V3f(0.9F, 0.7F, 0), 0.7F, 24);
    scene.meshes.back().material = 2;
    test::addQuad(scene, "board", V3f(-1, 1, -2), V3f(1, 1, -2), V3f(1, 2, -2), V3f(-1, 2, -2));
    scene.meshes.back().material = 3;
    Light sun;
    sun.name = "sun";
    sun.kind = LightKind::Sun;
    sun.direction = V3f(0.3F, -1.0F, -0.4F).normalized();
    sun.power = {1.5F, 1.4F, 1.2F};
    Light lamp;
    lamp.name = "lamp";
    lamp.position = V3f(2, 3, 2);
    lamp.power = {5.0F, 5.0F, 8.0F};
    scene.lights = {sun, lamp};
    return scene;
}

const std::vector<std::string> kParts{"diffuse.direct",
                                      "diffuse.indirect",
                                      "diffuse.colour",
                                      "specular.direct",
                                      "specular.indirect",
                                      "specular.colour",
                                      "transmission.direct",
                                      "transmission.indirect",
                                      "transmission.colour",
                                      "emission",
                                      "backdrop"};

}  // namespace

TEST_CASE("the parts of light add up to beauty at every pixel", "[tracer][light]") {
    std::vector<std::string> names = kParts;
    names.emplace_back("beauty");
    const std::string clean = GENERATE("beauty.denoise=0", "beauty.denoise=1");
    CAPTURE(clean);
    const PassSet set = rendered(glassAndMetal(), looking(V3f(0, 1.6F, 5), V3f(0, 0.8F, 0)), names,
                                 {.settings = {"beauty.samples=6", "beauty.clamp=8", clean}});
    double brightest = 0.0;
    for (int y = 0; y < 48; ++y)
        for (int x = 0; x < 48; ++x)
            for (int c = 0; c < 3; ++c) {
                double sum = imageOf(set, "emission")(x, y, c) + imageOf(set, "backdrop")(x, y, c);
                for (const std::string lobe : {"diffuse", "specular", "transmission"})
                    sum += static_cast<double>(imageOf(set, lobe + ".direct")(x, y, c) +
                                               imageOf(set, lobe + ".indirect")(x, y, c)) *
                           imageOf(set, lobe + ".colour")(x, y, c);
                const double beauty = imageOf(set, "beauty")(x, y, c);
                REQUIRE(sum == Approx(beauty).epsilon(kSumTolerance).margin(kSumTolerance));
                brightest = std::max(brightest, beauty);
            }
    CHECK(brightest > 1.0);
}

TEST_CASE("every part of light is there where it should be, and only there", "[tracer][light]") {
    const PassSet set = rendered(glassAndMetal(), looking(V3f(0, 1.6F, 5), V3f(0, 0.8F, 0)), kParts,
                                 {.settings = {}});
    const auto total = [&](const std::string& name, int x0, int y0, int x1, int y1) {
        double sum = 0.0;
        for (int y = y0; y < y1; ++y)
            for (int x = x0; x < x1; ++x)
                sum += static_cast<double>(imageOf(set, name)(x, y, 0));
        return sum;
    };
    CHECK(total("backdrop", 0, 0, 48, 4) > 1.0);
    CHECK(total("backdrop", 0, 40, 48, 48) == 0.0);
    CHECK(total("diffuse.direct", 0, 40, 48, 48) > 1.0);
    CHECK(total("transmission.colour", 10, 24, 16, 30) > 1.0);   // the glass ball
    CHECK(total("transmission.colour", 30, 24, 38, 30) == 0.0);  // the metal one
    CHECK(total("diffuse.colour", 32, 25, 37, 29) == 0.0);
    CHECK(total("specular.colour", 32, 25, 37, 29) > 1.0);
    CHECK(total("emission", 0, 0, 48, 48) > 1.0);
}

TEST_CASE("light groups add up to beauty, and each is its lights' alone", "[tracer][light]") {
    const Scene scene = glassAndMetal();
    CHECK(lightGroups(scene) == std::vector<std::string>{"sun", "lamp", "board", "sky"});
    const View view = looking(V3f(0, 1.6F, 5), V3f(0, 0.8F, 0));
    const std::string clean = GENERATE("beauty.denoise=0", "beauty.denoise=1");
    CAPTURE(clean);
    const PassSet set =
        rendered(scene, view, {"beauty", "light"}, {.settings = {"beauty.samples=8", clean}});
    REQUIRE(set.passes.size() == 5);
    for (int y = 0; y < 48; ++y)
        for (int x = 0; x < 48; ++x)
            for (int c = 0; c < 3; ++c) {
                double sum = 0.0;
                for (const std::string& group : lightGroups(scene))
                    sum += static_cast<double>(imageOf(set, "light." + group)(x, y, c));
                REQUIRE(sum == Approx(imageOf(set, "beauty")(x, y, c))
                                   .epsilon(kSumTolerance)
                                   .margin(kSumTolerance));
            }
    // The lamp alone, in a scene without other lights, gives the same on average.
    Scene alone = scene;
    alone.lights = {scene.lights[1]};
    alone.materials[3].emission = {};
    const PassSet lamp = rendered(
        alone, view, {"beauty"},
        {.settings = {"beauty.samples=256", "beauty.scene_sky=off", "beauty.sky_strength=0"}});
    const PassSet many =
        rendered(scene, view, {"light.lamp", "beauty"}, {.settings = {"beauty.samples=256"}});
    double a = 0.0;
    double b = 0.0;
    for (int y = 36; y < 48; ++y)
        for (int x = 0; x < 48; ++x) {
            a += static_cast<double>(imageOf(lamp, "beauty")(x, y, 0));
            b += static_cast<double>(imageOf(many, "light.lamp")(x, y, 0));
        }
    CHECK(b == Approx(a).epsilon(0.05));
}

TEST_CASE("passes made with beauty are the same with and without it", "[tracer][light]") {
    const Scene scene = glassAndMetal();
    const View view = looking(V3f(0, 1.6F, 5), V3f(0, 0.8F, 0));
    const PassSet with =
        rendered(scene, view, {"beauty", "light.sun"}, {.settings = {"beauty.samples=4"}});
    RenderRequest request;
    request.view = view;
    request.width = request.height = 48;
    request.passes = passRequests({"light.sun"}, scene);
    request.light.set("samples", 4.0F);
    const Accelerator accelerator(scene);
    const PassSet without = renderPasses(scene, accelerator, request);
    CHECK(test::sameBits(imageOf(with, "light.sun"), imageOf(without, "light.sun")));
    CHECK(without.passes[0].settings.at("samples") == "4");
}

TEST_CASE("a light that is not there is reported with those that are", "[tracer][light]") {
    try {
        (void)passRequests({"shadow.moon"}, glassAndMetal());
        FAIL("nothing was thrown");
    } catch (const Error& error) {
        CHECK(error.code() == ErrorCode::UnknownName);
        CHECK(std::string(error.what()).find("sun, lamp, board, environment") != std::string::npos);
    }
    CHECK_THROWS_AS(passRequests({"light.moon"}, glassAndMetal()), Error);
    CHECK_THROWS_AS(passRequests({"colour"}, glassAndMetal()), Error);
    CHECK(passRequests({"shadow"}, glassAndMetal()).size() == 4);
}

TEST_CASE("clay hides colours but not what shines", "[tracer][light]") {
    const PassSet set = rendered(
        glassAndMetal(), looking(V3f(0, 1.6F, 5), V3f(0, 0.8F, 0)),
        {"beauty", "diffuse.colour", "emission"},
        {.settings = {"beauty.samples=2", "beauty.clay=on", "beauty.clay_colour=0.5,0.4,0.3"}});
    const Image& colour = imageOf(set, "diffuse.colour");
    CHECK(colour(24, 46, 0) == Approx(0.5F));
    CHECK(colour(24, 46, 2) == Approx(0.3F));
    CHECK(colour(13, 27, 1) == Approx(0.4F));  // the glass ball is clay, too
    double shine = 0.0;
    for (int x = 0; x < 48; ++x)
        for (int y = 0; y < 30; ++y)
            shine += static_cast<double>(imageOf(set, "emission")(x, y, 0));
    CHECK(shine > 1.0);
}

TEST_CASE("a noise level stops clean tiles early and keeps working on others", "[tracer][light]") {
    Scene scene;
    scene.materials.push_back({.name = "matt", .roughness = 1.0F, .refraction = 1.0F});
    test::addGround(scene, 50.0F);
    const View down = looking(V3f(0, 3, 0.01F), V3f(0, 0, 0));
    std::atomic<int> tiles = 0;
    RenderRequest request;
    request.view = down;
    request.width = request.height = 64;
    request.passes = {passRequest(PassKind::Beauty)};
    for (const char* setting : {"beauty.samples=4096", "beauty.noise=0.05"})
        applyPassSetting(request.passes, setting);
    const Accelerator accelerator(scene);
    std::vector<float> reports;
    const PassSet set = renderPasses(
        scene, accelerator, request,
        {.stop = {}, .progress = [&](float p) { reports.push_back(p); }},
        {.refined = {}, .tileBegun = [&](PassKind, const Tile&) { ++tiles; }, .passBegun = {}});
    CHECK(tiles < 4 * 8);  // of 4 tiles; rounds of 1, 2, ... 4096 samples would be 13
    REQUIRE(!reports.empty());
    CHECK(reports.back() == 1.0F);
    CHECK(set.passes[0].image(32, 32, 1) > 0.0F);
}

TEST_CASE("a time limit ends beauty with what there is", "[tracer][light]") {
    const PassSet set =
        rendered(glassAndMetal(), looking(V3f(0, 1.6F, 5), V3f(0, 0.8F, 0)), {"beauty"},
                 {.settings = {"beauty.samples=60000", "beauty.seconds=0.2"}});
    CHECK(set.passes[0].image(24, 40, 1) > 0.0F);
}

TEST_CASE("what the first object hides is lit as if the first were not there", "[tracer][light]") {
    Scene scene;
    scene.materials = {Material{.name = "grey"},
                       Material{.name = "glow", .emission = {0.25F, 0.5F, 1.0F}}};
    test::addQuad(scene, "screen", V3f(-0.3F, -0.3F, -2), V3f(0.3F, -0.3F, -2), V3f(0.3F, 0.3F, -2),
                  V3f(-0.3F, 0.3F, -2));
    test::addQuad(scene, "wall", V3f(-9, -9, -5), V3f(9, -9, -5), V3f(9, 9, -5), V3f(-9, 9, -5));
    scene.meshes.back().material = 1;
    scene.sky = Sky{};
    scene.sky->strength = 0.0F;
    scene.materials[1].baseColour = {0, 0, 0};
    scene.materials[1].refraction = 1.0F;
    const PassSet set = rendered(scene, looking(V3f(0, 0, 0), V3f(0, 0, -1)),
                                 {"behind.colour", "behind.depth", "depth"}, {.settings = {}});
    CHECK(imageOf(set, "depth")(24, 24, 0) == Approx(2.0F));
    CHECK(imageOf(set, "behind.depth")(24, 24, 0) == Approx(5.0F).epsilon(1e-5));
    CHECK(imageOf(set, "behind.colour")(24, 24, 0) == Approx(0.25F).epsilon(1e-3));
    CHECK(imageOf(set, "behind.colour")(24, 24, 2) == Approx(1.0F).epsilon(1e-3));
    // Where the wall comes first there is nothing behind it.
    CHECK(imageOf(set, "depth")(1, 1, 0) == Approx(5.0F));
    CHECK(imageOf(set, "behind.depth")(1, 1, 0) == kNothingHit);
}
