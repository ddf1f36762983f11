#include "core/steps/grade.h"

#include "support/files.h"
#include "support/frames.h"

#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;

TEST_CASE("a grade is neutral as it starts, bit for bit", "[steps][grade]") {
    PassSet set = test::greyFrame(40, 30);
    set.passes[0].image = test::ramp(40, 30, {"R", "G", "B"});
    set.passes[0].image.editPlane(0)[3] = -0.0F;
    set.passes[0].image.editPlane(1)[4] = 1e-42F;
    CHECK(test::sameBits(test::finished(set, test::recipeOf(R"({"step":"grade"})")),
                         set.passes[0].image));
}

TEST_CASE("each part of a grade does what it says", "[steps][grade]") {
    const LinearRgb colour{0.4F, 0.2F, 0.1F};
    const float light = 0.2126F * 0.4F + 0.7152F * 0.2F + 0.0722F * 0.1F;
    CHECK(graded(colour, {.exposure = 1.5F}).r == Approx(0.4F * std::exp2(1.5F)));
    CHECK(graded(colour, {.saturation = 0.0F}).r == Approx(light));
    CHECK(graded(colour, {.saturation = 0.0F}).b == Approx(light));
    CHECK(graded(colour, {.saturation = 2.0F}).g == Approx(light + 2.0F * (0.2F - light)));
    const LinearRgb ranged = graded(colour, {.black = 0.1F, .white = 0.4F});
    CHECK(ranged.r == Approx(1.0F));
    CHECK(ranged.g == Approx(1.0F / 3.0F));
    CHECK(ranged.b == Approx(0.0F).margin(1e-6));
    CHECK(graded(colour, {.gamma = 2.0F}).r == Approx(std::sqrt(0.4F)).epsilon(1e-5));
    const GradeSettings contrast{.contrast = 1.7F, .pivot = 0.2F};
    CHECK(graded(colour, contrast).g == Approx(0.2F).epsilon(1e-5));  // the pivot stays
    CHECK(graded(colour, contrast).r == Approx(0.2F * std::pow(2.0F, 1.7F)).epsilon(1e-5));
    CHECK(graded({-0.4F, 0.0F, 0.0F}, {.gamma = 2.0F}).r == Approx(-std::sqrt(0.4F)).epsilon(1e-5));
}

TEST_CASE("white balance makes the light of its temperature neutral, and more is warmer",
          "[steps][grade]") {
    const LinearRgb grey{0.5F, 0.5F, 0.5F};
    const LinearRgb warm = graded(grey, {.temperature = 9000.0F});
    CHECK(warm.r > 0.52F);
    CHECK(warm.b < 0.48F);
    const LinearRgb cool = graded(grey, {.temperature = 4000.0F});
    CHECK(cool.r < 0.45F);
    CHECK(cool.b > 0.55F);
    // Illuminant A, 2856 K, in linear Rec.709 with its Y at 1 (x 0.44757, y 0.40745), becomes grey.
    const LinearRgb tungsten{1.845F, 0.826F, 0.233F};
    const LinearRgb balanced = graded(tungsten, {.temperature = 2856.0F});
    CHECK(balanced.r == Approx(balanced.g).epsilon(0.08));
    CHECK(balanced.b == Approx(balanced.g).epsilon(0.12));
    // Continuous through the joints of the formula and through neutral.
    for (const float kelvin : {2222.0F, 4000.0F, 6500.0F})
        CHECK(graded(grey, {.temperature = kelvin - 1.0F}).r ==
              Approx(graded(grey, {.temperature = kelvin + 1.0F}).r).margin(2e-3));
    const LinearRgb magenta = graded(grey, {.tint = 1.0F});
    CHECK(magenta.g < magenta.r);
    CHECK(magenta.g < magenta.b);
}

TEST_CASE("a grade works on straight colour where the picture has alpha", "[steps][grade]") {
    PassSet set = test::greyFrame(1, 1, 0.2F);
    set.passes[0].image.append(Image(1, 1, {"A"}, 0.5F));
    const Image out =
        test::finished(set, test::recipeOf(R"({"step":"grade","settings":{"gamma":2}})"));
    CHECK(out(0, 0, 0) == Approx(0.5F * std::sqrt(0.4F)).epsilon(1e-5));
    CHECK(out(0, 0, 3) == 0.5F);
}
