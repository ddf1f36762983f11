#include "core/recipe/picture_air.h"

#include "core/steps/fog.h"
#include "support/frames.h"

#include <catch2/catch.hpp>

using namespace noctis;
using namespace noctis::test;

namespace {

/// Rows from 3 m to 300 m away, orange near, blue far, with a blinding lamp in the distance.
PassSet scene() {
    PassSet set = greyFrame(60, 100);
    set.put(passOf({PassKind::Distance, {}}, 60, 100, [](int, int y, int) {
        return 3.0F * std::pow(100.0F, (99.0F - static_cast<float>(y)) / 99.0F);
    }));
    set.put(passOf({PassKind::Beauty, {}}, 60, 100, [](int x, int y, int c) {
        if (y < 4 && x < 4)
            return 900.0F;
        return y > 50 ? (c == 0 ? 0.6F : 0.2F) : (c == 2 ? 0.5F : 0.1F);
    }));
    return set;
}

}  // namespace

TEST_CASE("a picture's air begins before most things, and has the colour of the distance",
          "[steps][air]") {
    const auto air = pictureAir(scene());
    REQUIRE(air);
    CHECK(air->front == Approx(3.0F * std::pow(100.0F, 0.1F)).epsilon(0.05));
    CHECK(air->middle == Approx(30.0F).epsilon(0.05));
    CHECK(air->back == Approx(3.0F * std::pow(100.0F, 0.95F)).epsilon(0.05));
    REQUIRE(air->colour);
    CHECK(air->colour->r == 0.1F);
    CHECK(air->colour->b == 0.5F);  // the lamp is too small to count
    CHECK_FALSE(pictureAir(greyFrame(8, 8)));
    PassSet level = greyFrame(8, 8);
    level.put(passOf({PassKind::Distance, {}}, 8, 8, [](int, int, int) { return 5.0F; }));
    CHECK_FALSE(pictureAir(level));
}

TEST_CASE("new fog veils the farthest things of any scene, and mist and focus fit it too",
          "[steps][air]") {
    for (const float scale : {0.01F, 1.0F, 40.0F}) {
        PassSet set = scene();
        Image& image = set.find(std::string_view("distance"))->image;
        float* distance = image.editPlane(0);
        for (std::ptrdiff_t i = 0; i < image.rowStride() * image.height(); ++i)
            distance[i] *= scale;
        INFO(scale);
        const Step fog = stepCatalogue().newStep("fog", {}, set);
        FogSettings s;
        s.start = fog.settings.number("start");
        s.density = fog.settings.number("density");
        CHECK(fogTransmittance(4.0F * scale, s) > 0.98F);
        CHECK(fogTransmittance(240.0F * scale, s) == Approx(0.25F).margin(0.05));
        const Step mist = stepCatalogue().newStep("mist", {}, set);
        CHECK(mist.settings.number("begins") < mist.settings.number("half"));
        CHECK(mist.settings.number("half") < mist.settings.number("full"));
    }
    PassSet set = greyFrame(40, 40);
    set.put(passOf({PassKind::Depth, {}}, 40, 40,
                   [](int, int y, int) { return y < 10 ? 90.0F : 7.36F; }));
    CHECK(stepCatalogue().newStep("depth_of_field", {}, set).settings.number("focus") ==
          Approx(7.4F));
}

TEST_CASE("distances are rounded to what one would type", "[steps][air]") {
    CHECK(roundDigits(7.356F) == Approx(7.4F));
    CHECK(roundDigits(1234.0F) == Approx(1200.0F));
    CHECK(roundDigits(0.0377F) == Approx(0.038F));
}
