#include "core/recipe/picture_haze.h"
#include "core/steps/clear_air.h"
#include "support/frames.h"

#include <catch2/catch.hpp>

#include <cmath>

using namespace noctis;

namespace {

/// Things from 5 to 100 m, black to bright, and a sky; without haze.
PassSet clearYard() {
    PassSet set = test::greyFrame(96, 54, 0.2F);
    Pass& picture = *set.find(std::string_view("beauty"));
    for (int c = 0; c < 3; ++c) {
        float* plane = picture.image.editPlane(c);
        for (int y = 0; y < 54; ++y)
            for (int x = 0; x < 96; ++x)
                plane[picture.image.rowStride() * y + x] =
                    y < 6 ? 0.3F + 0.1F * static_cast<float>(c)
                          : 0.004F * static_cast<float>(((x * 7 + y * 13 + c * 5) % 50));
    }
    set.put(test::passOf({PassKind::Depth, {}}, 96, 54, [](int x, int y, int) {
        return y < 6 ? kNothingHit : 5.0F + static_cast<float>(x);
    }));
    return set;
}

constexpr const char* kFog = R"({"step":"fog","settings":{"density":0.025,"start":8,"sky":0,)"
                             R"("colour":[0.3,0.4,0.5]}})";

}  // namespace

TEST_CASE("what fog did is undone where a tenth is left", "[clear-air]") {
    const PassSet set = clearYard();
    const Image before = set.find(PassKind::Beauty)->image;
    const Image after = test::finished(
        set, test::recipeOf(std::string(kFog) +
                            R"(,{"step":"clear_air","settings":{"density":0.025,"start":8,)"
                            R"("colour":[0.3,0.4,0.5]}})"));
    const Image distance = resolvePass(set, PassKind::Distance).image;
    int compared = 0;
    for (int y = 6; y < 54; ++y)
        for (int x = 0; x < 96; ++x)
            if (std::exp(-0.025F * std::max(0.0F, distance(x, y, 0) - 8.0F)) >= 0.1F)
                for (int c = 0; c < 3; ++c, ++compared)
                    REQUIRE(after(x, y, c) == Approx(before(x, y, c)).margin(1e-3));
    CHECK(compared > 5000);
}

TEST_CASE("the sky stays, and so does haze that hides nearly everything", "[clear-air]") {
    const PassSet set = clearYard();
    const Image before = set.find(PassKind::Beauty)->image;
    const Image after = test::finished(
        set, test::recipeOf(R"({"step":"clear_air","settings":{"density":1,"start":0,"least":0.5,)"
                            R"("colour":[0.1,0.1,0.1]}})"));
    CHECK(after(20, 2, 0) == before(20, 2, 0));
    CHECK(after(80, 30, 1) == Approx((before(80, 30, 1) - 0.05F) / 0.5F).margin(1e-6));
    const Image none = test::finished(set, test::recipeOf(R"({"step":"clear_air","settings":{}})"));
    CHECK(none(80, 30, 1) == before(80, 30, 1));
}

TEST_CASE("haze is read from a picture and its distances", "[clear-air]") {
    PassSet set = clearYard();
    const Image hazy = test::finished(set, test::recipeOf(kFog));
    Pass& picture = *set.find(std::string_view("beauty"));
    picture.image = hazy;
    const std::optional<PictureHaze> haze = pictureHaze(set);
    REQUIRE(haze.has_value());
    CHECK(haze->density == Approx(0.025).epsilon(0.15));
    CHECK(haze->start == Approx(8.0).margin(4.0));
    CHECK(haze->colour.r == Approx(0.3).epsilon(0.1));
    CHECK(haze->colour.b == Approx(0.5).epsilon(0.1));
    PassSet flat = clearYard();
    flat.find(std::string_view("beauty"))->image = Image(96, 54, {"R", "G", "B"}, 0.0F);
    CHECK_FALSE(pictureHaze(flat).has_value());
    CHECK_FALSE(pictureHaze(test::greyFrame(8, 8)).has_value());
}
