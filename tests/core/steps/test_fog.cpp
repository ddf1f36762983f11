#include "core/steps/fog.h"

#include "core/image/error.h"
#include "core/image/tiles.h"
#include "support/files.h"
#include "support/frames.h"
#include "support/worse.h"

#include <cmath>
#include <limits>

#include <catch2/catch.hpp>

using namespace noctis;
using test::sameBits;

namespace {

const Camera kCamera = lookingAt(V3f(0, 3, 0), V3f(0, 2, -10), 0.8F);

/// The optical depth along a ray, by a fine sum over it.
double summedDepth(const FogSettings& s, const V3f& origin, const V3f& direction, double distance) {
    constexpr int kParts = 200'000;
    double sum = 0.0;
    const double way = distance - static_cast<double>(s.start);
    for (int i = 0; i < kParts; ++i) {
        const double t = static_cast<double>(s.start) + way * (i + 0.5) / kParts;
        const double y = static_cast<double>(origin.y) + t * static_cast<double>(direction.y);
        sum += static_cast<double>(s.density) *
               std::exp(-(y - static_cast<double>(s.level)) / static_cast<double>(s.scaleHeight)) *
               way / kParts;
    }
    return sum;
}

}  // namespace

TEST_CASE("fog dims by the Beer-Lambert law", "[steps][fog][truth]") {
    const Image white = Image::filled(5, 1, 3, 1.0F);
    const Image distance = Image::row({0.0F, 5.0F, 15.0F, 25.0F, kNothingHit});
    const FogSettings black{.start = 5.0F, .density = 0.1F, .colour = {0.0F, 0.0F, 0.0F}};

    const Image out = applyFog(white, distance, kCamera, black);

    CHECK(out(0, 0, 0) == 1.0F);
    CHECK(out(1, 0, 0) == 1.0F);                                            // at start: untouched
    CHECK(out(2, 0, 0) == Approx(std::exp(-1.0F)).epsilon(kFogTolerance));  // 10 m of fog
    CHECK(out(3, 0, 0) == Approx(std::exp(-2.0F)).epsilon(kFogTolerance));
    CHECK(out(4, 0, 0) == 0.0F);  // nothing hit: pure colour
}

TEST_CASE("fog blends towards its own colour", "[steps][fog]") {
    const FogSettings fog{.start = 0.0F, .density = 0.05F, .colour = {0.2F, 0.4F, 0.8F}};
    const Image out = applyFog(Image::filled(1, 1, 3, 2.0F), Image::row({20.0F}), kCamera, fog);
    const float t = std::exp(-1.0F);
    CHECK(out(0, 0, 0) == Approx(2.0F * t + 0.2F * (1.0F - t)).epsilon(1e-5));
    CHECK(out(0, 0, 2) == Approx(2.0F * t + 0.8F * (1.0F - t)).epsilon(1e-5));
}

TEST_CASE("visibility is where contrast has fallen to 5 %", "[steps][fog]") {
    CHECK(fogTransmittance(4.0F + 3.0F / 0.02F, FogSettings{}) == Approx(0.05F).epsilon(0.01));
}

TEST_CASE("height fog is the integral along every ray", "[steps][fog][truth]") {
    constexpr int kSide = 24;
    FogSettings fog{.start = 2.0F,
                    .density = 0.08F,
                    .colour = {0, 0, 0},
                    .byHeight = true,
                    .level = 0.5F,
                    .scaleHeight = 1.7F};
    for (const float far : {2.5F, 9.0F, 60.0F}) {
        const Image out = applyFog(Image::filled(kSide, kSide, 3, 1.0F),
                                   Image::filled(kSide, kSide, 1, far), kCamera, fog);
        for (const auto& [x, y] : {std::pair(0, 0), std::pair(23, 23), std::pair(12, 8),
                                   std::pair(5, 17), std::pair(11, 11)}) {
            const CameraRay ray = cameraRay(kCamera, static_cast<float>(x) + 0.5F,
                                            static_cast<float>(y) + 0.5F, kSide, kSide);
            const double truth =
                std::exp(-summedDepth(fog, ray.origin, ray.direction, static_cast<double>(far)));
            CHECK(out(x, y, 1) == Approx(truth).epsilon(1e-4).margin(1e-6));
        }
    }
}

TEST_CASE("height fog towards an endless sky stays finite, and thins upwards", "[steps][fog]") {
    const FogSettings fog{.start = 0.0F,
                          .density = 0.05F,
                          .colour = {0, 0, 0},
                          .byHeight = true,
                          .level = 0.0F,
                          .scaleHeight = 3.0F};
    const Image out =
        applyFog(Image::filled(9, 65, 3, 1.0F), Image::filled(9, 65, 1, kNothingHit), kCamera, fog);
    CHECK(out(4, 64, 0) == 0.0F);  // looking down there is no end of it
    const CameraRay up = cameraRay(kCamera, 4.5F, 0.5F, 9, 65);
    const double truth =
        std::exp(-0.05 * std::exp(-1.0) * 3.0 / static_cast<double>(up.direction.y));
    CHECK(out(4, 0, 0) == Approx(truth).epsilon(1e-3));
}

TEST_CASE("a sky at a distance lets the moon through", "[steps][fog]") {
    FogSettings fog{.start = 0.0F,
                    .density = 0.002F,
                    .colour = {0, 0, 0},
                    .byHeight = false,
                    .level = 0,
                    .scaleHeight = 1,
                    .skyDistance = 500.0F};
    CHECK(applyFog(Image::filled(1, 1, 3, 1.0F), Image::row({kNothingHit}), kCamera,
                   fog)(0, 0, 0) == Approx(std::exp(-1.0F)).epsilon(1e-5));
}

TEST_CASE("no density leaves every bit as it was", "[steps][fog]") {
    const Image colour = test::ramp(19, 3, {"R", "G", "B"});
    CHECK(
        sameBits(applyFog(colour, Image::filled(19, 3, 1, kNothingHit), kCamera, {.density = 0.0F}),
                 colour));
}

TEST_CASE("a recipe's fog of no density hides nothing, not even the sky", "[steps][fog]") {
    PassSet set = test::greyFrame(4, 1, 0.5F);
    set.put(test::passOf({PassKind::Distance, {}}, 4, 1,
                         [](int x, int, int) { return x < 2 ? 50.0F : kNothingHit; }));
    for (const char* more : {"", R"(,"by_height":true)"}) {
        const Image out = test::finished(
            set, test::recipeOf(R"({"step":"fog","settings":{"density":0,"colour":[9,9,9])" +
                                std::string(more) + "}}"));
        for (int x = 0; x < 4; ++x)
            CHECK(out(x, 0, 0) == 0.5F);
    }
}

TEST_CASE("fog is as exact as the exponential itself, from clear to nothing left",
          "[steps][fog][truth]") {
    PassSet set = test::greyFrame(4000, 1, 1.0F);
    set.put(test::passOf({PassKind::Distance, {}}, 4000, 1,
                         [](int x, int, int) { return 0.025F * static_cast<float>(x); }));
    const Image out = test::finished(
        set, test::recipeOf(
                 R"({"step":"fog","settings":{"density":1,"start":0,"sky":0,"colour":[0,0,0]}})"));
    double worst = 0.0;
    for (int x = 0; x < 3400; ++x) {
        const double wanted = std::exp(-static_cast<double>(0.025F * static_cast<float>(x)));
        worst = test::worse(worst, std::abs(static_cast<double>(out(x, 0, 0)) / wanted - 1.0));
    }
    CHECK(worst < 4e-7);
    CHECK(out(3999, 0, 0) == 0.0F);
}

TEST_CASE("a distance that is no number keeps its pixel", "[steps][fog]") {
    const Image out =
        applyFog(Image::filled(2, 1, 3, 0.7F),
                 Image::row({std::numeric_limits<float>::quiet_NaN(), 50.0F}), kCamera, {});
    CHECK(out(0, 0, 0) == 0.7F);
    CHECK(out(1, 0, 0) < 0.7F);
}

TEST_CASE("fog is the same bits for any thread count and any row length", "[steps][fog][threads]") {
    const Image colour = test::ramp(203, 67, {"R", "G", "B"});
    const Image distance = test::ramp(203, 67, {"Y"});
    const FogSettings fog{.byHeight = true};
    const ThreadLimit single(1);
    const Image one = applyFog(colour, distance, kCamera, fog);
    for (const int threads : {2, 7}) {
        const ThreadLimit limit(threads);
        CHECK(sameBits(applyFog(colour, distance, kCamera, fog), one));
    }
    CHECK_THROWS_AS(applyFog(colour, Image::filled(3, 3, 1, 1.0F), kCamera, fog), Error);
}
