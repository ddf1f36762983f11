#include "core/image/resample.h"

#include "support/files.h"

#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;

TEST_CASE("colours shrink by their mean, and the whole keeps its light", "[image][resample]") {
    const Image picture = test::ramp(16, 8, {"R", "G"});
    const Image small = shrinkByMean(picture, 4);
    REQUIRE(small.width() == 4);
    REQUIRE(small.height() == 2);
    double before = 0.0;
    double after = 0.0;
    for (int y = 0; y < 8; ++y)
        for (int x = 0; x < 16; ++x)
            before += static_cast<double>(picture(x, y, 1)) / (16 * 8);
    for (int y = 0; y < 2; ++y)
        for (int x = 0; x < 4; ++x)
            after += static_cast<double>(small(x, y, 1)) / (4 * 2);
    CHECK(after == Approx(before).epsilon(1e-6));
}

TEST_CASE("data shrinks by one of its own values, never by a blend", "[image][resample]") {
    Image depth(12, 12, {"Z"}, 5.0F);
    for (int y = 0; y < 12; ++y)
        for (int x = 6; x < 12; ++x)
            depth.editPlane(0)[depth.rowStride() * y + x] = kNothingHit;
    for (const int factor : {2, 3, 4}) {
        const Image small = shrinkByCentre(depth, factor);
        for (int y = 0; y < small.height(); ++y)
            for (int x = 0; x < small.width(); ++x)
                CHECK((small(x, y, 0) == 5.0F || small(x, y, 0) == kNothingHit));
    }
}

TEST_CASE("sizes that don't divide keep every pixel that is whole, and one at least",
          "[image][resample]") {
    for (const int width : {1, 3, 7, 10}) {
        const Image image = test::ramp(width, 5, {"Y"});
        for (const int factor : {1, 2, 4}) {
            CHECK(shrinkByMean(image, factor).width() >= 1);
            CHECK(shrinkByMean(image, factor).width() == shrinkByCentre(image, factor).width());
            CHECK(shrinkByMean(image, factor).height() == shrinkByCentre(image, factor).height());
        }
    }
    const Image same = shrinkByMean(test::ramp(5, 4, {"Y"}), 1);
    CHECK(test::sameBits(same, test::ramp(5, 4, {"Y"})));
}
