#include "core/image/colour.h"

#include "core/image/curve_table.h"
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
    "the soft shoulder rises steadily, keeps middle grey and never clips before its brightest",
    "[image][colour]") {
    float last = -1.0F;
    for (float light = 0.0001F; light < 7.0F; light *= 1.2F) {
        const float shown =
            viewed(Image::filled(1, 1, 3, light), ViewTransform::SoftShoulder, 0.0F)(0, 0, 0);
        CHECK(shown >= last);
        CHECK(shown <= 1.0F);
        last = shown;
    }
    CHECK(viewed(Image::filled(1, 1, 3, 0.18F), ViewTransform::SoftShoulder, 0.0F)(0, 0, 0) ==
          Approx(0.461F).margin(0.01));
    CHECK(viewed(Image::filled(1, 1, 3, 2.0F), ViewTransform::SoftShoulder, 0.0F)(0, 0, 0) < 0.99F);
}

TEST_CASE("view transforms are found by their names", "[image][colour]") {
    for (const ViewTransform view : {ViewTransform::Plain, ViewTransform::SoftShoulder})
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
        return viewed(Image::filled(1, 1, 3, linear), ViewTransform::SoftShoulder, 0.0F)(0, 0, 0);
    };
    CHECK(shown(0.0F) < 0.5F / 255.0F);
    CHECK(shown(0.18F) == Approx(srgbFromLinear(0.18F)).margin(0.002));
    const float step = std::exp2(0.1F);
    const float below = shown(0.18F) - shown(0.18F / step);
    const float above = shown(0.18F * step) - shown(0.18F);
    CHECK(above == Approx(below).epsilon(0.03));
}

TEST_CASE("a curve's table follows it, and has an answer to everything", "[image][colour]") {
    const auto follows = [](double (*curve)(double)) {
        const CurveTable table(curve);
        double most = 0.0;
        for (double x = 1e-6; x < 4000.0; x *= 1.00037)
            most = std::max(most, std::abs(static_cast<double>(table.at(static_cast<float>(x))) -
                                           curve(static_cast<double>(static_cast<float>(x)))) /
                                      std::max(curve(x), 1e-3));
        return most;
    };
    CHECK(follows([](double x) { return std::pow(x, 1.0 / 2.4); }) < 3e-6);
    CHECK(follows([](double x) { return std::log1p(x); }) < 3e-6);
    CHECK(follows([](double x) { return 3.0 * x; }) < 1e-6);

    const CurveTable table([](double x) { return 1.0 + std::sqrt(x); });
    CHECK(table.at(0.0F) == 1.0F);
    CHECK(table.at(-3.0F) == 1.0F);
    CHECK(table.at(std::nanf("")) == 1.0F);
    CHECK(table.at(4096.0F) == 65.0F);
    CHECK(table.at(std::numeric_limits<float>::infinity()) == 65.0F);
    CHECK(table.at(std::nextafter(4096.0F, 0.0F)) == Approx(65.0F));
    CHECK(table.at(0x1p-21F) > 1.0F);
}

TEST_CASE("the views show what is no light as black, and what is endless as white",
          "[image][colour]") {
    Image odd = Image::filled(3, 1, 3, 0.0F);
    for (int c = 0; c < 3; ++c) {
        odd.editPlane(c)[0] = std::nanf("");
        odd.editPlane(c)[1] = std::numeric_limits<float>::infinity();
        odd.editPlane(c)[2] = -2.0F;
    }
    for (const ViewTransform view : {ViewTransform::Plain, ViewTransform::SoftShoulder}) {
        const Image shown = viewed(odd, view, 1.0F);
        CHECK(shown(0, 0, 0) == 0.0F);
        CHECK(shown(1, 0, 1) == 1.0F);
        CHECK(shown(2, 0, 2) == 0.0F);
    }
}

TEST_CASE("plain sRGB is the standard's, and the shoulder mixes colours towards white",
          "[image][colour]") {
    for (const float light : {0.0F, 0.001F, 0.0031308F, 0.02F, 0.18F, 0.7F, 1.0F})
        CHECK(viewed(Image::filled(1, 1, 3, light), ViewTransform::Plain, 0.0F)(0, 0, 0) ==
              Approx(srgbFromLinear(light)).margin(2e-6));
    Image red = Image::filled(1, 1, 3, 0.0F);
    red.editPlane(0)[0] = 4.0F;
    const Image shown = viewed(red, ViewTransform::SoftShoulder, 0.0F);
    const auto grey = [](float light) {
        return viewed(Image::filled(1, 1, 3, light), ViewTransform::SoftShoulder, 0.0F)(0, 0, 0);
    };
    CHECK(shown(0, 0, 0) == Approx(grey(3.6F)).epsilon(1e-5));
    CHECK(shown(0, 0, 1) == Approx(grey(0.2F)).epsilon(1e-5));
    CHECK(shown(0, 0, 2) == shown(0, 0, 1));
}
