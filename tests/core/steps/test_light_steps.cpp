// The small steps of the light phase: axis light, component, shadow, rim.
#include "support/frames.h"

#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

constexpr int kSide = 16;

/// Grey; the left half faces the camera's left, the right half up.
PassSet frame() {
    PassSet set = test::greyFrame(kSide, kSide);
    set.put(test::passOf({PassKind::Normal, {}}, kSide, kSide, [](int x, int, int c) {
        if (x < kSide / 2)
            return c == 0 ? -1.0F : 0.0F;
        return c == 1 ? 1.0F : 0.0F;
    }));
    set.put(test::passOf({PassKind::Depth, {}}, kSide, kSide, [](int, int, int) { return 4.0F; }));
    return set;
}

float at(const std::string& step, const std::string& settings, int x, PassSet set = frame(),
         int channel = 0) {
    return test::finished(set, test::recipeOf(R"({"step":")" + step + R"(","settings":)" +
                                              settings + "}"))(x, 8, channel);
}

}  // namespace

TEST_CASE("an axis light scales each face by the way it looks", "[steps][light]") {
    CHECK(at("axis_light", R"({"left":0.5})", 2) == Approx(0.75F));
    CHECK(at("axis_light", R"({"left":0.5})", 12) == Approx(0.5F));
    CHECK(at("axis_light", R"({"right":0.5})", 2) == Approx(0.5F));
    CHECK(at("axis_light", R"({"up":-1})", 12) == Approx(0.0F).margin(1e-6));
    CHECK(at("axis_light", R"({"up":1,"up_colour":[1,0.5,0]})", 12, frame(), 1) == Approx(0.75F));
    CHECK(at("axis_light", R"({"axes":"world","up":1})", 12) == Approx(1.0F));
}

TEST_CASE("a component is added, screened or taken away", "[steps][light]") {
    PassSet set = frame();
    set.put(
        test::passOf({PassKind::Emission, {}}, kSide, kSide, [](int, int, int) { return 0.2F; }));
    CHECK(at("component", R"({"pass":"emission"})", 2, set) == Approx(0.7F));
    CHECK(at("component", R"({"pass":"emission","strength":0.5,"mode":"screen"})", 2, set) ==
          Approx(0.55F));
    CHECK(at("component", R"({"pass":"emission","strength":2,"mode":"subtract"})", 2, set) ==
          Approx(0.1F));
    CHECK(at("component", R"({"pass":"emission","strength":9,"mode":"subtract"})", 2, set) == 0.0F);
}

TEST_CASE("a rendered shadow is laid over the picture, turned round where it is the blocked part",
          "[steps][light]") {
    PassSet set = frame();
    set.put(test::passOf({PassKind::Shadow, "moon"}, kSide, kSide,
                         [](int, int, int) { return 0.25F; }));
    set.put(test::passOf({PassKind::GroundShadow, {}}, kSide, kSide,
                         [](int, int, int) { return 0.25F; }));
    CHECK(at("shadow", R"({"pass":"shadow.moon"})", 2, set) == Approx(0.125F));
    CHECK(at("shadow", R"({"pass":"ground_shadow"})", 2, set) == Approx(0.375F));
    CHECK(at("shadow", R"({"pass":"ground_shadow","strength":0.5,"colour":[0.5,0.5,0.5]})", 2,
             set) == Approx(0.46875F));
    CHECK(at("shadow", R"({"pass":"ground_shadow","softness":3})", 8, set) == Approx(0.375F));
}

TEST_CASE("a rim lights what turns away, from its side", "[steps][light]") {
    // Both halves are seen nearly edge on.
    const float left = at("rim", R"({"strength":0.4,"power":1})", 2);
    CHECK(left > 0.7F);
    CHECK(left <= 0.9F + 1e-4F);
    const char* fromAbove = R"({"strength":0.4,"power":1,"around":0,"towards":[0,1,0]})";
    CHECK(at("rim", fromAbove, 2) == Approx(0.5F).margin(0.01));
    CHECK(at("rim", fromAbove, 12) > 0.7F);
    CHECK(at("rim", R"({"strength":0.4,"power":1,"around":1,"towards":[0,1,0]})", 2) > 0.7F);
}

TEST_CASE("light steps work from depth alone, with normals derived from it", "[steps][light]") {
    PassSet set = test::greyFrame(kSide, kSide);
    // A wall straight ahead.
    set.put(test::passOf({PassKind::Depth, {}}, kSide, kSide, [](int, int, int) { return 4.0F; }));
    CHECK(at("axis_light", R"({"front":0.5})", 8, set) == Approx(0.75F).epsilon(1e-3));
    CHECK(at("axis_light", R"({"up":0.5})", 8, set) == Approx(0.5F).epsilon(1e-3));
}

TEST_CASE("occlusion of indirect light spares what came straight from a lamp", "[steps][light]") {
    PassSet set = frame();
    set.put(
        test::passOf({PassKind::Occlusion, {}}, kSide, kSide, [](int, int, int) { return 0.0F; }));
    set.put(test::passOf({PassKind::DiffuseIndirect, {}}, kSide, kSide,
                         [](int, int, int) { return 0.4F; }));
    set.put(test::passOf({PassKind::DiffuseColour, {}}, kSide, kSide,
                         [](int, int, int) { return 0.5F; }));
    CHECK(at("occlusion", R"({"strength":1,"only":"indirect"})", 4, set) == Approx(0.3F));
    CHECK(at("occlusion", R"({"strength":1})", 4, set) == Approx(0.0F).margin(1e-6));
}
