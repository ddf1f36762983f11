#include "core/image/tiles.h"
#include "core/steps/fog.h"
#include "support/files.h"
#include "support/frames.h"
#include "support/worse.h"

#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

constexpr int kSide = 24;

double densityAt(const FogSettings& s, double height) {
    const auto top = static_cast<double>(s.top);
    if (height < static_cast<double>(s.bottom) || height > top)
        return 0.0;
    double density = static_cast<double>(s.density);
    if (s.byHeight)
        density *=
            std::exp(-(height - static_cast<double>(s.level)) / static_cast<double>(s.scaleHeight));
    if (s.softTop > 0.0F)
        density *= std::min(1.0, (top - height) / static_cast<double>(s.softTop));
    return density;
}

/// What gets through along a pixel's ray, by a fine sum.
double summed(const FogSettings& s, const Camera& camera, int x, int y, double distance) {
    const CameraRay ray =
        cameraRay(camera, static_cast<float>(x) + 0.5F, static_cast<float>(y) + 0.5F, kSide, kSide);
    constexpr int kParts = 60'000;
    double sum = 0.0;
    const double way = distance - static_cast<double>(s.start);
    for (int i = 0; i < kParts; ++i) {
        const double t = static_cast<double>(s.start) + way * (i + 0.5) / kParts;
        sum += densityAt(s, static_cast<double>(ray.origin.y) +
                                t * static_cast<double>(ray.direction.y)) *
               way / kParts;
    }
    return std::exp(-sum);
}

/// What gets through to one distance, in the middle of a view.
double through(const FogSettings& s, const Camera& camera, float distance, double seconds = 0.0) {
    FogSettings black = s;
    black.colour = {};
    return static_cast<double>(applyFog(Image::filled(1, 1, 3, 1.0F), Image::row({distance}),
                                        camera, black, {}, seconds)(0, 0, 0));
}

/// The density at a point, in a short piece of the view towards it.
double localDensity(FogSettings s, const V3f& eye, const V3f& point, double seconds = 0.0) {
    const float away = (point - eye).length();
    s.start = away - 0.01F;
    s.density *= 20.0F;
    const double left = through(s, lookingAt(eye, point, 0.6F), away + 0.01F, seconds);
    return -std::log(left) / 0.02 / 20.0;
}

FogSettings banks() {
    FogSettings s{.start = 0.5F, .density = 0.03F};
    s.banks = true;
    s.bankSize = 4.0F;
    s.bankContrast = 1.0F;
    return s;
}

}  // namespace

TEST_CASE("a layer of fog is the integral between its heights", "[steps][fog][truth]") {
    const Camera level = lookingAt(V3f(0, 3, 0), V3f(0, 3, -10), 0.8F);
    const Camera down = lookingAt(V3f(0, 9, 0), V3f(0, 2, -10), 0.8F);
    const Camera within = lookingAt(V3f(0, 1.4F, 0), V3f(0, 1.6F, -10), 0.5F);
    Camera parallel = lookingAt(V3f(0, 4, 0), V3f(0, 1, -10), 0.8F);
    parallel.orthographicHeight = 9.0F;
    double worst = 0.0;
    for (const Camera& camera : {level, down, within, parallel})
        for (const bool byHeight : {false, true})
            for (const float soft : {0.0F, 0.6F, 2.0F})
                for (const float far : {3.0F, 12.0F, 80.0F}) {
                    const FogSettings fog{.start = 1.0F,
                                          .density = 0.12F,
                                          .colour = {0, 0, 0},
                                          .byHeight = byHeight,
                                          .level = 0.5F,
                                          .scaleHeight = 1.3F,
                                          .bottom = -0.5F,
                                          .top = 2.0F,
                                          .softTop = soft};
                    const Image out = applyFog(Image::filled(kSide, kSide, 3, 1.0F),
                                               Image::filled(kSide, kSide, 1, far), camera, fog);
                    for (const auto& [x, y] : {std::pair(0, 0), std::pair(23, 23), std::pair(12, 8),
                                               std::pair(5, 17), std::pair(11, 11)})
                        worst = test::worse(
                            worst, std::abs(static_cast<double>(out(x, y, 1)) -
                                            summed(fog, camera, x, y, static_cast<double>(far))));
                }
    CHECK(worst < 1e-4);
}

TEST_CASE("fog with open limits is the fog without", "[steps][fog]") {
    const Camera camera = lookingAt(V3f(0, 3, 0), V3f(0, 2, -10), 0.8F);
    for (const bool byHeight : {false, true}) {
        FogSettings open{.start = 1.0F, .density = 0.1F, .byHeight = byHeight, .scaleHeight = 2.0F};
        FogSettings far = open;
        far.bottom = -9e4F;
        far.top = 9e4F;
        const Image colour = Image::filled(kSide, kSide, 3, 0.7F);
        for (const float metres : {5.0F, 40.0F, kNothingHit}) {
            const Image distance = Image::filled(kSide, kSide, 1, metres);
            CHECK(test::mostApart(applyFog(colour, distance, camera, open),
                                  applyFog(colour, distance, camera, far)) < 2e-5);
        }
    }
}

TEST_CASE("a layer towards an endless sky stays finite", "[steps][fog]") {
    const Camera camera = lookingAt(V3f(0, 3, 0), V3f(0, 3, -10), 0.8F);
    const FogSettings fog{
        .start = 0.0F, .density = 0.05F, .colour = {0, 0, 0}, .top = 5.0F, .softTop = 1.0F};
    const Image out =
        applyFog(Image::filled(9, 65, 3, 1.0F), Image::filled(9, 65, 1, kNothingHit), camera, fog);
    CHECK(out(4, 64, 0) == 0.0F);
    CHECK(out(4, 32, 0) == 0.0F);  // level, within the layer
    const CameraRay up = cameraRay(camera, 4.5F, 0.5F, 9, 65);
    CHECK(out(4, 0, 0) ==
          Approx(std::exp(-0.05 * 1.5 / static_cast<double>(up.direction.y))).epsilon(1e-4));
}

TEST_CASE("banks are as thick as the fog without them, in the mean", "[steps][fog][banks]") {
    const FogSettings fog = banks();
    double sum = 0.0;
    double squares = 0.0;
    constexpr int kPlaces = 4000;
    for (int i = 0; i < kPlaces; ++i) {
        const V3f point(static_cast<float>(i % 20) * 7.3F, static_cast<float>(i / 20 % 20) * 6.1F,
                        -20.0F - static_cast<float>(i / 400) * 8.7F);
        const double density =
            localDensity(fog, point + V3f(1.0F, 2.0F, 20.0F), point) / static_cast<double>(0.03F);
        sum += density / kPlaces;
        squares += density * density / kPlaces;
        CHECK(density > -0.01);
        CHECK(density < 2.05);
    }
    CHECK(sum == Approx(1.0).margin(0.03));
    CHECK(std::sqrt(squares - sum * sum) > 0.4);  // and they are banks
}

TEST_CASE("banks stay on their places when the camera moves, and drift with the time",
          "[steps][fog][banks]") {
    FogSettings fog = banks();
    fog.drift = V3f(1.5F, 0.0F, -0.5F);
    for (int i = 0; i < 12; ++i) {
        const V3f point(2.7F * static_cast<float>(i), 0.4F * static_cast<float>(i), -8.0F);
        const double density = localDensity(fog, point + V3f(0, 1, 9), point);
        CHECK(localDensity(fog, point + V3f(-14, 5, 3), point) == Approx(density).margin(6e-4));
        CHECK(localDensity(fog, point + V3f(2, -3, -25), point) == Approx(density).margin(6e-4));
        const V3f moved = point + fog.drift * 2.0F;
        CHECK(localDensity(fog, moved + V3f(0, 1, 9), moved, 2.0) == Approx(density).margin(6e-4));
    }
}

TEST_CASE("banks along a ray are near the sum of its pieces", "[steps][fog][banks][truth]") {
    double squares = 0.0;
    double even = 0.0;
    int rays = 0;
    for (const float size : {2.0F, 6.0F, 20.0F})
        for (int i = 0; i < 12; ++i) {
            FogSettings fog = banks();
            fog.bankSize = size;
            const Camera camera = lookingAt(V3f(static_cast<float>(i), 2, 0),
                                            V3f(static_cast<float>(3 * i - 20), 1, -30), 0.6F);
            const float end = 10.0F + 5.0F * static_cast<float>(i);
            double pieces = 0.0;
            const float piece = 0.1F * size;
            for (float t = fog.start; t < end - 1e-3F; t += piece) {
                FogSettings part = fog;
                part.start = t;
                pieces -= std::log(through(part, camera, std::min(t + piece, end)));
            }
            const double whole = -std::log(through(fog, camera, end));
            FogSettings plain = fog;
            plain.banks = false;
            const double without = -std::log(through(plain, camera, end));
            squares += (whole - pieces) * (whole - pieces) / (without * without);
            even += (without - pieces) * (without - pieces) / (without * without);
            ++rays;
        }
    // Within a few percent of the optical depth, and far nearer than fog without banks.
    CHECK(std::sqrt(squares / rays) < 0.05);
    CHECK(squares < 0.1 * even);
}

TEST_CASE("banks have the same bits on any number of threads", "[steps][fog][banks]") {
    const Camera camera = lookingAt(V3f(0, 3, 0), V3f(0, 2, -10), 0.8F);
    FogSettings fog = banks();
    fog.top = 4.0F;
    fog.softTop = 2.0F;
    const Image colour = test::ramp(67, 40, {"R", "G", "B"});
    const Image distance = test::ramp(67, 40, {"Y"});
    const Image all = applyFog(colour, distance, camera, fog);
    for (const int threads : {1, 2, 7}) {
        const ThreadLimit limit(threads);
        CHECK(test::sameBits(applyFog(colour, distance, camera, fog), all));
    }
}

TEST_CASE("only banks that drift depend on the time", "[steps][fog][banks]") {
    const StepType& fog = stepCatalogue().type("fog");
    REQUIRE(fog.readsTime);
    const auto reads = [&](const char* settings) {
        return fog.readsTime(
            test::recipeOf(R"({"step":"fog","settings":)" + std::string(settings) + "}")
                .steps[0]
                .settings);
    };
    CHECK_FALSE(reads("{}"));
    CHECK_FALSE(reads(R"({"banks":true})"));
    CHECK_FALSE(reads(R"({"drift":[1,0,0]})"));
    CHECK(reads(R"({"banks":true,"drift":[1,0,0]})"));
}
