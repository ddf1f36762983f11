#include "core/passes/derived_pixels.h"

#include "core/passes/probe.h"
#include "support/frames.h"

#include <catch2/catch.hpp>

using namespace noctis;
using namespace noctis::test;

namespace {

constexpr int kWidth = 48;
constexpr int kHeight = 27;

/// A ground that runs away and a wall on it, below a sky; by one of three measures.
PassSet seenBy(PassKind measure) {
    PassSet set;
    set.width = kWidth;
    set.height = kHeight;
    set.camera = lookingAt(V3f(1, 2, 3), V3f(0, 1, -8), 0.7F);
    set.put(passOf({PassKind::Depth, {}}, kWidth, kHeight, [](int x, int y, int) {
        return y < 6 ? kNothingHit : x > 20 && x < 30 ? 6.0F : 60.0F / static_cast<float>(y);
    }));
    if (measure == PassKind::Depth)
        return set;
    PassSet other = set;
    other.passes = {resolvePass(set, measure)};
    other.passes.front().derived = false;
    return other;
}

}  // namespace

TEST_CASE("a pixel is derived as a whole pass is, from whatever was measured",
          "[passes][derived]") {
    for (const PassKind measure : {PassKind::Depth, PassKind::Distance, PassKind::Position}) {
        const PassSet set = seenBy(measure);
        const DerivedPixels pixels(set);
        const Image depth = resolvePass(set, PassKind::Depth).image;
        const Image distance = resolvePass(set, PassKind::Distance).image;
        const Image position = resolvePass(set, PassKind::Position).image;
        const Image normal = resolvePass(set, PassKind::Normal).image;
        CAPTURE(passKindInfo(measure).id);
        int wrong = 0;
        for (int y = 0; y < kHeight; ++y)
            for (int x = 0; x < kWidth; ++x) {
                const auto at = [&](const Image& image) {
                    return V3f(image(x, y, 0), image(x, y, 1), image(x, y, 2));
                };
                wrong += pixels.depth(x, y) == depth(x, y, 0) ? 0 : 1;
                wrong += pixels.distance(x, y) == distance(x, y, 0) ? 0 : 1;
                wrong += pixels.position(x, y) == at(position) ? 0 : 1;
                wrong += pixels.normal(x, y) == at(normal) ? 0 : 1;
            }
        CHECK(wrong == 0);
        CHECK(pixels.depth(5, 20) == Approx(3.0F).epsilon(1e-4));
        CHECK(pixels.depth(5, 2) == kNothingHit);
        CHECK(pixels.normal(25, 12).dot(pixels.ray(25, 12).direction) < 0.0F);
    }
}

TEST_CASE("measured normals are turned into the world", "[passes][derived]") {
    PassSet set = seenBy(PassKind::Depth);
    Pass normals = passOf({PassKind::Normal, {}}, kWidth, kHeight,
                          [](int, int, int c) { return c == 2 ? 1.0F : 0.0F; });
    normals.space = "camera";
    set.put(normals);
    const V3f towards = DerivedPixels(set).normal(3, 3);
    const M44f& world = set.camera->cameraToWorld;
    CHECK((towards - V3f(world[2][0], world[2][1], world[2][2])).length() < 1e-6F);
}

TEST_CASE("a probe has derived distances beside the measured ones, and never twice",
          "[passes][derived][probe]") {
    const PassSet set = seenBy(PassKind::Distance);
    const std::vector<ProbedValue> derived = derivedAt(set, 5, 20);
    REQUIRE(derived.size() == 2);
    CHECK(derived[0].kind == PassKind::Depth);
    CHECK(derived[0].value[0] == Approx(3.0F).epsilon(1e-4));
    CHECK(derived[0].meaning.find("3.00 m") != std::string::npos);
    CHECK(derived[1].kind == PassKind::Position);
    CHECK(derivedAt(seenBy(PassKind::Depth), 5, 20).size() == 1);
    CHECK(derivedAt(greyFrame(4, 4), 1, 1).empty());
}
