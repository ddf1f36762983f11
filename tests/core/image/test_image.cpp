#include "core/image/image.h"

#include "core/image/error.h"
#include "core/image/resample.h"
#include "core/image/tiles.h"
#include "support/files.h"

#include <algorithm>
#include <atomic>
#include <cstdint>

#include <catch2/catch.hpp>

using namespace noctis;

TEST_CASE("rows of an image start on 64-byte boundaries", "[image]") {
    for (const int width : {1, 15, 16, 17, 1920}) {
        const Image image = Image::filled(width, 3, 2, 0.5F);
        for (int c = 0; c < 2; ++c)
            for (int y = 0; y < 3; ++y)
                CHECK(reinterpret_cast<std::uintptr_t>(image.row(c, y)) % 64 == 0);
    }
}

TEST_CASE("copies of an image share their planes until one is edited", "[image]") {
    const Image first = Image::filled(8, 8, 3, 1.0F);
    Image second = first;
    CHECK(second.plane(0) == first.plane(0));

    second.editPlane(1)[0] = 5.0F;

    CHECK(second.plane(0) == first.plane(0));
    CHECK(second.plane(1) != first.plane(1));
    CHECK(first(0, 0, 1) == 1.0F);
    CHECK(second(0, 0, 1) == 5.0F);
}

TEST_CASE("channels are found by name and selected without copying", "[image]") {
    const Image image = test::ramp(4, 4, {"R", "G", "B", "Z"});
    CHECK(image.channel("Z") == 3);
    CHECK(image.channel("A") == -1);

    const Image depth = image.select({3}, {"depth"});

    CHECK(depth.channels() == 1);
    CHECK(depth.channelName(0) == "depth");
    CHECK(depth.plane(0) == image.plane(3));
}

TEST_CASE("images of impossible sizes are refused", "[image]") {
    CHECK_THROWS_AS(Image::filled(0, 5, 1, 0.0F), Error);
    CHECK_THROWS_AS(Image::filled(5, -1, 1, 0.0F), Error);
    CHECK_THROWS_AS(Image::filled(100'000, 2, 1, 0.0F), Error);
    CHECK_THROWS_AS(Image::filled(60'000, 60'000, 1, 0.0F), Error);
}

TEST_CASE("images of different sizes can't be joined", "[image]") {
    Image image = Image::filled(4, 4, 1, 0.0F);
    CHECK_THROWS_AS(image.append(Image::filled(5, 4, 1, 0.0F)), Error);
    image.append(Image::filled(4, 4, 3, 0.0F));
    CHECK(image.channels() == 4);
}

TEST_CASE("shrinking averages colours and picks data", "[image][resample]") {
    Image image(4, 2, {"Y"});
    float* plane = image.editPlane(0);
    for (int x = 0; x < 4; ++x) {
        plane[x] = x < 2 ? 1.0F : 3.0F;
        plane[image.rowStride() + x] = x < 2 ? 2.0F : kNothingHit;
    }
    const Image mean = shrinkByMean(image, 2);
    const Image centre = shrinkByCentre(image, 2);
    CHECK(mean.width() == 2);
    CHECK(mean.height() == 1);
    CHECK(mean(0, 0, 0) == 1.5F);
    CHECK(centre(0, 0, 0) == 2.0F);
    CHECK(centre(1, 0, 0) == kNothingHit);
}

TEST_CASE("shrinking keeps what is left over at the edges", "[image][resample]") {
    const Image small = shrinkByMean(Image::filled(5, 7, 1, 2.0F), 3);
    CHECK(small.width() == 2);
    CHECK(small.height() == 3);
    CHECK(small(1, 2, 0) == 2.0F);
}
