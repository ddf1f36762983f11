#include "core/dispatch/dither.h"
#include "core/dispatch/framing.h"
#include "core/image/error.h"
#include "support/files.h"

#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

Image ramp(int width, int height) {
    Image image(width, height, {"R", "G", "B", "A"}, 1.0F);
    for (int c = 0; c < 3; ++c)
        for (int y = 0; y < height; ++y)
            for (int x = 0; x < width; ++x)
                image.editPlane(c)[image.rowStride() * y + x] =
                    static_cast<float>(x) + 100.0F * static_cast<float>(y);
    return image;
}

std::pair<int, int> sizeOf(const Image& image) { return {image.width(), image.height()}; }

}  // namespace

TEST_CASE("a crop keeps every bit, at the full size and at a part of it", "[dispatch][framing]") {
    const Image picture = ramp(40, 30);
    Framing framing;
    CHECK(framed(picture, framing)(7, 9, 0) == picture(7, 9, 0));
    framing.crop = cropFromText("8,4,16,12");
    const Image part = framed(picture, framing);
    REQUIRE(part.width() == 16);
    REQUIRE(part.height() == 12);
    CHECK(part(3, 5, 1) == picture(11, 9, 1));
    CHECK(part(15, 11, 0) == picture(23, 15, 0));
    const Image quarter = framed(ramp(10, 8), framing, 4);
    CHECK(quarter.width() == 4);
    CHECK(quarter.height() == 3);
    CHECK(quarter(0, 0, 0) == 2.0F + 100.0F);
    for (const char* beyond : {"30,0,20,10", "0,29,4,2"}) {
        framing.crop = cropFromText(beyond);
        CHECK_THROWS_AS(framed(picture, framing), Error);
    }
    for (const char* wrong :
         {"", "1,2,3", "1,2,0,4", "-1,2,3,4", "1,2,3,4,5", "a,b,c,d", "1;2;3;4"})
        CHECK_THROWS_AS(cropFromText(wrong), Error);
}

TEST_CASE("a size is one longer side, or two sides; the mean and the greatest value stay",
          "[dispatch][framing]") {
    Framing framing;
    sizeFromText("20", framing);
    CHECK(sizeOf(framed(ramp(40, 30), framing)) == std::pair{20, 15});
    CHECK(sizeOf(framed(ramp(30, 40), framing)) == std::pair{15, 20});
    const Image small = framed(ramp(40, 30), framing);
    // Each is the mean of four.
    CHECK(small(3, 2, 0) == Approx(6.5F + 450.0F));
    sizeFromText("80x60", framing);
    const Image large = framed(ramp(40, 30), framing);
    REQUIRE(large.width() == 80);
    // A step is 100 from row to row: the cubic is within a tenth of it.
    CHECK(large(40, 30, 0) == Approx(19.75F + 1475.0F).margin(10.0));
    // One lamp in the dark: no ring of negative light about it, and none brighter.
    Image lamp(9, 9, {"R", "G", "B"}, 0.0F);
    for (int c = 0; c < 3; ++c)
        lamp.editPlane(c)[lamp.rowStride() * 4 + 4] = 50.0F;
    sizeFromText("36", framing);
    const Image wide = framed(lamp, framing);
    for (int y = 0; y < 36; ++y)
        for (int x = 0; x < 36; ++x) {
            CHECK(wide(x, y, 0) >= 0.0F);
            CHECK(wide(x, y, 0) <= 50.0F);
        }
    framing.bySample = true;
    const Image pixels = framed(lamp, framing);
    CHECK(pixels(16, 16, 0) == 50.0F);
    CHECK(pixels(19, 19, 0) == 50.0F);
    CHECK(pixels(20, 16, 0) == 0.0F);
    for (const char* wrong : {"", "0", "20x", "x20", "20x0", "1x2x3", "99999999", "20 x 30"})
        CHECK_THROWS_AS(sizeFromText(wrong, framing), Error);
}

TEST_CASE("a letterbox leaves its ratio between black bars, and the size as it was",
          "[dispatch][framing]") {
    Framing framing;
    framing.letterbox = letterboxFromText("2:1");
    const Image wide = framed(ramp(40, 30), framing);
    CHECK(wide.height() == 30);
    CHECK(wide(20, 4, 0) == 0.0F);
    CHECK(wide(20, 4, 3) == 1.0F);
    CHECK(wide(20, 5, 0) == ramp(40, 30)(20, 5, 0));
    CHECK(wide(20, 24, 0) == ramp(40, 30)(20, 24, 0));
    CHECK(wide(20, 25, 0) == 0.0F);
    framing.letterbox = letterboxFromText("1");
    const Image narrow = framed(ramp(40, 30), framing);
    CHECK(narrow(4, 20, 0) == 0.0F);
    CHECK(narrow(5, 20, 0) == ramp(40, 30)(5, 20, 0));
    CHECK(letterboxFromText("2.39") == Approx(2.39F));
    for (const char* wrong : {"", "0", "-2", "16:0", "1:2:3", "wide"})
        CHECK_THROWS_AS(letterboxFromText(wrong), Error);
}

TEST_CASE("dithering keeps the mean between two steps and what lies on one", "[dispatch][dither]") {
    constexpr int kSize = 128;
    for (const float between : {0.0F, 0.1F, 0.5F, 0.8F, 1.0F}) {
        CAPTURE(between);
        const Image grey(kSize, kSize, {"R", "G", "B", "A"}, (100.0F + between) / 255.0F);
        const Image out = dithered(grey, 255);
        double sum = 0.0;
        for (int y = 0; y < kSize; ++y)
            for (int x = 0; x < kSize; ++x)
                sum += std::round(255.0 * static_cast<double>(out(x, y, 0)));
        CHECK(sum / kSize / kSize == Approx(100.0 + static_cast<double>(between)).margin(0.015));
        CHECK(out(3, 4, 3) == grey(3, 4, 3));
    }
    const Image black(kSize, kSize, {"R", "G", "B"}, 0.0F);
    const Image out = dithered(black, 255);
    for (int y = 0; y < kSize; ++y)
        for (int x = 0; x < kSize; ++x)
            REQUIRE(std::abs(out(x, y, 1)) < 0.5F / 255.0F);
}
