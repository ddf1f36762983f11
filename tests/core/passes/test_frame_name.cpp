#include "core/passes/frame_name.h"

#include "support/files.h"

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

TEST_CASE("the frames beside a file are found by their numbers", "[passes]") {
    const test::Folder folder;
    for (const char* name : {"quay.0003.exr", "quay.0012.exr", "quay.0001.exr", "quay_z.0002.exr",
                             "quay.0004.png", "quay.exr", "quay.12345678901234.exr"})
        folder.write(name, "x");
    CHECK(framesBeside(folder / "quay.0003.exr") == std::vector<int>{1, 3, 12});
    CHECK(framesBeside(folder / "quay.exr").empty());
    CHECK(framesBeside("/no such folder/quay.0003.exr").empty());
    CHECK(frameOf("/a/quay.0012.exr") == 12);
    CHECK_FALSE(frameOf("/a/layer 2.exr"));
    CHECK(atFrame("/a/quay.0012.exr", 7) == std::filesystem::path("/a/quay.0007.exr"));
    CHECK(atFrame("/a/quay.012_z.exr", 1234) == std::filesystem::path("/a/quay.1234_z.exr"));
    CHECK(atFrame("/a/quay.exr", 7) == std::filesystem::path("/a/quay.exr"));
}
