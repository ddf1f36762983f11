#include "core/image/psnr.h"

#include "core/image/colour.h"
#include "core/image/error.h"

#include <catch2/catch.hpp>

#include <cmath>

using namespace noctis;

TEST_CASE("an even difference of a tenth of what is seen is 20 dB", "[image][psnr]") {
    const Image a = Image::filled(5, 3, 3, linearFromSrgb(0.4F));
    const Image b = Image::filled(5, 3, 3, linearFromSrgb(0.5F));
    CHECK(psnrOf(a, b) == Approx(20.0).margin(0.01));
    CHECK(std::isinf(psnrOf(a, a)));
}

TEST_CASE("what is brighter than white or darker than black is seen as white and black",
          "[image][psnr]") {
    CHECK(std::isinf(psnrOf(Image::filled(2, 2, 1, 1.0F), Image::filled(2, 2, 1, 900.0F))));
    CHECK(std::isinf(psnrOf(Image::filled(2, 2, 1, 0.0F), Image::filled(2, 2, 1, -3.0F))));
}

TEST_CASE("pictures of different sizes are not compared", "[image][psnr]") {
    CHECK_THROWS_AS(psnrOf(Image::filled(2, 2, 1, 0.0F), Image::filled(2, 3, 1, 0.0F)), Error);
}
