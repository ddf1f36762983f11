#include "core/image/colour.h"

#include "core/image/error.h"
#include "support/files.h"

#include <catch2/catch.hpp>

using namespace noctis;

TEST_CASE("the sRGB curve has the values of its standard", "[image][colour]") {
    CHECK(linearFromSrgb(0.0F) == 0.0F);
    CHECK(linearFromSrgb(1.0F) == Approx(1.0F));
    CHECK(linearFromSrgb(0.5F) == Approx(0.21404114F).epsilon(1e-5));
    CHECK(srgbFromLinear(0.18F) == Approx(0.46135613F).epsilon(1e-5));
}

TEST_CASE("whole pictures follow the same curve, and alpha stays", "[image][colour]") {
    Image image = Image::filled(3, 1, 4, 0.5F);
    const Image linear = linearFromSrgb(image);
    CHECK(linear(1, 0, 0) == Approx(linearFromSrgb(0.5F)).epsilon(1e-4));
    CHECK(linear(1, 0, linear.channel("A")) == 0.5F);
    const Image back = srgbFromLinear(linear);
    CHECK(back(2, 0, 1) == Approx(0.5F).epsilon(1e-4));
}

TEST_CASE("the plain view is the sRGB curve, cut at white, with exposure in stops",
          "[image][colour]") {
    const Image grey = Image::filled(2, 1, 3, 0.18F);
    CHECK(viewed(grey, ViewTransform::Plain, 0.0F)(0, 0, 0) == Approx(0.46135613F).epsilon(1e-4));
    CHECK(viewed(grey, ViewTransform::Plain, 1.0F)(0, 0, 0) ==
          Approx(srgbFromLinear(0.36F)).epsilon(1e-4));
    CHECK(viewed(Image::filled(1, 1, 3, 9.0F), ViewTransform::Plain, 0.0F)(0, 0, 0) == 1.0F);
}

TEST_CASE(
    "the film-like view rises steadily, keeps middle grey and never clips before its brightest",
    "[image][colour]") {
    float last = -1.0F;
    for (float light = 0.0001F; light < 7.0F; light *= 1.2F) {
        const float shown =
            viewed(Image::filled(1, 1, 3, light), ViewTransform::Film, 0.0F)(0, 0, 0);
        CHECK(shown >= last);
        CHECK(shown <= 1.0F);
        last = shown;
    }
    CHECK(viewed(Image::filled(1, 1, 3, 0.18F), ViewTransform::Film, 0.0F)(0, 0, 0) ==
          Approx(0.461F).margin(0.01));
    CHECK(viewed(Image::filled(1, 1, 3, 2.0F), ViewTransform::Film, 0.0F)(0, 0, 0) < 0.99F);
}

TEST_CASE("view transforms are found by their names", "[image][colour]") {
    for (const ViewTransform view : {ViewTransform::Plain, ViewTransform::Film})
        CHECK(viewTransformNamed(viewTransformId(view)) == view);
    CHECK_THROWS_AS(viewTransformNamed("sepia"), Error);
}

TEST_CASE("values that are no numbers do not spread through a view", "[image][colour]") {
    Image image = Image::filled(2, 1, 3, 0.2F);
    image.editPlane(0)[0] = std::numeric_limits<float>::quiet_NaN();
    const Image shown = viewed(image, ViewTransform::Plain, 0.0F);
    CHECK(shown(1, 0, 0) == Approx(srgbFromLinear(0.2F)).epsilon(1e-4));
    CHECK((shown(0, 0, 0) >= 0.0F && shown(0, 0, 0) <= 1.0F));
}

TEST_CASE("the soft shoulder is black at black, and has no kink at middle grey",
          "[image][colour]") {
    const auto shown = [](float linear) {
        return viewed(Image::filled(1, 1, 3, linear), ViewTransform::Film, 0.0F)(0, 0, 0);
    };
    CHECK(shown(0.0F) < 0.5F / 255.0F);
    CHECK(shown(0.18F) == Approx(srgbFromLinear(0.18F)).margin(0.002));
    const float step = std::exp2(0.1F);
    const float below = shown(0.18F) - shown(0.18F / step);
    const float above = shown(0.18F * step) - shown(0.18F);
    CHECK(above == Approx(below).epsilon(0.03));
}
