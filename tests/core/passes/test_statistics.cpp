#include "core/passes/statistics.h"

#include <array>
#include <limits>
#include <numeric>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

const float kNan = std::numeric_limits<float>::quiet_NaN();

}  // namespace

TEST_CASE("statistics leave background and non-finite values out", "[passes][statistics]") {
    const Statistics s = statisticsOf(Image::row({3.0F, kNothingHit, 1.0F, kNan, 2.0F}), 0);
    CHECK(s.minimum == 1.0F);
    CHECK(s.maximum == 3.0F);
    CHECK(s.counted == 3);
    CHECK(s.infinite == 1);
    CHECK(s.notANumber == 1);
    CHECK_FALSE(s.constant());
}

TEST_CASE("a pass without a finite value has no range", "[passes][statistics]") {
    const Statistics s = statisticsOf(Image::row({kNothingHit, kNan}), 0);
    CHECK(s.counted == 0);
    CHECK(s.minimum == 0.0F);
    CHECK_FALSE(s.constant());
    const std::array<float, 1> half{0.5F};
    CHECK(percentilesOf(Image::row({kNan}), 0, half).empty());
}

TEST_CASE("percentiles are exact", "[passes][statistics]") {
    Image image(101, 1, {"Y"});
    for (int i = 0; i <= 100; ++i)
        image.editPlane(0)[i] = static_cast<float>((i * 37) % 101);
    const std::array<float, 4> fractions{0.0F, 0.25F, 0.5F, 1.0F};
    CHECK(percentilesOf(image, 0, fractions) == std::vector<float>{0.0F, 25.0F, 50.0F, 100.0F});
}

TEST_CASE("a histogram counts each finite value in its range once", "[passes][statistics]") {
    const Image image = Image::row({1.0F, 2.0F, 11.0F, 99.0F, kNothingHit, kNan, 1000.0F});
    const auto total = [](const std::vector<float>& bins) {
        return std::accumulate(bins.begin(), bins.end(), 0.0F);
    };
    CHECK(total(histogramOf(image, 0, 10, 0.0F, 100.0F, false)) == 4.0F);
    const std::vector<float> log = histogramOf(image, 0, 2, 1.0F, 100.0F, true);
    CHECK(log[0] == 2.0F);
    CHECK(log[1] == 2.0F);
}
