#include "core/steps/distance_tint.h"

#include "support/frames.h"

#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;

TEST_CASE("a distance tint follows its gradient from nearest to farthest",
          "[steps][distance_tint]") {
    const DistanceTintSettings s{
        .nearest = 10.0F,
        .farthest = 50.0F,
        .colours = {{{0.0F, {2, 1, 0}}, {0.5F, {1, 1, 1}}, {1.0F, {0, 1, 2}}}}};
    CHECK(distanceTint(0.0F, s) == LinearRgb{2, 1, 0});
    CHECK(distanceTint(10.0F, s) == LinearRgb{2, 1, 0});
    CHECK(distanceTint(20.0F, s).r == Approx(1.5F));
    CHECK(distanceTint(30.0F, s) == LinearRgb{1, 1, 1});
    CHECK(distanceTint(40.0F, s).b == Approx(1.5F));
    CHECK(distanceTint(80.0F, s) == LinearRgb{0, 1, 2});
    CHECK(distanceTint(kNothingHit, s) == LinearRgb{0, 1, 2});
    CHECK(distanceTint(std::nanf(""), s) == LinearRgb{1, 1, 1});
    // Two distances in one: a hard change there.
    const DistanceTintSettings sudden{.nearest = 10.0F, .farthest = 10.0F, .colours = s.colours};
    CHECK(distanceTint(9.9F, sudden) == LinearRgb{2, 1, 0});
    CHECK(distanceTint(10.1F, sudden) == LinearRgb{0, 1, 2});
}

TEST_CASE("the picture is multiplied by the tint, and alpha stays", "[steps][distance_tint]") {
    PassSet set = test::greyFrame(64, 2, 0.5F);
    set.passes[0].image.append(Image(64, 2, {"A"}, 0.25F));
    set.put(test::passOf({PassKind::Depth, {}}, 64, 2,
                         [](int x, int, int) { return static_cast<float>(x); }));
    const Image out = test::finished(
        set,
        test::recipeOf(
            R"({"step":"distance_tint","settings":{"nearest":8,"farthest":40,"colours":[{"at":0,"colour":[1,0,4]},{"at":1,"colour":[3,2,0]}]}})"));
    const DistanceTintSettings s{
        .nearest = 8.0F, .farthest = 40.0F, .colours = {{{0.0F, {1, 0, 4}}, {1.0F, {3, 2, 0}}}}};
    for (int x = 0; x < 64; ++x) {
        const LinearRgb tint = distanceTint(static_cast<float>(x), s);
        CHECK(out(x, 1, 0) == Approx(0.5F * tint.r));
        CHECK(out(x, 1, 1) == Approx(0.5F * tint.g));
        CHECK(out(x, 1, 2) == Approx(0.5F * tint.b));
        CHECK(out(x, 1, 3) == 0.25F);
    }
}

TEST_CASE("a new distance tint spans the picture's own distances", "[steps][distance_tint]") {
    PassSet set = test::greyFrame(10, 10, 0.5F);
    set.put(test::passOf({PassKind::Distance, {}}, 10, 10, [](int x, int y, int) {
        return 200.0F + static_cast<float>(x + 10 * y);
    }));
    const Step step = stepCatalogue().newStep("distance_tint", {}, set);
    CHECK(step.settings.number("nearest") == Approx(210.0F).epsilon(0.03));
    CHECK(step.settings.number("farthest") == Approx(294.0F).epsilon(0.03));
}
