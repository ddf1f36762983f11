#include "core/relief/field_filters.h"

#include "support/fields.h"
#include "support/worse.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include <catch2/catch.hpp>

using namespace noctis;
using test::filledBy;

namespace {

const float kHole = std::numeric_limits<float>::quiet_NaN();

/// A slope with a round hole in it, and one at a corner.
Image holed(int width, int height) {
    return filledBy(width, height, [=](int x, int y) {
        const float dx = static_cast<float>(x) - 0.5F * static_cast<float>(width);
        const float dy = static_cast<float>(y) - 0.5F * static_cast<float>(height);
        if (dx * dx + dy * dy < 36.0F || (x < 3 && y < 2))
            return kHole;
        return 0.01F * static_cast<float>(x) - 0.02F * static_cast<float>(y);
    });
}

int holesOf(const Image& heights) {
    int holes = 0;
    for (int y = 0; y < heights.height(); ++y)
        for (int x = 0; x < heights.width(); ++x)
            holes += std::isfinite(heights(x, y, 0)) ? 0 : 1;
    return holes;
}

}  // namespace

TEST_CASE("a mean over squares counts known heights alone, and leaves holes holes",
          "[relief][filters]") {
    const Image heights = holed(41, 33);
    for (const int radius : {1, 4, 10}) {
        const Image mean = boxMean(heights, radius);
        double worst = 0.0;
        for (int y = radius; y < 33 - radius; ++y)
            for (int x = radius; x < 41 - radius; ++x) {
                if (!std::isfinite(heights(x, y, 0))) {
                    REQUIRE_FALSE(std::isfinite(mean(x, y, 0)));
                    continue;
                }
                double sum = 0.0;
                int count = 0;
                for (int v = y - radius; v <= y + radius; ++v)
                    for (int u = x - radius; u <= x + radius; ++u)
                        if (const float h = heights(u, v, 0); std::isfinite(h)) {
                            sum += static_cast<double>(h);
                            ++count;
                        }
                worst =
                    test::worse(worst, std::abs(static_cast<double>(mean(x, y, 0)) - sum / count));
            }
        INFO(radius);
        CHECK(worst < 2e-6);
    }
}

TEST_CASE("half a form's height is left at the wavelength, all of longer ones",
          "[relief][filters]") {
    const auto left = [](float formCells, float wavelengthCells) {
        const Image waves = filledBy(512, 16, [=](int x, int) {
            return std::sin(test::Waves::turn() * static_cast<float>(x) / formCells);
        });
        const Image smooth = withoutShortForms(waves, wavelengthCells);
        float most = 0.0F;
        for (int x = 128; x < 384; ++x)
            most = std::max(most, std::abs(smooth(x, 8, 0)));
        return most;
    };
    for (const float wavelength : {12.0F, 32.0F, 64.0F}) {
        INFO(wavelength);
        CHECK(left(wavelength, wavelength) == Approx(0.5F).margin(0.03));
        CHECK(left(4.0F * wavelength, wavelength) > 0.93F);
        CHECK(left(0.5F * wavelength, wavelength) < 0.1F);
    }
}

TEST_CASE("holes of a slope are filled with the slope, and known heights stay",
          "[relief][filters]") {
    const Image heights = holed(64, 48);
    const Image whole = withoutHoles(heights);
    REQUIRE(holesOf(heights) > 100);
    REQUIRE(holesOf(whole) == 0);
    float worst = 0.0F;
    for (int y = 0; y < 48; ++y)
        for (int x = 0; x < 64; ++x) {
            if (std::isfinite(heights(x, y, 0))) {
                REQUIRE(whole(x, y, 0) == heights(x, y, 0));
                continue;
            }
            if (x < 3 && y < 2)
                continue;  // at the border it runs level
            const float slope = 0.01F * static_cast<float>(x) - 0.02F * static_cast<float>(y);
            worst = test::worse(worst, std::abs(whole(x, y, 0) - slope));
        }
    CHECK(worst < 0.004F);
    const Image unknown = filledBy(9, 7, [](int, int) { return kHole; });
    CHECK(holesOf(withoutHoles(unknown)) == 63);
}

TEST_CASE("a quick patch takes a height that is known near by", "[relief][filters]") {
    const Image heights = holed(64, 48);
    const Image patched = patchedHoles(heights);
    REQUIRE(holesOf(patched) == 0);
    float lowest = 1e9F;
    float highest = -1e9F;
    for (int y = 0; y < 48; ++y)
        for (int x = 0; x < 64; ++x)
            if (const float h = heights(x, y, 0); std::isfinite(h)) {
                REQUIRE(patched(x, y, 0) == h);
                lowest = std::min(lowest, h);
                highest = std::max(highest, h);
            }
    for (int y = 0; y < 48; ++y)
        for (int x = 0; x < 64; ++x)
            REQUIRE((patched(x, y, 0) >= lowest && patched(x, y, 0) <= highest));
    const Image back = withHolesOf(patched, heights);
    CHECK(holesOf(back) == holesOf(heights));
}
