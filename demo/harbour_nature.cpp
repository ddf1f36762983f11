#include "harbour.h"

#include <algorithm>
#include <cmath>
#include <string>

namespace demo {

namespace {

constexpr float kPi = 3.14159265F;

/// Ripples of several lengths; shorter ones die out with distance, where the grid can't hold them.
float waterHeight(float x, float z, float cell) {
    float height = 0.0F;
    for (int i = 0; i < 14; ++i) {
        const float length = 0.34F * std::pow(1.42F, static_cast<float>(i));
        if (length < cell * 2.2F)
            continue;
        const float turn = 0.55F + 1.9F * (random(i, 41) - 0.5F);
        const float amplitude = 0.0052F * std::pow(length, 0.62F);
        const float phase = random(i, 42) * 2.0F * kPi;
        const float warp =
            1.3F * noise(V3f(x / length * 0.31F, static_cast<float>(i), z / length * 0.31F));
        height +=
            amplitude * std::sin(2.0F * kPi / length * (x * std::sin(turn) + z * std::cos(turn)) +
                                 phase + warp);
    }
    return height;
}

void addWater(GltfWriter& w, const Paints& p) {
    // Rows lie closer near the camera, as it sees them.
    const auto rowZ = [](float v) { return 12.0F - 3.0F * (std::exp(v * 6.7F) - 1.0F); };
    constexpr int kRows = 280;
    Shape shape = sheet(170, kRows, [&](float u, float v) {
        const float z = rowZ(v);
        const float cell = rowZ(v - 1.0F / kRows) - z;
        const float half = 16.0F + 0.85F * std::abs(z - 12.0F);
        const float x = (u * 2.0F - 1.0F) * half;
        return V3f(x, waterHeight(x, z, std::max(cell, half * 2.0F / 170.0F)), z);
    });
    w.object("water", shape, p.water);
}

Shape reedClump(int seed) {
    Shape clump;
    for (int i = 0; i < 26; ++i) {
        const float height = 1.0F + 1.1F * random(seed, i, 1);
        const float lean = 0.10F + 0.55F * random(seed, i, 2) * random(seed, i, 2);
        const float turn = 2.0F * kPi * random(seed, i, 3);
        const V3f foot(0.55F * (random(seed, i, 4) - 0.5F), -0.3F,
                       0.55F * (random(seed, i, 5) - 0.5F));
        const V3f side(std::cos(turn), 0.0F, std::sin(turn));
        const V3f across(-side.z, 0.0F, side.x);
        const float wide = 0.008F + 0.010F * random(seed, i, 6);
        Shape blade = sheet(1, 12, [&](float u, float v) {
            const float droop = std::max(0.0F, v - 0.55F);
            const V3f middle = foot + V3f(0, height * (v - 0.5F * droop * droop * 2.2F), 0) +
                               side * (lean * v * v * height);
            return middle + across * ((u - 0.5F) * 2.0F * wide * (1.0F - v * v * 0.92F));
        });
        blade.paint([&](const V3f& q) {
            const float tip = std::clamp(q.y / height, 0.0F, 1.0F);
            return LinearRgb{0.7F + 0.7F * tip, 0.8F + 0.35F * tip, 0.8F};
        });
        clump.add(blade);
        if (i % 4 == 0) {
            const float stalk = height * 1.12F;
            const V3f bend = side * (0.10F * stalk);
            clump.add(tube(
                {foot, foot + V3f(0, stalk * 0.5F, 0) + bend * 0.3F,
                 foot + V3f(0, stalk, 0) + bend},
                [](float) { return 0.005F; }, 6));
            Shape head =
                lathe({{0.0F, 0.0F}, {0.020F, 0.015F}, {0.022F, 0.15F}, {0.0F, 0.17F}}, 10);
            head.paint([](const V3f&) { return LinearRgb{0.55F, 0.32F, 0.25F}; });
            clump.add(head, placed(foot + V3f(0, stalk - 0.02F, 0) + bend));
        }
    }
    return clump;
}

void addReeds(GltfWriter& w, const Paints& p) {
    constexpr int kKinds = 5;
    int kinds[kKinds];
    for (int k = 0; k < kKinds; ++k)
        kinds[k] = w.mesh("reed clump " + std::to_string(k + 1), reedClump(k + 1), p.reed);
    for (int i = 0; i < 34; ++i) {
        const float along = static_cast<float>(i) / 34.0F;
        const float z = 3.3F - 17.0F * along * along - 1.2F * along + 0.7F * (random(i, 61) - 0.5F);
        const float x = 2.75F + 2.6F * random(i, 62) + 5.2F * along;
        w.object("reeds " + std::to_string(i + 1), kinds[i % kKinds],
                 placed({x, 0.0F, z}, 6.28F * random(i, 63), 0.0F, 0.0F,
                        V3f(0.75F + 0.4F * random(i, 64))));
    }
    for (int i = 0; i < 14; ++i)
        w.object("far reeds " + std::to_string(i + 1), kinds[(i + 2) % kKinds],
                 placed({-3.9F - 4.5F * random(i, 66), 0.0F, -8.5F - 6.0F * random(i, 67)},
                        6.28F * random(i, 68), 0.0F, 0.0F, V3f(0.9F)));
}

void addBreakwater(GltfWriter& w, const Paints& p) {
    constexpr int kKinds = 4;
    int kinds[kKinds];
    for (int k = 0; k < kKinds; ++k) {
        Shape rock = ball(3, [&](const V3f& d) {
            const V3f q = d * 1.6F + V3f(static_cast<float>(k) * 13.0F);
            // Facets: the nearest of a few planes cuts the ball.
            float cut = 1.0F;
            for (int i = 0; i < 9; ++i) {
                const V3f n =
                    V3f(random(k, i, 1) - 0.5F, random(k, i, 2) - 0.5F, random(k, i, 3) - 0.5F)
                        .normalized();
                const float facing = d.dot(n);
                if (facing > 0.1F)
                    cut = std::min(cut, (0.62F + 0.25F * random(k, i, 4)) / facing);
            }
            return cut * (1.0F + 0.07F * fractal(q * 2.0F, 4));
        });
        rock.paint([&](const V3f& q) {
            const float v = 0.8F + 0.5F * fractal(q * 2.5F, 3);
            return LinearRgb{v, v, v * 0.98F};
        });
        kinds[k] = w.mesh("rock " + std::to_string(k + 1), rock, p.rock);
    }
    for (int i = 0; i < 54; ++i) {
        const float t = static_cast<float>(i % 27) / 27.0F;
        const float row = static_cast<float>(i / 27);
        const V3f at(9.5F + 27.0F * t + 1.4F * (random(i, 71) - 0.5F),
                     -0.15F + 0.95F * row + 0.35F * (random(i, 72) - 0.5F) - 0.5F * t * row,
                     -34.0F - 13.0F * t - 1.5F * row + 1.3F * (random(i, 73) - 0.5F));
        const float size = 0.85F + 0.65F * random(i, 74);
        w.object("breakwater rock " + std::to_string(i + 1), kinds[i % kKinds],
                 placed(at, 6.28F * random(i, 75), 3.0F * random(i, 76), 3.0F * random(i, 77),
                        V3f(size, size * 0.8F, size * 1.1F)));
    }
}

void addHeadland(GltfWriter& w, const Paints& p) {
    Shape shape = sheet(230, 70, [](float u, float v) {
        const float x = -190.0F + 620.0F * u;
        const float z = -330.0F - 260.0F * v;
        return V3f(x, landHeight(x, z), z);
    });
    shape.paint([](const V3f& q) {
        const float v = 0.8F + 0.9F * fractal(q * 0.06F, 4);
        const float cliff = q.y < 5.0F ? 1.8F : 1.0F;
        return LinearRgb{v * cliff, v * (cliff * 0.4F + 0.6F), v * cliff};
    });
    w.object("headland", shape, p.land);
}

}  // namespace

float landHeight(float x, float z) {
    const float across = std::clamp((x + 60.0F) / 170.0F, 0.0F, 1.0F);
    const float shore =
        -352.0F - 34.0F * (1.0F - across) + 14.0F * fractal(V3f(x * 0.02F, 0.0F, 5.0F), 3);
    const float inland = shore - z;
    const float rise = std::clamp(inland / 26.0F, 0.0F, 1.0F);
    const float bulk = across * across * (3.0F - 2.0F * across);
    const float hill = 15.0F + 13.0F * fractal(V3f(x * 0.011F, 1.0F, z * 0.011F), 4) +
                       0.05F * std::max(0.0F, inland - 26.0F) +
                       9.0F * std::clamp((x - 120.0F) / 200.0F, 0.0F, 1.0F);
    return -4.0F + (hill + 4.0F) * rise * rise * (3.0F - 2.0F * rise) * bulk +
           1.3F * fractal(V3f(x * 0.09F, 2.0F, z * 0.09F), 3) * rise;
}

void addNature(GltfWriter& w, const Paints& p) {
    addWater(w, p);
    addReeds(w, p);
    addBreakwater(w, p);
    addHeadland(w, p);
}

}  // namespace demo
