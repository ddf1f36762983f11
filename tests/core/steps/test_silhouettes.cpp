#include "core/steps/silhouettes.h"

#include <cmath>
#include <functional>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

Image depthOf(int width, int height, const std::function<float(int, int)>& at) {
    Image depth(width, height, {"Z"});
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x)
            depth.editPlane(0)[depth.rowStride() * y + x] = at(x, y);
    return depth;
}

}  // namespace

TEST_CASE("light near silhouettes fades over its width, on the nearer side alone", "[steps][rim]") {
    // A post before a wall that the sky ends.
    const Image share =
        nearSilhouettes(depthOf(80, 60,
                                [](int x, int y) {
                                    return x >= 30 && x < 50 ? 4.0F : y < 20 ? INFINITY : 9.0F;
                                }),
                        8.0F);
    CHECK(share(30, 40, 0) == 1.0F);
    CHECK(share(34, 40, 0) == Approx(0.5F).margin(0.01));
    CHECK(share(40, 40, 0) == 0.0F);
    CHECK(share(28, 40, 0) == 0.0F);  // the wall behind
    CHECK(share(10, 20, 0) == 1.0F);  // where the wall ends
    CHECK(share(10, 10, 0) == 0.0F);  // the sky
}

TEST_CASE("a thing close before another has an edge where their objects are known",
          "[steps][rim]") {
    // A crate 5 cm before another one, on the same ground.
    const auto isFirst = [](int x, int y) { return x >= 20 && x < 40 && y >= 20; };
    const Image depth = depthOf(80, 60, [&](int x, int y) { return isFirst(x, y) ? 5.0F : 5.05F; });
    CHECK(nearSilhouettes(depth, 6.0F)(20, 40, 0) == 0.0F);
    Image objects(80, 60, {"id", "share"});
    for (int y = 0; y < 60; ++y)
        for (int x = 0; x < 80; ++x)
            objects.editPlane(0)[objects.rowStride() * y + x] = isFirst(x, y) ? 1.5F : 2.5F;
    const Image share = nearSilhouettes(depth, 6.0F, objects);
    CHECK(share(20, 40, 0) == 1.0F);
    CHECK(share(23, 40, 0) == Approx(0.5F).margin(0.01));
    CHECK(share(30, 40, 0) == 0.0F);
    CHECK(share(18, 40, 0) == 0.0F);  // the one behind
    // Where two touch at the same distance, nothing ends.
    const Image even = depthOf(80, 60, [](int, int) { return 5.0F; });
    CHECK(nearSilhouettes(even, 6.0F, objects)(20, 40, 0) == 0.0F);
}

TEST_CASE("a plane that runs to the horizon has no edges but there", "[steps][rim]") {
    // From 1.6 m above, 60 degrees high: depth grows as one over the height below the horizon.
    const Image share =
        nearSilhouettes(depthOf(20, 200,
                                [](int, int y) {
                                    const float down =
                                        (static_cast<float>(y) + 0.5F - 60.0F) / 170.0F;
                                    return down > 0.0F ? 1.6F / down : INFINITY;
                                }),
                        5.0F);
    for (int y = 70; y < 200; ++y)
        CHECK(share(10, y, 0) == 0.0F);
    CHECK(share(10, 60, 0) == 1.0F);
    CHECK(nearSilhouettes(depthOf(8, 8, [](int, int) { return INFINITY; }), 5.0F)(4, 4, 0) == 0.0F);
}
