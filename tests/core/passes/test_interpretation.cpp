#include "core/passes/interpretation.h"

#include <cmath>
#include <limits>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

Interpretation reading(DepthCoding coding, bool nearBright = false) {
    Interpretation i;
    i.coding = coding;
    i.nearDistance = 2.0F;
    i.farDistance = 50.0F;
    i.nearBright = nearBright;
    return i;
}

/// Greys of a ground that runs away upwards: near at the bottom.
Image groundGreys(bool nearBright, bool withSky) {
    Image image(20, 30, {"Y"});
    for (int y = 0; y < 30; ++y)
        for (int x = 0; x < 20; ++x) {
            float far = 1.0F - static_cast<float>(y) / 29.0F;
            if (withSky && y < 8)
                far = 1.0F;
            image.editPlane(0)[image.rowStride() * y + x] = nearBright ? 1.0F - far : far;
        }
    return image;
}

}  // namespace

TEST_CASE("metres times a scale, with a background", "[passes][interpretation]") {
    Interpretation i;
    i.scale = 0.01F;
    i.backgroundFrom = 1e6F;
    CHECK(depthFromStored(250.0F, i) == Approx(2.5F));
    CHECK(depthFromStored(1e6F, i) == kNothingHit);
    CHECK(depthFromStored(0.0F, i) == kNothingHit);
    CHECK(depthFromStored(std::numeric_limits<float>::quiet_NaN(), i) == kNothingHit);
}

TEST_CASE("normalised depth runs evenly from near to far, whichever end is bright",
          "[passes][interpretation]") {
    CHECK(depthFromStored(0.0F, reading(DepthCoding::Normalised)) == 2.0F);
    CHECK(depthFromStored(0.5F, reading(DepthCoding::Normalised)) == 26.0F);
    CHECK(depthFromStored(1.0F, reading(DepthCoding::Normalised)) == 50.0F);
    CHECK(depthFromStored(1.0F, reading(DepthCoding::Normalised, true)) == 2.0F);
}

TEST_CASE("inverse depth runs evenly in one over the distance", "[passes][interpretation]") {
    CHECK(depthFromStored(0.0F, reading(DepthCoding::Inverse)) == Approx(2.0F));
    CHECK(depthFromStored(1.0F, reading(DepthCoding::Inverse)) == Approx(50.0F));
    CHECK(depthFromStored(0.5F, reading(DepthCoding::Inverse)) ==
          Approx(1.0 / (0.5 * (1.0 / 2.0 + 1.0 / 50.0))));
}

TEST_CASE("projected depth is what a graphics card stores", "[passes][interpretation]") {
    for (const double z : {2.0, 3.0, 10.0, 49.0}) {
        const double n = 2.0;
        const double f = 50.0;
        const auto stored =
            static_cast<float>(f * (z - n) / (z * (f - n)));  // the usual 0..1 depth buffer
        CHECK(depthFromStored(stored, reading(DepthCoding::Projected)) == Approx(z).epsilon(1e-4));
        CHECK(depthFromStored(1.0F - stored, reading(DepthCoding::Projected, true)) ==
              Approx(z).epsilon(1e-4));
    }
}

TEST_CASE("what is written reads back", "[passes][interpretation]") {
    for (const DepthCoding coding : {DepthCoding::Metres, DepthCoding::Normalised,
                                     DepthCoding::Inverse, DepthCoding::Projected})
        for (const bool bright : {false, true})
            for (const float z : {2.5F, 7.0F, 31.0F})
                CHECK(depthFromStored(storedFromDepth(z, reading(coding, bright)),
                                      reading(coding, bright)) == Approx(z).epsilon(1e-4));
}

TEST_CASE("radial distances become planar depth", "[passes][interpretation]") {
    Interpretation i;
    i.radial = true;
    Camera camera = assumedCamera();
    const Image depth = depthFromStored(Image::filled(9, 9, 1, 10.0F), i, camera);
    CHECK(depth(4, 4, 0) == Approx(10.0F).epsilon(1e-5));
    const float cosine = cameraRay(camera, 0.5F, 0.5F, 9, 9).planarPerDistance;
    CHECK(depth(0, 0, 0) == Approx(10.0F * cosine).epsilon(1e-5));
}

TEST_CASE("grey depth is recognised with its bright end", "[passes][interpretation]") {
    for (const bool nearBright : {false, true}) {
        const Interpretation guess =
            guessInterpretation(groundGreys(nearBright, false), SampleType::Byte, {}, false);
        CHECK(guess.coding == DepthCoding::Normalised);
        CHECK(guess.nearBright == nearBright);
        CHECK_FALSE(guess.reason.empty());
    }
}

TEST_CASE("the far end of grey depth is background where much of the picture has exactly it",
          "[passes][interpretation]") {
    CHECK(guessInterpretation(groundGreys(false, true), SampleType::Float, {}, false)
              .backgroundFrom == 1.0F);
    CHECK(
        guessInterpretation(groundGreys(true, true), SampleType::Float, {}, false).backgroundFrom ==
        0.0F);
}

TEST_CASE("floats beyond 1 are metres, and huge ones the background", "[passes][interpretation]") {
    Image image = Image::filled(10, 10, 1, 12.0F);
    image.editPlane(0)[0] = 3.0F;
    image.editPlane(0)[1] = 1e10F;
    const Interpretation guess = guessInterpretation(image, SampleType::Float, {}, false);
    CHECK(guess.coding == DepthCoding::Metres);
    CHECK(guess.scale == 1.0F);
    CHECK(depthFromStored(1e10F, guess) == kNothingHit);
    CHECK(depthFromStored(12.0F, guess) == 12.0F);
}

TEST_CASE("negative floats are positions along the camera's axis", "[passes][interpretation]") {
    Image image = Image::filled(4, 4, 1, -6.0F);
    image.editPlane(0)[3] = -2.0F;
    const Interpretation guess = guessInterpretation(image, SampleType::Float, {}, false);
    CHECK(depthFromStored(-6.0F, guess) == 6.0F);
}

TEST_CASE("near and far of the metadata are taken", "[passes][interpretation]") {
    const Interpretation guess = guessInterpretation(groundGreys(false, false), SampleType::Float,
                                                     {{"near", 0.25F}, {"far", 80}}, false);
    CHECK(guess.nearDistance == 0.25F);
    CHECK(guess.farDistance == 80.0F);
}

TEST_CASE("a pass without any finite value is read without a crash", "[passes][interpretation]") {
    const Interpretation guess =
        guessInterpretation(Image::filled(3, 3, 1, kNothingHit), SampleType::Float, {}, false);
    CHECK_FALSE(guess.reason.empty());
}

TEST_CASE("codings are found by their names", "[passes][interpretation]") {
    for (const DepthCoding coding : {DepthCoding::Metres, DepthCoding::Normalised,
                                     DepthCoding::Inverse, DepthCoding::Projected})
        CHECK(depthCodingNamed(depthCodingName(coding)) == coding);
    CHECK_FALSE(depthCodingNamed("furlongs"));
}
