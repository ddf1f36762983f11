#include "core/image/plane_pool.h"

#include "core/image/image.h"

#include <catch2/catch.hpp>

using namespace noctis;

TEST_CASE("a large plane that is given back is used again", "[image]") {
    planesAtRest(true);
    const float* const first = [] {
        const Image image = Image::filled(640, 480, 1, 1.0F);
        return image.plane(0);
    }();
    REQUIRE(first != nullptr);
#ifdef __SANITIZE_ADDRESS__
    CHECK(planesAtRest() == 0);  // so that use after giving back is found
#else
    CHECK(planesAtRest() == sizeof(float) * 640 * 480);
    const Image again = Image::filled(640, 480, 1, 2.0F);
    CHECK(again.plane(0) == first);
    CHECK(again(639, 479, 0) == 2.0F);
    CHECK(planesAtRest() == 0);
    const Image other = Image::filled(640, 480, 1, 3.0F);
    CHECK(other.plane(0) != first);
#endif
}

TEST_CASE("what rests for reuse is bounded, and small planes don't rest", "[image]") {
    planesAtRest(true);
    {
        std::vector<Image> many;
        for (int i = 0; i < 12; ++i)
            many.push_back(Image::unset(4096, 2160, {"Y"}));
    }
    CHECK(planesAtRest() <= std::size_t{320} << 20U);
    CHECK(planesAtRest(true) == 0);
    { const Image small = Image::filled(16, 16, 1, 0.0F); }
    CHECK(planesAtRest() == 0);
}

TEST_CASE("planes start on 64-byte boundaries, new or used again", "[image]") {
    for (int i = 0; i < 3; ++i) {
        const Image image = Image::unset(333, 777, {"a", "b"});
        for (int c = 0; c < 2; ++c)
            CHECK(reinterpret_cast<std::uintptr_t>(image.row(c, i)) % 64 == 0);
    }
}
