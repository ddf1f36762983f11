#include "core/passes/frame_name.h"

#include <catch2/catch.hpp>

using namespace noctis;
using Paths = std::vector<std::filesystem::path>;

TEST_CASE("numbered frames are no passes of one frame", "[passes]") {
    Paths left;
    const Paths kept = firstFrames({"/a/quay.0003.exr", "/a/quay.0002.exr", "/a/depth.exr",
                                    "/a/quay_z.0002.exr", "/b/quay.0001.exr"},
                                   &left);
    CHECK(kept ==
          Paths{"/a/quay.0002.exr", "/a/depth.exr", "/a/quay_z.0002.exr", "/b/quay.0001.exr"});
    CHECK(left == Paths{"/a/quay.0003.exr"});
    CHECK(firstFrames({"/a/layer 1.png", "/a/layer 2.png"}).size() == 2);
    CHECK(firstFrames({"/a/x.exr"}) == Paths{"/a/x.exr"});
    CHECK(firstFrames({}).empty());
}
