#include "core/tracer/denoise_row.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <random>
#include <vector>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

constexpr int kWide = 41;
constexpr int kTall = 9;
using Plane = std::vector<float>;

/// A crumpled, coloured wall with a hole in it, and noise on it. aside: columns of nothing put before it.
struct Wall {
    explicit Wall(int before = 0) : aside(before), width(kWide + before) {
        std::mt19937 random(7);
        std::uniform_real_distribution<float> unit(0.0F, 1.0F);
        for (Plane& plane : all)
            plane.assign(static_cast<std::size_t>(width * kTall), 0.0F);
        for (int y = 0; y < kTall; ++y)
            for (int x = 0; x < kWide; ++x) {
                const auto at = static_cast<std::size_t>(y * width + x + before);
                const float tilt = 0.1F * unit(random);
                const bool hole = x > 20 && x < 24 && y > 2;
                all[0][at] = 0.01F * static_cast<float>(x);
                all[1][at] = 0.01F * static_cast<float>(y);
                all[2][at] = 0.004F * unit(random);
                all[3][at] = hole ? 0.0F : tilt;
                all[5][at] = hole ? 0.0F : std::sqrt(1.0F - tilt * tilt);
                all[6][at] = 0.01F;
                all[7][at] = x < 11 ? 0.2F : 0.22F;
                all[10][at] = unit(random);                       // strength
                all[11][at] = hole ? 0.0F : 0.1F + unit(random);  // variance
                all[12][at] = 4.0F + 12.0F * unit(random);        // rays
            }
    }

    [[nodiscard]] GuidePlanes guides(bool coloured) const {
        GuidePlanes planes;
        planes.position = {all[0].data(), all[1].data(), all[2].data()};
        planes.normal = {all[3].data(), all[4].data(), all[5].data()};
        planes.footprint = all[6].data();
        if (coloured)
            planes.albedo = {all[7].data(), all[8].data(), all[9].data()};
        planes.stride = width;
        planes.width = width;
        planes.height = kTall;
        return planes;
    }
    [[nodiscard]] const Plane& strength() const { return all[10]; }
    [[nodiscard]] const Plane& variance() const { return all[11]; }
    [[nodiscard]] const Plane& rays() const { return all[12]; }
    [[nodiscard]] NoisePlanes noise() const { return {strength().data(), variance().data()}; }

    struct Smoothed {
        Plane values;
        Plane variance;
    };
    [[nodiscard]] Smoothed smoothed(int step, bool coloured) const {
        Smoothed out{strength(), Plane(strength().size())};
        SmoothedPlanes planes;
        planes.channels = 1;
        planes.from[0] = strength().data();
        planes.to[0] = out.values.data();
        planes.variance = out.variance.data();
        for (int y = 0; y < kTall; ++y)
            smooth(guides(coloured), noise(), step, planes, y);
        return out;
    }
    [[nodiscard]] Plane noiseMeasured() const {
        Plane out(strength().size());
        for (int y = 0; y < kTall; ++y)
            measureNoise(guides(true), strength().data(), rays().data(), out.data(), y);
        return out;
    }

    int aside;
    int width;
    std::array<Plane, 13> all;
};

/// How much two pixels of a wall show one surface and differ by no more than noise, by its definition.
double alike(const Wall& wall, int a, int b, int step, bool coloured) {
    const auto of = [&](int plane, int at) {
        return static_cast<double>(
            wall.all[static_cast<std::size_t>(plane)][static_cast<std::size_t>(at)]);
    };
    double facing = 0.0;
    double off = 0.0;
    double colours = 0.0;
    for (int c = 0; c < 3; ++c) {
        facing += of(3 + c, a) * of(3 + c, b);
        off += of(3 + c, a) * (of(c, b) - of(c, a));
        colours += std::abs(of(7 + c, a) - of(7 + c, b));
    }
    const double noise = 3.5 * std::sqrt(of(11, a)) + 1e-6;
    const double apart = std::abs(off) / (0.7 * of(6, a) * step + 1e-7) +
                         0.5 * std::pow((of(10, b) - of(10, a)) / noise, 2) +
                         (coloured ? colours / 0.04 : 0.0);
    const double kept = std::pow(std::max(facing, 0.0), 32);
    return kept < 1e-4 || apart > 10.0 ? 0.0 : kept * std::exp(-apart);
}

TEST_CASE("smoothing weighs neighbours by surface, colour and noise", "[tracer][denoise]") {
    const int step = GENERATE(1, 2, 8);
    const bool coloured = GENERATE(true, false);
    const Wall wall;
    const Wall::Smoothed smoothed = wall.smoothed(step, coloured);
    constexpr std::array<double, 3> kSpline{0.375, 0.25, 0.0625};
    for (int y = 0; y < kTall; ++y)
        for (int x = 0; x < kWide; ++x) {
            const int at = y * kWide + x;
            const auto here = static_cast<std::size_t>(at);
            if (wall.all[5][here] == 0.0F) {
                REQUIRE(smoothed.values[here] == wall.strength()[here]);
                REQUIRE(smoothed.variance[here] == 0.0F);
                continue;
            }
            double weight = 0.0;
            double sum = 0.0;
            double spread = 0.0;
            for (int j = -2; j <= 2; ++j)
                for (int i = -2; i <= 2; ++i) {
                    const int u = x + i * step;
                    const int v = y + j * step;
                    if (u < 0 || v < 0 || u >= kWide || v >= kTall)
                        continue;
                    const int other = v * kWide + u;
                    const auto there = static_cast<std::size_t>(other);
                    const double w = kSpline[static_cast<std::size_t>(std::abs(i))] *
                                     kSpline[static_cast<std::size_t>(std::abs(j))] *
                                     alike(wall, at, other, step, coloured);
                    weight += w;
                    sum += w * static_cast<double>(wall.strength()[there]);
                    spread += w * w * static_cast<double>(wall.variance()[there]);
                }
            REQUIRE(smoothed.values[here] == Approx(sum / weight).epsilon(1e-4));
            REQUIRE(smoothed.variance[here] == Approx(spread / (weight * weight)).epsilon(1e-4));
        }
}

TEST_CASE("noise is the variance about a pixel on its surface, and no more than its rays leave",
          "[tracer][denoise]") {
    const Wall wall;
    const Plane measured = wall.noiseMeasured();
    // With noise that hides every difference, what is left of alike() is whether it is one surface.
    Wall quiet;
    quiet.all[11].assign(quiet.all[11].size(), 1e30F);
    int bounded = 0;
    for (int y = 0; y < kTall; ++y)
        for (int x = 0; x < kWide; ++x) {
            const int at = y * kWide + x;
            const auto here = static_cast<std::size_t>(at);
            if (wall.all[5][here] == 0.0F) {
                REQUIRE(measured[here] == 0.0F);
                continue;
            }
            double weight = 0.0;
            double sum = 0.0;
            double squares = 0.0;
            for (int v = std::max(y - 2, 0); v <= std::min(y + 2, kTall - 1); ++v)
                for (int u = std::max(x - 2, 0); u <= std::min(x + 2, kWide - 1); ++u) {
                    const double w = alike(quiet, at, v * kWide + u, 2, true);
                    const auto value = static_cast<double>(
                        wall.strength()[static_cast<std::size_t>(v * kWide + u)]);
                    weight += w;
                    sum += w * value;
                    squares += w * value * value;
                }
            const double mean = sum / weight;
            const auto rays = static_cast<double>(wall.rays()[here]);
            const double most =
                std::max(mean * (1.0 - mean), 0.004) * std::min(1.0, 1.2 / std::sqrt(rays)) / rays;
            const double spread = std::max(0.0, squares / weight - mean * mean);
            bounded += spread > most ? 1 : 0;
            REQUIRE(measured[here] == Approx(std::min(spread, most)).epsilon(1e-3).margin(1e-6));
        }
    CHECK(bounded > 0);
}

TEST_CASE("a pixel is smoothed to the same bits wherever in a row it stands", "[tracer][denoise]") {
    const int aside = GENERATE(1, 5, 16, 19);
    const Wall wall;
    const Wall moved(aside);
    const Wall::Smoothed here = wall.smoothed(2, true);
    const Wall::Smoothed there = moved.smoothed(2, true);
    const Plane noise = wall.noiseMeasured();
    const Plane noiseMoved = moved.noiseMeasured();
    for (int y = 0; y < kTall; ++y)
        for (int x = 0; x < kWide; ++x) {
            const auto a = static_cast<std::size_t>(y * kWide + x);
            const auto b = static_cast<std::size_t>(y * moved.width + x + aside);
            REQUIRE(here.values[a] == there.values[b]);
            REQUIRE(here.variance[a] == there.variance[b]);
            REQUIRE(noise[a] == noiseMoved[b]);
        }
}

}  // namespace
