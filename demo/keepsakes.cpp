#include "keepsakes.h"

#include "gltf_writer.h"

#include <algorithm>
#include <cmath>

namespace demo {

namespace {

void addStage(GltfWriter& w) {
    w.sun("window", V3f(0.6F, 0.8F, 0.5F), {2.2F, 2.05F, 1.8F}, 6.0F);
    w.extras("sky", {{"zenith_r", 0.30F},
                     {"zenith_g", 0.34F},
                     {"zenith_b", 0.38F},
                     {"horizon_r", 0.55F},
                     {"horizon_g", 0.54F},
                     {"horizon_b", 0.50F},
                     {"ground_r", 0.10F},
                     {"ground_g", 0.10F},
                     {"ground_b", 0.10F}});
}

/// A smooth way through points (Catmull and Rom 1974).
std::vector<V3f> through(const std::vector<V3f>& points, int steps) {
    std::vector<V3f> way;
    const auto at = [&](int i) {
        return points[static_cast<std::size_t>(
            std::clamp(i, 0, static_cast<int>(points.size()) - 1))];
    };
    for (int i = 0; i + 1 < static_cast<int>(points.size()); ++i)
        for (int s = 0; s < steps; ++s) {
            const float t = static_cast<float>(s) / static_cast<float>(steps);
            const V3f a = at(i - 1);
            const V3f b = at(i);
            const V3f c = at(i + 1);
            const V3f d = at(i + 2);
            way.push_back((b * 2.0F + (c - a) * t + (a * 2.0F - b * 5.0F + c * 4.0F - d) * (t * t) +
                           (b * 3.0F - a - c * 3.0F + d) * (t * t * t)) *
                          0.5F);
        }
    way.push_back(points.back());
    return way;
}

float swell(float t, float from, float middle, float to) {
    return from + (to - from) * t + (middle - 0.5F * (from + to)) * std::sin(3.14159265F * t);
}

Shape wing(float side) {
    // A folded wing: long feathers that overlap, lying along the body.
    Shape feathers;
    for (int i = 0; i < 9; ++i) {
        const float f = static_cast<float>(i) / 8.0F;
        Shape feather = ball(4, [](const V3f&) { return 1.0F; });
        feathers.add(feather,
                     placed(V3f(0.0F, 0.02F - 0.05F * f, side * (0.085F + 0.01F * f)), 0.0F, 0.0F,
                            -0.32F - 0.10F * f, V3f(0.25F - 0.05F * f, 0.034F, 0.016F)));
    }
    return feathers;
}

}  // namespace

void writeHeron(const std::filesystem::path& folder) {
    GltfWriter w;
    const int brass = w.paint({"brass", {0.72F, 0.50F, 0.22F}, 0.30F, 1.0F});
    const int base = w.paint({"slate base", {0.10F, 0.105F, 0.11F}, 0.5F});
    w.object(
        "slate base",
        lathe({{0.0F, 0.0F}, {0.20F, 0.0F}, {0.21F, 0.015F}, {0.19F, 0.05F}, {0.0F, 0.055F}}, 48),
        base);
    Shape body = ball(5, [](const V3f& d) { return 1.0F + 0.18F * d.x - 0.08F * d.y * d.y; });
    Shape heron;
    heron.add(body, placed(V3f(0.0F, 0.62F, 0.0F), 0.0F, 0.0F, -0.35F, V3f(0.21F, 0.115F, 0.095F)));
    for (const float side : {-1.0F, 1.0F})
        heron.add(wing(side), placed(V3f(-0.03F, 0.63F, 0.0F)));
    heron.add(tube(
        through({{0.15F, 0.70F, 0},
                 {0.25F, 0.80F, 0},
                 {0.21F, 0.95F, 0},
                 {0.12F, 1.06F, 0},
                 {0.17F, 1.18F, 0},
                 {0.25F, 1.20F, 0}},
                10),
        [](float t) { return swell(t, 0.055F, 0.024F, 0.034F); }, 20));
    heron.add(ball(4, [](const V3f& d) { return 1.0F + 0.25F * std::max(d.x, 0.0F); }),
              placed(V3f(0.265F, 1.20F, 0.0F), 0.0F, 0.0F, 0.0F, V3f(0.05F, 0.036F, 0.032F)));
    heron.add(tube(
        through({{0.30F, 1.205F, 0}, {0.40F, 1.19F, 0}, {0.50F, 1.165F, 0}}, 8),
        [](float t) { return 0.017F * (1.0F - t) + 0.001F; }, 14));
    heron.add(tube(
        through({{0.24F, 1.23F, 0}, {0.15F, 1.245F, 0.005F}, {0.06F, 1.215F, 0.01F}}, 8),
        [](float t) { return 0.008F * (1.0F - t) + 0.001F; }, 10));
    heron.add(tube(
        through({{-0.06F, 0.60F, 0}, {-0.24F, 0.52F, 0}, {-0.35F, 0.45F, 0}}, 8),
        [](float t) { return swell(t, 0.05F, 0.05F, 0.012F); }, 18));
    // One leg stands, the other is drawn up.
    heron.add(tube(
        through({{0.02F, 0.54F, 0.03F}, {-0.01F, 0.32F, 0.03F}, {0.02F, 0.055F, 0.02F}}, 10),
        [](float t) { return swell(t, 0.026F, 0.008F, 0.011F); }, 14));
    heron.add(tube(
        through({{0.05F, 0.55F, -0.03F}, {0.12F, 0.42F, -0.035F}, {0.02F, 0.36F, -0.03F}}, 10),
        [](float t) { return swell(t, 0.026F, 0.010F, 0.008F); }, 14));
    for (const float turn : {-0.5F, 0.0F, 0.5F, 3.1F})
        heron.add(tube(
            {{0.02F, 0.06F, 0.02F},
             {0.02F + 0.09F * std::cos(turn), 0.058F, 0.02F + 0.09F * std::sin(turn)}},
            [](float t) { return 0.010F * (1.0F - 0.7F * t); }, 10));
    w.object("brass heron", heron, brass);
    w.view("heron", V3f(1.1F, 1.1F, 2.0F), V3f(0.05F, 0.65F, 0.0F), 36.0F);
    addStage(w);
    w.write(folder, "brass_heron");
}

void writeTideStone(const std::filesystem::path& folder) {
    GltfWriter w;
    const int stone = w.paint({"tide stone", {0.34F, 0.33F, 0.31F}, 0.85F});
    // Carved 14 mm deep at most, over 0.6 m by 0.8 m.
    Shape face = sheet(560, 720, [](float u, float v) {
        const float x = (u - 0.5F) * 0.6F;
        const float z = (v - 0.5F) * 0.8F;
        const float rim = std::min({u, 1.0F - u, v, 1.0F - v});
        float height = 0.004F * fractal(V3f(x * 9.0F, 0.0F, z * 9.0F), 4);
        const auto carve = [&](float distance, float width, float depth) {
            const float t = std::clamp(1.0F - std::abs(distance) / width, 0.0F, 1.0F);
            height -= depth * t * t * (3.0F - 2.0F * t);
        };
        for (int wave = 0; wave < 3; ++wave) {
            const float line = 0.10F + 0.075F * static_cast<float>(wave) +
                               0.018F * std::sin(x * 42.0F + static_cast<float>(wave) * 1.7F);
            carve(z - line, 0.012F, 0.010F);
        }
        carve(std::hypot(x, z + 0.17F) - 0.11F, 0.010F, 0.012F);  // the moon
        carve(std::hypot(x - 0.045F, z + 0.17F) - 0.10F, 0.008F, 0.007F);
        for (int mark = 0; mark < 11; ++mark) {
            const float across = -0.25F + 0.05F * static_cast<float>(mark);
            if (z > 0.31F && z < (mark % 5 == 0 ? 0.37F : 0.345F))
                carve(x - across, 0.006F, 0.008F);
        }
        height -= 0.03F * std::pow(std::clamp(1.0F - rim / 0.03F, 0.0F, 1.0F), 2.0F);
        return V3f(x, 0.05F + height, z);
    });
    w.object("tide stone", face, stone);
    w.object("tide stone body", box(V3f(0.59F, 0.035F, 0.79F), 0.01F), stone);
    w.viewFromAbove("from above", V3f(0.0F, 0.0F, 0.0F), 0.9F, 1.0F);
    w.view("stone", V3f(0.35F, 0.6F, 0.75F), V3f(0.0F, 0.03F, 0.0F), 40.0F);
    addStage(w);
    w.write(folder, "tide_stone");
}

}  // namespace demo
