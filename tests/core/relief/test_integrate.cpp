#include "core/image/error.h"
#include "core/image/tiles.h"
#include "core/relief/integrate.h"
#include "support/fields.h"

#include <catch2/catch.hpp>

using namespace noctis;
using namespace noctis::test;

namespace {

IntegrationSettings cells(FieldEdges edges = FieldEdges::Free) {
    IntegrationSettings settings;
    settings.edges = edges;
    settings.metresPerPixel = Waves::kCell;
    return settings;
}

}  // namespace

TEST_CASE("a grid's equations are solved to float's rounding, of any size", "[relief][poisson]") {
    for (const auto& [w, h] :
         {std::pair{64, 48}, {63, 48}, {64, 37}, {5, 1}, {1, 9}, {1, 1}, {2, 3}})
        for (const FieldEdges edges : {FieldEdges::Free, FieldEdges::Periodic}) {
            const auto at = [w = w](int x, int y) {
                return static_cast<std::size_t>(y) * static_cast<std::size_t>(w) +
                       static_cast<std::size_t>(x);
            };
            std::vector<float> z;
            double mean = 0.0;
            for (int y = 0; y < h; ++y)
                for (int x = 0; x < w; ++x) {
                    z.push_back(
                        std::sin(0.7F * static_cast<float>(x * x) + 1.3F * static_cast<float>(y)));
                    mean += static_cast<double>(z.back()) / (w * h);
                }
            for (float& value : z)
                value -= static_cast<float>(mean);
            const bool periodic = edges == FieldEdges::Periodic;
            std::vector<float> f(z.size());
            for (int y = 0; y < h; ++y)
                for (int x = 0; x < w; ++x) {
                    float sum = 0.0F;
                    const auto add = [&](int u, int v) {
                        if (periodic)
                            sum += z[at(x, y)] - z[at((u + w) % w, (v + h) % h)];
                        else if (u >= 0 && v >= 0 && u < w && v < h)
                            sum += z[at(x, y)] - z[at(u, v)];
                    };
                    add(x - 1, y);
                    add(x + 1, y);
                    add(x, y - 1);
                    add(x, y + 1);
                    f[at(x, y)] = sum;
                }
            PoissonSolver(w, h, edges).solve(f, 0.0F);
            float most = 0.0F;
            for (std::size_t i = 0; i < z.size(); ++i)
                most = std::max(most, std::abs(f[i] - z[i]));
            INFO(w << " x " << h << (periodic ? " periodic" : " free"));
            CHECK(most < 2e-5F);
        }
}

TEST_CASE("exact slopes give the surface within a thousandth of its range", "[relief][integrate]") {
    for (const float wavelength : {12.0F, 24.0F, 80.0F}) {
        Waves waves;
        waves.acrossCells = wavelength;
        waves.downCells = wavelength * 1.3F;
        const Image truth = heightsBy(waves, 250, 187);
        const Image found = heightsFromSlopes(slopesBy(waves, 250, 187), cells());
        INFO("waves of " << wavelength << " cells");
        CHECK(apart(found, truth) < 1e-3 * 2.0 * static_cast<double>(waves.high));
    }
}

TEST_CASE("repeating edges meet, and give the surface as well", "[relief][integrate]") {
    Waves waves;
    waves.acrossCells = 32.0F;
    waves.downCells = 24.0F;
    const Image truth = heightsBy(waves, 128, 96);
    const Image found = heightsFromSlopes(slopesBy(waves, 128, 96), cells(FieldEdges::Periodic));
    CHECK(apart(found, truth) < 1e-3 * 2.0 * static_cast<double>(waves.high));
}

TEST_CASE("a torn surface with a hole is right on each side", "[relief][integrate]") {
    // The right half stands 5 cm higher, behind a wavy step; a tenth of the area is not known.
    const Waves waves;
    const int w = 240;
    const int h = 200;
    Slopes slopes = slopesBy(waves, w, h);
    const auto isRight = [](int x, int y) {
        return static_cast<float>(x) > 120.0F + 20.0F * std::sin(static_cast<float>(y) * 0.05F);
    };
    const auto isHole = [](int x, int y) { return x > 30 && x < 90 && y > 60 && y < 140; };
    slopes.tornRight = filledBy(w, h, [&](int x, int y) {
        return x + 1 < w && isRight(x, y) != isRight(x + 1, y) ? 1.0F : 0.0F;
    });
    slopes.tornBelow = filledBy(w, h, [&](int x, int y) {
        return y + 1 < h && isRight(x, y) != isRight(x, y + 1) ? 1.0F : 0.0F;
    });
    float* right = slopes.right.editPlane(0);
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x)
            if (isHole(x, y))
                right[slopes.right.rowStride() * y + x] = std::numeric_limits<float>::quiet_NaN();

    const Image found = heightsFromSlopes(slopes, cells());

    const Image truth = heightsBy(waves, w, h);
    const double range = 2.0 * static_cast<double>(waves.high);
    CHECK(apart(found, truth, isRight) < 5e-3 * range);
    CHECK(apart(found, truth, [&](int x, int y) {
              return !isRight(x, y) && !std::isnan(found(x, y, 0));
          }) < 5e-3 * range);
    CHECK(std::isnan(found(60, 100, 0)));
    CHECK(std::isfinite(found(20, 100, 0)));
}

TEST_CASE("an anchor gives large forms and slopes the fine ones", "[relief][integrate]") {
    Waves fine;
    fine.acrossCells = 12.0F;
    fine.downCells = 12.0F;
    fine.high = 0.002F;
    Waves large;
    large.acrossCells = 400.0F;
    large.downCells = 400.0F;
    large.high = 0.05F;
    const int w = 256;
    const Image anchor = heightsBy(large, w, w);
    IntegrationSettings settings = cells();
    settings.anchor = anchor;
    settings.anchorWavelength = 60.0F * Waves::kCell;
    const Image found = heightsFromSlopes(slopesBy(fine, w, w), settings);
    Image wanted = heightsBy(fine, w, w);
    float* to = wanted.editPlane(0);
    for (int y = 0; y < w; ++y)
        for (int x = 0; x < w; ++x)
            to[wanted.rowStride() * y + x] += anchor(x, y, 0);
    // Slopes say that there is no large form, and have a little weight there.
    CHECK(apart(found, wanted) < 0.05 * 0.1);
}

TEST_CASE("summed heights are the same bits on any number of threads", "[relief][integrate]") {
    const Waves waves;
    Slopes slopes = slopesBy(waves, 90, 71);
    slopes.right.editPlane(0)[20] = std::numeric_limits<float>::quiet_NaN();
    const Image all = heightsFromSlopes(slopes, cells());
    for (const int threads : {1, 2}) {
        const ThreadLimit limit(threads);
        const Image some = heightsFromSlopes(slopes, cells());
        bool same = true;
        for (int y = 0; y < all.height(); ++y)
            same &= std::memcmp(all.row(0, y), some.row(0, y),
                                static_cast<std::size_t>(all.width()) * sizeof(float)) == 0;
        CHECK(same);
    }
}

TEST_CASE("slopes that are all unknown are refused in a sentence", "[relief][integrate]") {
    Slopes slopes = slopesBy(Waves{}, 8, 8);
    slopes.right = filledBy(8, 8, [](int, int) { return std::numeric_limits<float>::quiet_NaN(); });
    CHECK_THROWS_WITH(heightsFromSlopes(slopes, cells()), Catch::Contains("no slope is known"));
}

TEST_CASE("one cell, a line and a column are integrated", "[relief][integrate]") {
    for (const auto& [w, h] : {std::pair{1, 1}, {200, 1}, {1, 200}, {2, 2}}) {
        Waves waves;
        waves.downCells = 40.0F;
        const Image truth = heightsBy(waves, w, h);
        const Image found = heightsFromSlopes(slopesBy(waves, w, h), cells());
        INFO(w << " x " << h);
        CHECK(apart(found, truth) < 5e-3 * 2.0 * static_cast<double>(waves.high));
    }
}
