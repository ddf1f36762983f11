#include "core/steps/light_balance.h"

#include "support/files.h"
#include "support/frames.h"

#include <catch2/catch.hpp>

#include <cmath>

using namespace noctis;
using test::finished;
using test::recipeOf;

namespace {

/// A picture of which two known groups are not all, as of a file that left a light out.
PassSet frame() {
    PassSet set = test::greyFrame(21, 3);
    set.passes[0].image = test::ramp(21, 3, {"R", "G", "B"});
    set.put(test::passOf({PassKind::Light, "moon"}, 21, 3,
                         [](int x, int, int) { return 0.01F * static_cast<float>(x); }));
    set.put(test::passOf({PassKind::Light, "lamp"}, 21, 3,
                         [](int, int, int c) { return c == 0 ? 0.5F : 0.1F; }));
    return set;
}

std::string balance(const std::string& groups) {
    return R"({"step":"light_balance","settings":{"groups":[)" + groups + "]}}";
}

}  // namespace

TEST_CASE("all at one is the picture, bit for bit", "[steps][light_balance]") {
    CHECK(test::sameBits(finished(frame(), recipeOf(balance(""))), frame().passes[0].image));
    CHECK(test::sameBits(finished(frame(), recipeOf(balance(R"({"name":"moon","strength":1})"))),
                         frame().passes[0].image));
}

TEST_CASE("the picture changes by just the difference", "[steps][light_balance]") {
    const PassSet set = frame();
    const Image out = finished(
        set,
        recipeOf(balance(
            R"({"name":"moon","strength":0},{"name":"lamp","strength":2,"colour":[1,0.5,0]})")));
    const Image& before = set.passes[0].image;
    for (const int x : {0, 7, 20}) {
        const float moon = 0.01F * static_cast<float>(x);
        CHECK(out(x, 1, 0) == Approx(before(x, 1, 0) - moon + 0.5F));
        CHECK(out(x, 1, 1) == Approx(before(x, 1, 1) - moon));
        CHECK(out(x, 1, 2) == Approx(before(x, 1, 2) - moon - 0.1F));
    }
}

TEST_CASE("a group can be off, or alone", "[steps][light_balance]") {
    const LightBalanceSettings off{{{.name = "moon", .on = false}}};
    CHECK(lightFactor("moon", off) == LinearRgb{});
    CHECK(lightFactor("lamp", off) == LinearRgb{1, 1, 1});
    const LightBalanceSettings alone{
        {{.name = "moon", .strength = 2.0F}, {.name = "lamp", .alone = true}}};
    CHECK(lightFactor("moon", alone) == LinearRgb{});
    CHECK(lightFactor("lamp", alone) == LinearRgb{1, 1, 1});
    CHECK(lightFactor("window", alone) == LinearRgb{});
}

TEST_CASE("a light that is off leaves no sparks of its rounding", "[steps][light_balance]") {
    // A moon as bright as 1300, where half floats are one apart, before a window's faint light.
    const auto moonAt = [](int x) { return 900.3F + 20.7F * static_cast<float>(x); };
    PassSet set = test::greyFrame(21, 3);
    set.passes[0].image = Image(21, 3, {"R", "G", "B"});
    const auto picture = [&](int x) { return std::round(moonAt(x) + 0.02F); };
    for (int c = 0; c < 3; ++c)
        for (int y = 0; y < 3; ++y)
            for (int x = 0; x < 21; ++x)
                set.passes[0].image.editPlane(c)[set.passes[0].image.rowStride() * y + x] =
                    y == 1 ? 3.0F + 0.02F : picture(x);
    set.put(test::passOf({PassKind::Light, "moon"}, 21, 3,
                         [&](int x, int y, int) { return y == 1 ? 3.0F : moonAt(x); }));
    set.put(test::passOf({PassKind::Light, "window"}, 21, 3, [](int, int, int) { return 0.015F; }));
    const Image out = finished(set, recipeOf(balance(R"({"name":"moon","strength":0})")));
    const Image twice = finished(
        set, recipeOf(balance(R"({"name":"moon","strength":0},{"name":"window","strength":2})")));
    for (int x = 0; x < 21; ++x) {
        CHECK(out(x, 0, 1) == Approx(0.015F));
        CHECK(twice(x, 2, 0) == Approx(0.03F));
        CHECK(out(x, 1, 2) == Approx(0.02F).margin(1e-6));  // what isn't rounding stays
    }
}
