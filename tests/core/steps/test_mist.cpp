#include "core/steps/mist.h"

#include "support/frames.h"

#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;

TEST_CASE("a mist is none where it begins, half where it is half, all where it is full",
          "[steps][mist]") {
    for (const float half : {12.0F, 30.0F, 70.0F}) {
        const MistStepSettings s{.begins = 10.0F, .half = half, .full = 90.0F};
        CHECK(mistShare(10.0F, s) == 0.0F);
        CHECK(mistShare(half, s) == Approx(0.5F).epsilon(1e-5));
        CHECK(mistShare(90.0F, s) == 1.0F);
        CHECK(mistShare(kNothingHit, s) == 1.0F);
        CHECK(mistShare(std::nanf(""), s) == 0.0F);
        const float p = std::log(0.5F) / std::log((half - 10.0F) / 80.0F);
        CHECK(mistShare(50.0F, s) == Approx(std::pow(0.5F, p)).epsilon(1e-5));
    }
}

TEST_CASE("the picture follows the share, at every length of row", "[steps][mist]") {
    const MistStepSettings s{.begins = 2.0F, .half = 9.0F, .full = 40.0F};
    for (const int width : {1, 3, 8, 67}) {
        PassSet set = test::greyFrame(width, 1, 0.5F);
        set.put(test::passOf({PassKind::Depth, {}}, width, 1,
                             [](int x, int, int) { return 0.7F * static_cast<float>(x); }));
        const Image out = test::finished(
            set,
            test::recipeOf(
                R"({"step":"mist","settings":{"begins":2,"half":9,"full":40,"colour":[2,0,1]}})"));
        for (int x = 0; x < width; ++x) {
            const float share = mistShare(0.7F * static_cast<float>(x), s);
            CHECK(out(x, 0, 0) == Approx(0.5F + (2.0F - 0.5F) * share).epsilon(2e-5));
        }
    }
}

TEST_CASE("a mist follows its pass where it is asked to, and alpha dims its colour",
          "[steps][mist]") {
    PassSet set = test::greyFrame(4, 1, 0.25F);
    set.passes[0].image.append(Image(4, 1, {"A"}, 0.5F));
    set.put(test::passOf({PassKind::Mist, {}}, 4, 1,
                         [](int x, int, int) { return 0.25F * static_cast<float>(x); }));
    const Image out = test::finished(
        set, test::recipeOf(R"({"step":"mist","settings":{"source":"pass","colour":[1,1,1]}})"));
    for (int x = 0; x < 4; ++x)
        CHECK(out(x, 0, 1) == Approx(0.25F + 0.25F * static_cast<float>(x) * 0.25F));
    CHECK(out(3, 0, 3) == 0.5F);
}

TEST_CASE("several mists in one recipe follow one another", "[steps][mist]") {
    PassSet set = test::greyFrame(1, 1, 1.0F);
    set.put(test::passOf({PassKind::Depth, {}}, 1, 1, [](int, int, int) { return 30.0F; }));
    const std::string one =
        R"({"step":"mist","settings":{"begins":0,"half":30,"full":60,"colour":[0,0,0]}})";
    CHECK(test::finished(set, test::recipeOf(one + "," + one))(0, 0, 0) == Approx(0.25F));
}
