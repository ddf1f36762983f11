#include "core/tracer/occlusion.h"

#include "core/tracer/render.h"
#include "support/scenes.h"

#include <algorithm>
#include <cmath>

#include <catch2/catch.hpp>
#include <fmt/format.h>

using namespace noctis;

namespace {

constexpr int kSide = 64;

/// Renders raw occlusion of a scene seen straight from above: pixel (x, y) is the ground at
/// (worldX, worldZ).
Image fromAbove(const Scene& scene, float height, const std::vector<std::string>& settings) {
    RenderRequest request;
    request.view.camera = lookingAt(V3f(0, 50, 0.0001F), V3f(0, 0, 0), 1.0F);
    request.view.camera.orthographicHeight = height;
    request.width = kSide;
    request.height = kSide;
    request.passes = {passRequest(PassKind::Occlusion)};
    applyPassSetting(request.passes, "occlusion.denoise=0");
    for (const std::string& setting : settings)
        applyPassSetting(request.passes, "occlusion." + setting);
    const Accelerator accelerator(scene);
    return renderPasses(scene, accelerator, request).passes[0].image;
}

float worldAt(int pixel, float height) {
    return (static_cast<float>(pixel) + 0.5F - kSide / 2.0F) / kSide * height;
}

/// Ground along a wall of endless length standing at z = -1: the open fraction at distance d from it.
double besideWall(double d, double wall) {
    return 0.5 * (1.0 + d / std::sqrt(d * d + wall * wall));
}

Scene wallScene(float wall) {
    Scene scene;
    test::addGround(scene, 400.0F);
    test::addQuad(scene, "wall", {-400, 0, -1}, {400, 0, -1}, {400, wall, -1}, {-400, wall, -1});
    return scene;
}

struct Errors {
    double worst = 0.0;
    double rms = 0.0;
    double within = 0.0;  ///< part of the pixels within 0.01
};

Errors wallErrors(int samples, const std::string& clean) {
    const float height = 6.0F;
    const Image image = fromAbove(wallScene(2.0F), height,
                                  {"samples=" + std::to_string(samples), "denoise=" + clean});
    Errors errors;
    int count = 0;
    for (int y = 0; y < kSide; ++y) {
        const double d = static_cast<double>(worldAt(y, height)) + 1.0;
        if (d < 0.05)
            continue;
        for (int x = 0; x < kSide; ++x) {
            const double error = std::abs(static_cast<double>(image(x, y, 0)) - besideWall(d, 2.0));
            errors.worst = std::max(errors.worst, error);
            errors.rms += error * error;
            errors.within += error < 0.01 ? 1.0 : 0.0;
            ++count;
        }
    }
    errors.rms = std::sqrt(errors.rms / count);
    errors.within /= count;
    return errors;
}

}  // namespace

TEST_CASE("occlusion beside a long wall is the closed form", "[tracer][occlusion][truth]") {
    const Errors few = wallErrors(256, "1");
    const Errors many = wallErrors(4096, "1");
    INFO("256 samples: worst " << few.worst << ", rms " << few.rms << "; 4096: worst " << many.worst
                               << ", rms " << many.rms);
    CHECK(few.worst < 0.01);
    CHECK(many.worst < 0.004);
}

TEST_CASE("raw occlusion beside a long wall scatters about the closed form",
          "[tracer][occlusion][truth]") {
    const Errors few = wallErrors(256, "0");
    const Errors many = wallErrors(4096, "0");
    // 256 points on a disc can't cut every line within 0.01; nineteen in twenty pixels are.
    CHECK(few.rms < 0.0055);
    CHECK(few.within > 0.95);
    CHECK(few.worst < 0.02);
    CHECK(many.worst < 0.004);
}

TEST_CASE("occlusion under a ball is the closed form", "[tracer][occlusion][truth]") {
    // A sphere of radius r over a point of the ground at distance l from its centre, in direction w, wholly
    // above the horizon there: it takes cos(w) (r / l)^2.
    Scene scene;
    test::addGround(scene, 200.0F);
    test::addBall(scene, "ball", V3f(0, 3, 0), 1.0F, 300);
    const auto worst = [&](int samples) {
        RenderRequest request;
        request.view.camera = lookingAt(V3f(0, 1.2F, 9), V3f(0, 0, 0), 0.5F);
        request.width = 96;
        request.height = 54;
        request.passes = {passRequest(PassKind::Occlusion), passRequest(PassKind::Position),
                          passRequest(PassKind::Objects)};
        applyPassSetting(request.passes, "occlusion.samples=" + std::to_string(samples));
        const Accelerator accelerator(scene);
        const PassSet set = renderPasses(scene, accelerator, request);
        double error = 0.0;
        int compared = 0;
        for (int y = 0; y < 54; ++y)
            for (int x = 0; x < 96; ++x) {
                const Image& position = set.find(PassKind::Position)->image;
                const double px = static_cast<double>(position(x, y, 0));
                const double pz = static_cast<double>(position(x, y, 2));
                if (std::abs(position(x, y, 1)) > 1e-3F || px * px + pz * pz > 36.0 ||
                    (px == 0.0 && pz == 0.0))
                    continue;
                const double l = std::sqrt(px * px + pz * pz + 9.0);
                const double truth = 1.0 - 3.0 / l / (l * l);
                error = std::max(
                    error,
                    std::abs(static_cast<double>(set.find(PassKind::Occlusion)->image(x, y, 0)) -
                             truth));
                ++compared;
            }
        REQUIRE(compared > 300);
        return error;
    };
    CHECK(worst(256) < 0.01);
    CHECK(worst(4096) < 0.004);
}

TEST_CASE("occlusion noise falls faster than plain random sampling does", "[tracer][occlusion]") {
    const double at64 = wallErrors(64, "0").rms;
    const double at1024 = wallErrors(1024, "0").rms;
    INFO("rms " << at64 << " at 64, " << at1024 << " at 1024");
    CHECK(at1024 < at64 / 5.5);  // plain random sampling would give a quarter
}

TEST_CASE("beyond the reach nothing occludes, and within the skip neither", "[tracer][occlusion]") {
    const Scene scene = wallScene(2.0F);
    const float height = 6.0F;
    const Image reach = fromAbove(scene, height, {"samples=128", "reach=0.5"});
    const Image skip = fromAbove(scene, height, {"samples=128", "skip=50"});
    for (int y = 0; y < kSide; ++y) {
        const float d = worldAt(y, height) + 1.0F;
        if (d > 0.52F)
            CHECK(reach(10, y, 0) == 1.0F);
        if (d > 0.1F && d < 0.3F)
            CHECK(reach(10, y, 0) < 0.9F);
        if (d > 0.1F)
            CHECK(skip(10, y, 0) > 0.94F);
    }
}

TEST_CASE("fade lets a hit count less with distance", "[tracer][occlusion]") {
    // A ceiling over everything: all directions hit at h / cos; the mean of 1 - exp(-h / (cos fade)) is known by quadrature.
    Scene scene;
    test::addGround(scene, 3000.0F);
    test::addQuad(scene, "ceiling", {-3000, 2, 3000}, {3000, 2, 3000}, {3000, 2, -3000},
                  {-3000, 2, -3000});
    double truth = 0.0;
    constexpr int kParts = 20000;
    for (int i = 0; i < kParts; ++i) {
        const double cosine = std::sqrt((i + 0.5) / kParts);
        truth += (1.0 - std::exp(-2.0 / cosine / 2.5)) / kParts;
    }
    RenderRequest request;
    request.view.camera = lookingAt(V3f(0, 1, 0), V3f(0, 0, -0.001F), 0.5F);
    request.width = request.height = 8;
    request.passes = {passRequest(PassKind::Occlusion)};
    applyPassSetting(request.passes, "occlusion.samples=1024");
    applyPassSetting(request.passes, "occlusion.fade=2.5");
    const Accelerator accelerator(scene);
    const Image image = renderPasses(scene, accelerator, request).passes[0].image;
    CHECK(image(4, 4, 0) == Approx(truth).margin(0.004));
}

TEST_CASE("a narrow cone looks only about the normal", "[tracer][occlusion]") {
    const Image image = fromAbove(wallScene(2.0F), 6.0F, {"samples=64", "cone=9"});
    for (int y = 0; y < kSide; ++y)
        if (worldAt(y, 6.0F) + 1.0F > 0.4F)
            CHECK(image(20, y, 0) == 1.0F);
}

TEST_CASE("only the named objects occlude", "[tracer][occlusion]") {
    const Scene scene = wallScene(2.0F);
    const Image none = fromAbove(scene, 6.0F, {"samples=32", "of=ground"});
    const Image wall = fromAbove(scene, 6.0F, {"samples=32", "of=wall"});
    CHECK(none(20, 30, 0) == 1.0F);
    CHECK(wall(20, 24, 0) < 0.9F);
}

TEST_CASE("a flat ground does not occlude itself, near the origin or far from it",
          "[tracer][occlusion]") {
    for (const float away : {0.0F, 3000.0F}) {
        Scene scene;
        test::addQuad(scene, "ground", {away - 50, 0, away + 50}, {away + 50, 0, away + 50},
                      {away + 50, 0, away - 50}, {away - 50, 0, away - 50});
        RenderRequest request;
        request.view.camera = lookingAt(V3f(away, 3, away + 8), V3f(away, 0, away), 0.6F);
        request.width = request.height = 32;
        request.passes = {passRequest(PassKind::Occlusion)};
        applyPassSetting(request.passes, "occlusion.samples=32");
        const Accelerator accelerator(scene);
        const Image image = renderPasses(scene, accelerator, request).passes[0].image;
        for (int y = 10; y < 32; ++y)
            for (int x = 0; x < 32; ++x)
                REQUIRE(image(x, y, 0) == 1.0F);
    }
}

namespace {

struct Shape {
    double reach = 0.0;  ///< 0: unlimited
    double cone = 90.0;  ///< degrees
    double fade = 0.0;   ///< m
    double skip = 0.0;
};

/// The open fraction of the ground at distance d from an endless wall of height h, by quadrature over
/// the disc under the hemisphere (Nusselt's analogue), cut to the cone.
double integrated(double d, double h, const Shape& s) {
    constexpr int kSteps = 1400;
    const double widest = std::sin(s.cone * M_PI / 180.0);
    double open = 0.0;
    for (int i = 0; i < kSteps; ++i)
        for (int j = 0; j < kSteps; ++j) {
            // Uniform on the disc: radius by the square root, angle evenly.
            const double r = widest * std::sqrt((i + 0.5) / kSteps);
            const double angle = 2.0 * M_PI * (j + 0.5) / kSteps;
            const double towards = r * std::cos(angle);  // of the unit direction, to the wall
            const double up = std::sqrt(1.0 - r * r);
            double value = 1.0;
            if (towards > 0.0) {
                const double distance = d / towards;
                const bool meets = distance * up < h && distance >= s.skip &&
                                   (s.reach == 0.0 || distance <= s.reach);
                if (meets)
                    value = s.fade > 0.0 ? 1.0 - std::exp(-distance / s.fade) : 0.0;
            }
            open += value;
        }
    return open / (static_cast<double>(kSteps) * kSteps);
}

}  // namespace

TEST_CASE("reach, cone, fade and skip agree with numerical integration",
          "[tracer][occlusion][truth]") {
    constexpr double kTolerance = 0.005;
    const float height = 6.0F;
    const Scene scene = wallScene(2.0F);
    const Shape shapes[] = {{.reach = 1.5},
                            {.cone = 54.0},
                            {.fade = 1.25},
                            {.skip = 0.9},
                            {.reach = 2.5, .cone = 72.0, .fade = 2.0, .skip = 0.4}};
    for (const Shape& s : shapes) {
        const Image image = fromAbove(
            scene, height,
            {"samples=4096", fmt::format("reach={}", s.reach), fmt::format("cone={}", s.cone),
             fmt::format("fade={}", s.fade), fmt::format("skip={}", s.skip)});
        for (const int y : {24, 28, 34, 44}) {
            const double d = static_cast<double>(worldAt(y, height)) + 1.0;
            // The mean of some pixels at one distance: what is left is the method, not the noise.
            double mean = 0.0;
            for (int x = 20; x < 28; ++x)
                mean += static_cast<double>(image(x, y, 0)) / 8.0;
            CAPTURE(s.reach, s.cone, s.fade, s.skip, d);
            CHECK(mean == Approx(integrated(d, 2.0, s)).margin(kTolerance));
        }
    }
}

TEST_CASE("occlusion is shown only on what is asked for, by everything", "[tracer][occlusion]") {
    const Scene scene = wallScene(2.0F);
    const Image ground = fromAbove(scene, 6.0F, {"samples=32", "on=ground"});
    const Image wall = fromAbove(scene, 6.0F, {"samples=32", "on=wall"});
    CHECK(ground(20, 24, 0) < 0.9F);
    CHECK(wall(20, 30, 0) == 1.0F);  // the ground is not there: background
}

TEST_CASE("a suggested reach is a round part of the middle distance", "[tracer][occlusion]") {
    CHECK(suggestedReach(Image(8, 8, {"Z"}, 12.0F)) == Approx(1.0F));
    CHECK(suggestedReach(Image(8, 8, {"Z"}, 0.36F)) == Approx(0.03F));
    CHECK(suggestedReach(Image(8, 8, {"Z"}, 3000.0F)) == Approx(300.0F));
    CHECK(suggestedReach(Image(8, 8, {"Z"}, kNothingHit)) == 0.0F);
}
