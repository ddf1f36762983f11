#include "core/recipe/mask.h"

#include "core/image/tiles.h"
#include "support/files.h"
#include "support/worse.h"

#include <algorithm>
#include <cmath>
#include <random>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

template <typename Work> Image maskBy(int width, int height, const Work& work) {
    Image mask(width, height, {"Y"});
    float* to = mask.editPlane(0);
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x)
            to[mask.rowStride() * y + x] = work(x, y);
    return mask;
}

/// Scattered grains of all shares.
Image grains(int width, int height, unsigned seed) {
    std::mt19937 random(seed);
    return maskBy(width, height, [&](int, int) {
        const auto drawn = random() % 40;
        return drawn == 0 ? 1.0F : drawn == 1 ? 0.6F : drawn == 2 ? 0.25F : 0.0F;
    });
}

/// The most (or least) within a disc about a pixel, over a border that repeats.
float withinDisc(const Image& mask, int x, int y, int radius, bool least) {
    float found = mask(x, y, 0);
    for (int v = -radius; v <= radius; ++v)
        for (int u = -radius; u <= radius; ++u) {
            if (u * u + v * v > radius * radius)
                continue;
            const float there = mask(std::clamp(x + u, 0, mask.width() - 1),
                                     std::clamp(y + v, 0, mask.height() - 1), 0);
            found = least ? std::min(found, there) : std::max(found, there);
        }
    return found;
}

double sumOf(const Image& mask) {
    double sum = 0.0;
    for (int y = 0; y < mask.height(); ++y)
        for (int x = 0; x < mask.width(); ++x)
            sum += static_cast<double>(mask(x, y, 0));
    return sum;
}

}  // namespace

TEST_CASE("growing takes the most within a disc, shrinking the least", "[where][refinement]") {
    const Image mask = grains(61, 47, 5);
    for (const int radius : {1, 2, 5}) {
        const Image grown = grownAndSoftened(mask, static_cast<float>(radius), 0.0F, {});
        const Image shrunk = grownAndSoftened(grown, static_cast<float>(-radius), 0.0F, {});
        int less = 0;
        for (int y = 0; y < 47; ++y)
            for (int x = 0; x < 61; ++x) {
                // A disc is a little rounder than its pixels: between the two next to it.
                REQUIRE(grown(x, y, 0) >= withinDisc(mask, x, y, radius, false));
                REQUIRE(grown(x, y, 0) <= withinDisc(mask, x, y, radius + 1, false));
                REQUIRE(shrunk(x, y, 0) <= grown(x, y, 0));
                // Grown and shrunk again covers what was covered, and closes gaps alone.
                less += shrunk(x, y, 0) < mask(x, y, 0) ? 1 : 0;
            }
        INFO(radius);
        CHECK(less == 0);
        CHECK(sumOf(grown) > sumOf(mask));
    }
}

TEST_CASE("half a pixel grows half as much as a whole one", "[where][refinement]") {
    const Image half = maskBy(40, 9, [](int x, int) { return x < 20 ? 1.0F : 0.0F; });
    for (const float grow : {0.25F, 0.5F, 1.0F, 2.75F, -0.5F, -3.25F}) {
        INFO(grow);
        const Image grown = grownAndSoftened(half, grow, 0.0F, {});
        CHECK(sumOf(grown) == Approx(9.0 * (20.0 + static_cast<double>(grow))));
    }
}

TEST_CASE("softening is a Gaussian of its sigma, and keeps the whole", "[where][refinement]") {
    const Image step = maskBy(160, 12, [](int x, int) { return x < 80 ? 1.0F : 0.0F; });
    for (const float sigma : {1.0F, 4.0F, 12.0F}) {
        const Image soft = grownAndSoftened(step, 0.0F, sigma, {});
        double worst = 0.0;
        for (int x = 0; x < 160; ++x) {
            const double from = (static_cast<double>(x) + 0.5 - 80.0) /
                                (std::sqrt(2.0) * static_cast<double>(sigma));
            worst = test::worse(
                worst, std::abs(static_cast<double>(soft(x, 6, 0)) - 0.5 * std::erfc(from)));
        }
        INFO(sigma);
        CHECK(worst < 0.012);
        CHECK(sumOf(soft) == Approx(sumOf(step)).epsilon(1e-4));
    }
    const Image even = maskBy(20, 10, [](int, int) { return 0.4F; });
    const Image same = grownAndSoftened(even, 3.0F, 5.0F, {});
    for (int x = 0; x < 20; ++x)
        CHECK(same(x, 4, 0) == Approx(0.4F));
}

TEST_CASE("a refined mask stays within 0 and 1, and is the same bits on any number of threads",
          "[where][refinement][threads]") {
    const Image mask = grains(133, 71, 11);
    std::vector<Image> made;
    for (const int threads : {1, 2, 7}) {
        const ThreadLimit limit(threads);
        made.push_back(grownAndSoftened(mask, 3.5F, 2.5F, {}));
    }
    CHECK(test::sameBits(made[0], made[1]));
    CHECK(test::sameBits(made[0], made[2]));
    float lowest = 1.0F;
    float highest = 0.0F;
    for (int y = 0; y < 71; ++y)
        for (int x = 0; x < 133; ++x) {
            lowest = std::min(lowest, made[0](x, y, 0));
            highest = std::max(highest, made[0](x, y, 0));
        }
    CHECK(lowest >= 0.0F);
    CHECK(highest <= 1.0F + 1e-6F);
    CHECK(test::sameBits(grownAndSoftened(mask, 0.0F, 0.0F, {}), mask));
}
