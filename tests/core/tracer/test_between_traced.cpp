#include "core/tracer/between_traced.h"
#include "core/tracer/ray_packets.h"

#include <catch2/catch.hpp>

#include <cmath>
#include <functional>
#include <limits>

namespace noctis {
namespace {

constexpr int kWide = 23;
constexpr int kTall = 14;
constexpr float kUnknown = -7.0F;
constexpr float kNothing = std::numeric_limits<float>::infinity();
const Tile kWhole{0, 0, kWide, kTall};

using Field = std::function<float(int x, int y)>;

/// A field, unknown where no ray was traced within the area.
Image tracedOf(const Field& field, const Tile& area, int channels) {
    Image image = Image::filled(kWide, kTall, channels, 0.0F);
    for (int c = 0; c < channels; ++c) {
        float* const plane = image.editPlane(c);
        for (int y = 0; y < kTall; ++y)
            for (int x = 0; x < kWide; ++x) {
                const bool within = x >= area.x0 && y >= area.y0 && x < area.x1 && y < area.y1;
                plane[image.rowStride() * y + x] =
                    within && !isTraced(Traced::Second, x, y) ? kUnknown : field(x, y);
            }
    }
    return image;
}

struct Filled {
    Image shown;
    Image depth;
    Filled(const Field& value, const Field& distance, const Tile& area = kWhole, int channels = 3)
        : shown(tracedOf(value, area, channels)), depth(tracedOf(distance, area, 1)) {
        fillBetweenTraced(shown, depth, area, {});
    }
};

TEST_CASE("between traced pixels of one plane, light and depth are the plane's",
          "[tracer][moving]") {
    const Field light = [](int x, int y) {
        return 0.5F + 0.01F * static_cast<float>(x) + 0.02F * static_cast<float>(y);
    };
    const Field depth = [](int x, int y) {
        return 1.0F / (0.1F + 0.002F * static_cast<float>(x) + 0.003F * static_cast<float>(y));
    };
    const Filled filled(light, depth);
    for (int y = 1; y + 1 < kTall; ++y)
        for (int x = 1; x + 1 < kWide; ++x) {
            REQUIRE(filled.shown(x, y, 2) == Approx(light(x, y)).epsilon(1e-5));
            REQUIRE(filled.depth(x, y, 0) == Approx(depth(x, y)).epsilon(1e-5));
        }
}

TEST_CASE("an outline stays one between traced pixels, upright or level", "[tracer][moving]") {
    const bool upright = GENERATE(true, false);
    const auto isNear = [upright](int x, int y) { return (upright ? x : y) < 7; };
    const Field light = [&](int x, int y) { return isNear(x, y) ? 0.1F : 1.0F; };
    const Field depth = [&](int x, int y) { return isNear(x, y) ? 2.0F : kNothing; };
    const Filled filled(light, depth);
    for (int y = 1; y + 1 < kTall; ++y)
        for (int x = 1; x + 1 < kWide; ++x) {
            REQUIRE(filled.shown(x, y, 0) == Approx(light(x, y)).margin(0.01));
            REQUIRE(filled.depth(x, y, 0) == depth(x, y));
        }
}

TEST_CASE("a line one pixel wide stays whole between traced pixels", "[tracer][moving]") {
    const bool upright = GENERATE(true, false);
    const bool dark = GENERATE(true, false);
    const auto onLine = [upright](int x, int y) { return (upright ? x : y) == 7; };
    const Field light = [&](int x, int y) { return onLine(x, y) == dark ? 0.1F : 1.0F; };
    const Filled filled(light, [](int, int) { return 5.0F; });
    for (int y = 2; y + 2 < kTall; ++y)
        for (int x = 2; x + 2 < kWide; ++x)
            REQUIRE(filled.shown(x, y, 0) == Approx(light(x, y)).margin(0.12));
}

TEST_CASE("an outline that only depth shows stays one in depth", "[tracer][moving]") {
    const Field depth = [](int x, int) { return x < 7 ? 2.0F : 40.0F; };
    const Filled filled([](int, int) { return 0.25F; }, depth, kWhole, 1);
    for (int y = 1; y + 1 < kTall; ++y)
        for (int x = 0; x < kWide; ++x) {
            REQUIRE(filled.shown(x, y, 0) == Approx(0.25F));
            REQUIRE(filled.depth(x, y, 0) == depth(x, y));
        }
}

TEST_CASE("every pixel of an area is filled, and none beside it", "[tracer][moving]") {
    const Tile area = GENERATE(Tile{0, 0, kWide, kTall}, Tile{3, 5, 20, 11}, Tile{4, 2, 5, 9},
                               Tile{2, 6, 9, 7}, Tile{1, 2, 3, 3});
    const Field light = [&](int x, int y) {
        const bool within = x >= area.x0 && y >= area.y0 && x < area.x1 && y < area.y1;
        return within ? 0.5F : 100.0F;
    };
    const Filled filled(
        light, [](int, int) { return 3.0F; }, area);
    for (int y = 0; y < kTall; ++y)
        for (int x = 0; x < kWide; ++x) {
            REQUIRE(filled.shown(x, y, 1) == Approx(light(x, y)));
            REQUIRE(filled.depth(x, y, 0) == 3.0F);
        }
}

}  // namespace
}  // namespace noctis
