#include "core/steps/recolour.h"

#include "support/frames.h"

#include <catch2/catch.hpp>

using namespace noctis;
using namespace noctis::test;

namespace {

float luminanceAt(const Image& image, int x, int y) {
    return 0.2126F * image(x, y, 0) + 0.7152F * image(x, y, 1) + 0.0722F * image(x, y, 2);
}

}  // namespace

TEST_CASE("a tint has the colour's hue and the picture's luminance", "[steps][recolour]") {
    PassSet set;
    set.put(passOf({PassKind::Beauty, {}}, 6, 4, [](int x, int y, int c) {
        return 0.1F * static_cast<float>(x + 1) + 0.05F * static_cast<float>(y * c);
    }));
    const Image out =
        finished(set, recipeOf(R"({"step":"recolour","settings":{"colour":[0.05,0.25,0.1]}})"));
    for (int y = 0; y < 4; ++y)
        for (int x = 0; x < 6; ++x) {
            CHECK(luminanceAt(out, x, y) ==
                  Approx(luminanceAt(set.find(PassKind::Beauty)->image, x, y)));
            CHECK(out(x, y, 1) / out(x, y, 0) == Approx(5.0F));
            CHECK(out(x, y, 2) / out(x, y, 0) == Approx(2.0F));
        }
    // What has no hue becomes grey, and black stays black.
    const Image grey =
        finished(set, recipeOf(R"({"step":"recolour","settings":{"colour":[0.5,0.5,0.5]}})"));
    CHECK(grey(3, 2, 0) == Approx(grey(3, 2, 2)));
    const Image black =
        finished(set, recipeOf(R"({"step":"recolour","settings":{"colour":[0,0,0]}})"));
    CHECK(black(3, 2, 1) == 0.0F);
}

TEST_CASE("paint over a matt surface is what the surface would be in that colour",
          "[steps][recolour]") {
    // Light that differs from place to place, on a brown surface.
    const float own[3] = {0.4F, 0.2F, 0.1F};
    const float paint[3] = {0.1F, 0.5F, 0.2F};
    const auto light = [](int x, int y, int c) {
        return 0.2F + 0.3F * static_cast<float>(x) + 0.1F * static_cast<float>(y + c);
    };
    PassSet set;
    set.put(passOf({PassKind::Beauty, {}}, 5, 3,
                   [&](int x, int y, int c) { return light(x, y, c) * own[c]; }));
    set.put(passOf({PassKind::DiffuseColour, {}}, 5, 3, [&](int, int, int c) { return own[c]; }));
    const Image out = finished(
        set, recipeOf(R"({"step":"recolour","settings":{"colour":[0.1,0.5,0.2],"as":"paint"}})"));
    for (int y = 0; y < 3; ++y)
        for (int x = 0; x < 5; ++x)
            for (int c = 0; c < 3; ++c)
                CHECK(out(x, y, c) == Approx(light(x, y, c) * paint[c]).epsilon(1e-4));
}
