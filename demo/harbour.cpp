#include "harbour.h"

#include <cmath>
#include <string>

namespace demo {

namespace {

constexpr float kPi = 3.14159265F;

LinearRgb grey(float v) { return {v, v, v}; }

/// Weathered wood: streaks along one axis and stains across.
void weather(Shape& shape, int seed, const V3f& stretch) {
    const float tone = 0.72F + 0.5F * random(seed, 3);
    shape.paint([&](const V3f& p) {
        const V3f q(p.x * stretch.x, p.y * stretch.y, p.z * stretch.z);
        const float streak = 0.85F + 0.3F * fractal(q + V3f(static_cast<float>(seed) * 7.3F), 3);
        return LinearRgb{tone * streak, tone * streak * 0.97F, tone * streak * 0.93F};
    });
}

void addJetty(GltfWriter& w, const Paints& p) {
    Shape deck;
    for (int i = 0; i < 96; ++i) {
        const float z = 9.0F - static_cast<float>(i) * 0.262F;
        const float length = 2.5F + 0.12F * (random(i, 1) - 0.5F);
        Shape plank = box({length, 0.055F, 0.238F}, 0.009F);
        weather(plank, i, {1.5F, 20.0F, 14.0F});
        deck.add(plank, placed({0.05F * (random(i, 2) - 0.5F),
                                kDeckHeight + 0.008F * (random(i, 5) - 0.5F), z},
                               0.012F * (random(i, 4) - 0.5F), 0.01F * (random(i, 6) - 0.5F),
                               0.012F * (random(i, 7) - 0.5F)));
    }
    w.object("jetty deck", deck, p.deck);
    Shape frame;
    for (const float x : {-1.02F, 1.02F}) {
        Shape beam = box({0.14F, 0.2F, 25.4F}, 0.015F);
        weather(beam, 300, {9.0F, 9.0F, 1.0F});
        frame.add(beam, placed({x, kDeckHeight - 0.14F, -3.6F}));
    }
    for (int i = 0; i < 9; ++i)
        for (const float x : {-1.16F, 1.16F}) {
            const float top = kDeckHeight + (i % 2 == 0 ? 0.5F : 0.04F);
            Shape pile = lathe(
                {{0.115F, -3.0F}, {0.105F, top - 0.03F}, {0.08F, top}, {0.0F, top + 0.005F}}, 20);
            weather(pile, 400 + i, {6.0F, 1.2F, 6.0F});
            frame.add(pile, placed({x, 0.0F, 8.0F - static_cast<float>(i) * 3.05F},
                                   random(i, 9) * 6.0F, 0.02F * (random(i, 11) - 0.5F)));
        }
    w.object("jetty frame", frame, p.pile);
}

void addCrates(GltfWriter& w, const Paints& p) {
    const auto crate = [&](float size, int seed) {
        Shape shape;
        const float t = 0.03F;
        const int boards = 5;
        for (int side = 0; side < 4; ++side)
            for (int i = 0; i < boards; ++i) {
                const float h = size / boards;
                Shape board = box({size - 0.01F, h - 0.012F, t}, 0.005F);
                weather(board, seed * 31 + side * 7 + i, {3.0F, 16.0F, 8.0F});
                M44f at = placed(
                    {0.0F, -size / 2 + h * (static_cast<float>(i) + 0.5F), size / 2 - t / 2});
                M44f turn;
                turn.setEulerAngles(V3f(0, static_cast<float>(side) * kPi / 2, 0));
                shape.add(board, at * turn);
            }
        for (int i = 0; i < boards; ++i) {
            const float d = size / boards;
            Shape board = box({size, t, d - 0.012F}, 0.005F);
            weather(board, seed * 57 + i, {3.0F, 8.0F, 16.0F});
            shape.add(board, placed({0, size / 2 - t / 2,
                                     -size / 2 + d * (static_cast<float>(i) + 0.5F)}));
        }
        for (const float x : {-1.0F, 1.0F})
            for (const float z : {-1.0F, 1.0F}) {
                Shape post = box({0.07F, size + 0.004F, 0.07F}, 0.006F);
                weather(post, seed + 5, {12.0F, 2.0F, 12.0F});
                shape.add(post, placed({x * (size / 2 - 0.025F), 0, z * (size / 2 - 0.025F)}));
            }
        return shape;
    };
    const float top = kDeckHeight + 0.03F;
    w.object("crate 1", crate(0.74F, 1), p.crate, placed({-0.66F, top + 0.37F, 1.75F}, 0.22F));
    w.object("crate 2", crate(0.58F, 2), p.crate,
             placed({-0.70F, top + 0.74F + 0.29F, 1.72F}, -0.30F));
    w.object("crate 3", crate(0.50F, 3), p.crate, placed({-0.52F, top + 0.25F, 0.82F}, 0.75F));
}

void addRopes(GltfWriter& w, const Paints& p) {
    const auto strand = [](Shape& shape, int seed) {
        shape.paint([seed](const V3f& q) {
            return grey(0.75F + 0.35F * noise(q * 40.0F + V3f(static_cast<float>(seed))));
        });
    };
    const auto coil = [&](float radius, int turns, int layers, int seed) {
        std::vector<V3f> path;
        const float thick = 0.028F;
        for (int layer = 0; layer < layers; ++layer)
            for (int i = 0; i < turns * 44; ++i) {
                const float a = 2.0F * kPi * static_cast<float>(i) / 44.0F;
                const float part = static_cast<float>(i) / static_cast<float>(turns * 44);
                const float r =
                    layer % 2 == 0
                        ? radius - part * static_cast<float>(turns) * thick * 1.9F
                        : radius - (1.0F - part) * static_cast<float>(turns) * thick * 1.9F;
                path.emplace_back(r * std::cos(a) + 0.006F * noise(V3f(a, part * 9.0F, 3.0F)),
                                  thick + static_cast<float>(layer) * thick * 1.75F +
                                      0.004F * noise(V3f(a * 2.0F, 1.0F, 7.0F)),
                                  r * std::sin(a));
            }
        Shape shape = tube(
            path,
            [&](float v) {
                return thick *
                       (1.0F + 0.10F * std::sin(v * static_cast<float>(path.size()) * 2.4F));
            },
            9);
        strand(shape, seed);
        return shape;
    };
    w.object("rope coil 1", coil(0.34F, 5, 3, 1), p.rope,
             placed({0.55F, kDeckHeight + 0.03F, 2.55F}));
    w.object("rope coil 2", coil(0.26F, 4, 2, 2), p.rope,
             placed({-0.25F, kDeckHeight + 0.03F, -2.3F}));
    const auto hanging = [&](const V3f& a, const V3f& b, float sag, float thick) {
        std::vector<V3f> path;
        for (int i = 0; i <= 60; ++i) {
            const float t = static_cast<float>(i) / 60.0F;
            path.push_back(a + (b - a) * t - V3f(0, sag * 4.0F * t * (1.0F - t), 0));
        }
        Shape shape = tube(
            path, [thick](float) { return thick; }, 8);
        strand(shape, 9);
        return shape;
    };
    w.object("mooring rope",
             hanging({1.16F, kDeckHeight + 0.46F, -4.2F}, {2.55F, 0.52F, -5.2F}, 0.28F, 0.016F),
             p.rope);
    Shape rail;
    for (int i = 0; i < 4; ++i) {
        const float z = 8.0F - static_cast<float>(i) * 6.1F;
        rail.add(hanging({-1.16F, kDeckHeight + 0.42F, z}, {-1.16F, kDeckHeight + 0.42F, z - 6.1F},
                         0.24F, 0.017F));
    }
    w.object("hand rope", rail, p.rope);
}

void addBollards(GltfWriter& w, const Paints& p) {
    const Shape shape = lathe({{0.17F, 0.0F},
                               {0.17F, 0.03F},
                               {0.10F, 0.07F},
                               {0.085F, 0.20F},
                               {0.10F, 0.27F},
                               {0.15F, 0.30F},
                               {0.155F, 0.34F},
                               {0.12F, 0.37F},
                               {0.0F, 0.385F}},
                              32);
    const int mesh = w.mesh("bollard", shape, p.iron);
    for (int i = 0; i < 4; ++i)
        w.object("bollard " + std::to_string(i + 1), mesh,
                 placed({0.93F, kDeckHeight + 0.028F, 1.3F - static_cast<float>(i) * 4.4F}));
}

void addLantern(GltfWriter& w, const Paints& p) {
    const V3f foot(0.82F, kDeckHeight, -1.15F);
    Shape post =
        lathe({{0.075F, 0.0F}, {0.06F, 0.1F}, {0.048F, 1.75F}, {0.048F, 1.95F}, {0.0F, 1.96F}}, 20);
    weather(post, 90, {8.0F, 1.5F, 8.0F});
    Shape arm = box({0.44F, 0.05F, 0.05F}, 0.008F);
    post.add(arm, placed({-0.17F, 1.88F, 0.0F}));
    Shape brace = box({0.34F, 0.035F, 0.035F}, 0.006F);
    post.add(brace, placed({-0.14F, 1.74F, 0.0F}, 0.0F, 0.0F, -0.75F));
    w.object("lantern post", post, p.pile, placed(foot));
    const V3f lamp = foot + V3f(-0.34F, 1.60F, 0.0F);
    Shape cage = lathe({{0.0F, 0.20F},
                        {0.03F, 0.195F},
                        {0.035F, 0.16F},
                        {0.115F, 0.115F},
                        {0.12F, 0.10F},
                        {0.105F, 0.10F}},
                       24);
    cage.add(lathe({{0.100F, -0.125F}, {0.12F, -0.125F}, {0.12F, -0.105F}, {0.100F, -0.10F}}, 24));
    for (int i = 0; i < 6; ++i) {
        const float a = static_cast<float>(i) * kPi / 3.0F;
        const Shape bar = lathe({{0.006F, -0.11F}, {0.006F, 0.11F}}, 8);
        cage.add(bar, placed({0.11F * std::cos(a), 0.0F, 0.11F * std::sin(a)}));
    }
    std::vector<V3f> ring;
    for (int i = 0; i <= 24; ++i) {
        const float a = kPi * static_cast<float>(i) / 24.0F;
        ring.emplace_back(0.035F * std::cos(a), 0.19F + 0.075F * std::sin(a), 0.0F);
    }
    cage.add(tube(
        ring, [](float) { return 0.005F; }, 8));
    w.object("lantern cage", cage, p.brass, placed(lamp));
    w.object("lantern flame", ball(3, [](const V3f& d) { return 0.05F * (1.0F + 0.35F * d.y); }),
             p.lanternGlass, placed(lamp));
    // The flame is what is seen, the lamp around it what lights: it can be dragged, and is free of noise.
    w.lamp("lantern", lamp, {9.9F, 4.6F, 1.3F}, 0.07F);
}

void addDinghy(GltfWriter& w, const Paints& p) {
    // A clinker hull: half-breadth and depth along its length.
    const auto hull = [](float u, float v, float inset) {
        const float t = u * 2.0F - 1.0F;  // -1 stern, 1 bow
        const float breadth =
            (0.68F - inset) *
            std::pow(std::max(0.0F, 1.0F - std::pow(std::max(0.0F, (t + 0.35F) / 1.35F), 2.6F)),
                     0.75F) *
            (0.80F + 0.2F * std::min(1.0F, (t + 1.0F) * 1.6F));
        const float sheer = 0.42F + 0.17F * t * t + (t > 0.0F ? 0.10F * t : 0.0F);
        const float keel = -0.14F + inset + 0.10F * std::max(0.0F, t) * t;
        const float angle = (v - 0.5F) * kPi;
        const float lap =
            inset > 0.0F ? 0.0F : 0.012F * (std::fmod(std::abs(v - 0.5F) * 14.0F, 1.0F));
        const float x = (breadth + lap) * std::sin(angle);
        const float rise = 1.0F - std::pow(std::max(0.0F, std::cos(angle)), 0.8F);
        return V3f(x, keel + (sheer - keel) * rise, -t * 1.75F);
    };
    Shape outside = sheet(64, 56, [&](float u, float v) { return hull(u, v, 0.0F); });
    outside.paint([](const V3f& q) {
        return q.y > 0.40F ? LinearRgb{1.4F, 1.35F, 1.25F}
                           : grey(0.85F + 0.25F * fractal(q * 3.0F, 3));
    });
    const M44f at = placed({3.15F, 0.0F, -6.6F}, 0.52F, 0.02F, 0.035F);
    w.object("dinghy", outside, p.hull, at);
    Shape inside = sheet(48, 40, [&](float u, float v) {
        return hull(u * 0.97F + 0.015F, v * 0.96F + 0.02F, 0.035F);
    });
    for (const float z : {-0.55F, 0.5F}) {
        Shape thwart = box({1.16F, 0.035F, 0.25F}, 0.01F);
        weather(thwart, 71, {2.0F, 9.0F, 9.0F});
        inside.add(thwart, placed({0, 0.25F, z}));
    }
    for (const float x : {-0.2F, 0.22F}) {
        Shape oar = tube(
            {{x, 0.33F, 1.3F}, {x, 0.35F, 0.4F}, {x, 0.37F, -0.5F}, {x, 0.39F, -1.2F}},
            [](float) { return 0.022F; }, 10);
        Shape blade = box({0.11F, 0.015F, 0.5F}, 0.006F);
        oar.add(blade, placed({x, 0.325F, 1.45F}));
        inside.add(oar);
    }
    w.object("dinghy inside", inside, p.hullInside, at);
    std::vector<V3f> rim;
    for (int i = 0; i <= 120; ++i) {
        const float s = static_cast<float>(i) / 120.0F;
        rim.push_back(s < 0.5F ? hull(s * 2.0F, 0.0F, 0.0F) : hull(2.0F - s * 2.0F, 1.0F, 0.0F));
    }
    w.object("dinghy rail",
             tube(
                 rim, [](float) { return 0.026F; }, 8),
             p.hullInside, at);
    w.locator("dinghy", V3f(3.15F, 0.4F, -6.6F));
}

void addBoathouse(GltfWriter& w, const Paints& p) {
    const M44f at = placed({-8.4F, 0.0F, -18.5F}, 0.42F);
    const float width = 6.4F;
    const float depth = 8.5F;
    const float wall = 3.3F;
    Shape walls;
    for (int side = 0; side < 4; ++side) {
        const bool gable = side % 2 == 0;
        const float length = gable ? width : depth;
        const float off = gable ? depth / 2 : width / 2;
        const int boards = static_cast<int>(length / 0.21F);
        M44f turn;
        turn.setEulerAngles(V3f(0, static_cast<float>(side) * kPi / 2, 0));
        for (int i = 0; i < boards; ++i) {
            const float x =
                -length / 2 + length * (static_cast<float>(i) + 0.5F) / static_cast<float>(boards);
            const float rise = gable ? (1.0F - std::abs(x) / (width / 2)) * 2.1F : 0.0F;
            const bool atWindow = side == 0 && x > -1.75F && x < -0.55F;
            const auto board = [&](float low, float high) {
                Shape b =
                    box({length / static_cast<float>(boards) - 0.015F, high - low, 0.05F}, 0.008F);
                weather(b, side * 97 + i, {10.0F, 1.5F, 10.0F});
                walls.add(b, placed({x, (low + high) / 2, off}) * turn);
            };
            if (atWindow) {
                board(0.3F, 1.45F);
                board(2.65F, wall + rise);
            } else {
                board(0.3F, wall + rise);
            }
        }
    }
    walls.add(box({width - 0.2F, wall - 0.4F, depth - 0.2F}, 0.01F),
              placed({0.0F, wall / 2 + 0.1F, 0.0F}));
    w.object("boathouse walls", walls, p.plaster, at);
    Shape roof;
    for (const float side : {-1.0F, 1.0F}) {
        for (int row = 0; row < 13; ++row)
            for (int i = 0; i < 24; ++i) {
                Shape slate = box({0.34F, 0.03F, depth / 24.0F + 0.37F - 0.02F}, 0.008F);
                slate.paint([&](const V3f&) {
                    return grey(0.7F + 0.6F * random(row, i, side > 0 ? 1 : 2));
                });
                const float down = (static_cast<float>(row) + 0.5F) * 0.31F;
                const float pitch = std::atan2(2.1F, width / 2);
                roof.add(
                    slate,
                    placed({side * down * std::cos(pitch), wall + 2.22F - down * std::sin(pitch),
                            -depth / 2 + depth * (static_cast<float>(i) + 0.5F) / 24.0F},
                           0.0F, 0.0F, -side * (pitch - 0.04F)));
            }
    }
    w.object("boathouse roof", roof, p.roof, at);
    Shape glass = sheet(1, 1, [](float u, float v) {
        return V3f(-1.72F + u * 1.14F, 1.47F + v * 1.16F, 8.5F / 2 - 0.02F);
    });
    w.object("boathouse window", glass, p.window, at);
    Shape bars;
    for (const float x : {-1.75F, -1.15F, -0.55F})
        bars.add(box({0.06F, 1.26F, 0.07F}, 0.008F), placed({x, 2.05F, depth / 2 + 0.02F}));
    for (const float y : {1.45F, 2.05F, 2.65F})
        bars.add(box({1.26F, 0.055F, 0.06F}, 0.008F), placed({-1.15F, y, depth / 2 + 0.02F}));
    bars.add(box({1.5F, 2.5F, 0.08F}, 0.01F), placed({1.3F, 1.55F, depth / 2 + 0.02F}));
    w.object("boathouse joinery", bars, p.hullInside, at);
    Shape base = box({width + 1.6F, 0.9F, depth + 2.4F}, 0.04F);
    w.object("boathouse slip", base, p.rock, placed({0, -0.12F, 0}) * at);
}

void addLighthouse(GltfWriter& w, const Paints& p) {
    const float ground = landHeight(kLighthouse.x, kLighthouse.z) - 0.4F;
    Shape tower = lathe({{4.4F, -3.0F},
                         {4.2F, 1.0F},
                         {3.2F, 10.0F},
                         {2.7F, 19.0F},
                         {3.5F, 19.4F},
                         {3.5F, 20.2F},
                         {1.9F, 20.2F},
                         {1.9F, 20.6F}},
                        40);
    tower.paint([](const V3f& q) {
        return q.y > 7.0F && q.y < 13.5F ? LinearRgb{0.9F, 0.16F, 0.12F} : grey(1.0F);
    });
    const M44f at = placed(kLighthouse + V3f(0, ground, 0));
    w.object("lighthouse", tower, p.tower, at);
    Shape cap =
        lathe({{2.3F, 23.0F}, {2.2F, 23.3F}, {0.35F, 24.8F}, {0.12F, 26.2F}, {0.0F, 26.3F}}, 32);
    for (int i = 0; i < 8; ++i) {
        const float a = static_cast<float>(i) * kPi / 4.0F;
        cap.add(lathe({{0.09F, 20.4F}, {0.09F, 23.1F}}, 8),
                placed({1.9F * std::cos(a), 0.0F, 1.9F * std::sin(a)}));
    }
    w.object("lighthouse cap", cap, p.iron, at);
    w.object("lighthouse lamp", ball(3, [](const V3f&) { return 0.8F; }), p.towerLamp,
             placed({0, 21.7F, 0}) * at);
    w.object("keeper's house", box({11.0F, 5.0F, 7.0F}, 0.1F), p.tower,
             placed({-11.0F, 1.6F, 2.0F}, 0.2F) * at);
    w.locator("lighthouse", kLighthouse + V3f(0, ground + 21.7F, 0));
}

void addPiles(GltfWriter& w, const Paints& p) {
    Shape shape = lathe({{0.15F, -3.0F}, {0.14F, 1.45F}, {0.10F, 1.52F}, {0.0F, 1.54F}}, 18);
    weather(shape, 77, {5.0F, 1.0F, 5.0F});
    const int mesh = w.mesh("mooring pile", shape, p.pile);
    for (int i = 0; i < 12; ++i) {
        const float z = -11.0F - 5.4F * static_cast<float>(i) - 0.35F * static_cast<float>(i * i);
        const float x = 4.6F + 0.55F * static_cast<float>(i) + 0.5F * (random(i, 21) - 0.5F);
        w.object("mooring pile " + std::to_string(i + 1), mesh,
                 placed({x, -0.25F * random(i, 22), z}, random(i, 23) * 6.0F,
                        0.09F * (random(i, 24) - 0.5F), 0.09F * (random(i, 25) - 0.5F)));
    }
}

}  // namespace

Paints addPaints(GltfWriter& w) {
    Paints p{};
    p.deck = w.paint({"deck planks", {0.23F, 0.20F, 0.165F}, 0.62F});
    p.pile = w.paint({"old timber", {0.105F, 0.085F, 0.065F}, 0.75F});
    p.crate = w.paint({"crate boards", {0.36F, 0.25F, 0.14F}, 0.7F});
    p.rope = w.paint({"hemp rope", {0.40F, 0.31F, 0.19F}, 0.9F});
    p.iron = w.paint({"wet iron", {0.14F, 0.14F, 0.15F}, 0.34F, 0.9F});
    p.brass = w.paint({"brass", {0.72F, 0.50F, 0.22F}, 0.28F, 1.0F});
    p.lanternGlass =
        w.paint({"lantern light", {0.1F, 0.1F, 0.1F}, 0.5F, 0.0F, {43.0F, 20.0F, 5.7F}, "lantern"});
    p.window =
        w.paint({"window light", {0.1F, 0.1F, 0.1F}, 0.5F, 0.0F, {9.0F, 4.2F, 1.30F}, "window"});
    p.plaster = w.paint({"tarred boards", {0.075F, 0.072F, 0.075F}, 0.6F});
    p.roof = w.paint({"slate", {0.085F, 0.09F, 0.10F}, 0.42F});
    p.hull = w.paint({"hull paint", {0.055F, 0.15F, 0.19F}, 0.3F});
    p.hullInside = w.paint({"varnished ash", {0.33F, 0.20F, 0.10F}, 0.38F});
    p.reed = w.paint({"reeds", {0.20F, 0.19F, 0.075F}, 0.7F});
    p.rock = w.paint({"breakwater rock", {0.13F, 0.135F, 0.14F}, 0.55F});
    p.land = w.paint({"headland", {0.055F, 0.065F, 0.045F}, 0.95F});
    p.water = w.paint({"water", {0.004F, 0.010F, 0.013F}, 0.09F});
    p.tower = w.paint({"whitewash", {0.62F, 0.60F, 0.56F}, 0.8F});
    p.towerLamp = w.paint(
        {"lighthouse light", {0.1F, 0.1F, 0.1F}, 0.5F, 0.0F, {150.0F, 128.0F, 88.0F}, "window"});
    return p;
}

void addBuiltThings(GltfWriter& w, const Paints& p) {
    addJetty(w, p);
    addCrates(w, p);
    addRopes(w, p);
    addBollards(w, p);
    addLantern(w, p);
    addDinghy(w, p);
    addBoathouse(w, p);
    addLighthouse(w, p);
    addPiles(w, p);
}

}  // namespace demo
