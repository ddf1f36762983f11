#include "core/passes/pass_file.h"
#include "core/steps/sweep.h"
#include "support/files.h"
#include "support/frames.h"

#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

/// A wall that leads away, 1 m farther with each pixel, and a sky above it.
PassSet wall() {
    PassSet set = test::greyFrame(40, 4, 0.5F);
    set.put(test::passOf({PassKind::Distance, {}}, 40, 4, [](int x, int y, int) {
        return y == 0 ? kNothingHit : static_cast<float>(x);
    }));
    set.put(test::passOf({PassKind::Position, {}}, 40, 4,
                         [](int x, int, int c) { return c == 0 ? static_cast<float>(x) : 0.0F; }));
    return set;
}

constexpr const char* kBand = R"("distance":20,"width":6,"soft":0,"edge":0,"colour":[1,2,4])";

Image swept(const std::string& more) {
    return test::finished(wall(), test::recipeOf(R"({"step":"sweep","settings":{)" +
                                                 std::string(kBand) + more + "}}"));
}

}  // namespace

TEST_CASE("a sweep lights what lies within its band", "[steps][sweep]") {
    const Image out = swept(R"(,"strength":0.5)");
    CHECK(out(17, 2, 0) == 1.0F);
    CHECK(out(17, 2, 2) == 2.5F);
    CHECK(out(13, 2, 0) == 0.5F);
    CHECK(out(21, 2, 0) == 0.5F);
    CHECK(out(17, 0, 0) == 0.5F);  // the sky
}

TEST_CASE("behind the band its light dies along the trail", "[steps][sweep]") {
    const Image out = swept(R"(,"strength":1,"trail":10)");
    CHECK(out(17, 2, 0) == 1.5F);
    CHECK(out(9, 2, 0) == Approx(1.0F));
    CHECK(out(4, 2, 0) == Approx(0.5F));
    CHECK(out(21, 2, 0) == 0.5F);
}

TEST_CASE("the front edge of a sweep is its brightest", "[steps][sweep]") {
    SweepSettings s{.distance = 20.0F, .width = 4.0F, .soft = 1.0F, .trail = 5.0F, .edge = 2.0F};
    float most = 0.0F;
    float where = 0.0F;
    for (float metres = 1.0F; metres < 40.0F; metres += 0.05F) {
        if (sweepAt(s, metres) > most) {
            most = sweepAt(s, metres);
            where = metres;
        }
        CHECK(std::abs(sweepAt(s, metres + 0.01F) - sweepAt(s, metres)) < 0.1F);
    }
    CHECK(where == Approx(20.0F).margin(0.5));
    CHECK(most > 2.0F);
    CHECK(sweepAt(s, kNothingHit) == 0.0F);
    CHECK(sweepAt(s, 30.0F) < 1e-6F);
}

TEST_CASE("a sweep spreads from a point, and tints", "[steps][sweep]") {
    const Image out = swept(R"(,"from":"point","point":[30,0,0],"mode":"tint","strength":1)");
    CHECK(out(14, 2, 1) == 1.0F);  // 16 m from the point
    CHECK(out(14, 2, 0) == 0.5F);
    CHECK(out(14, 0, 1) == 0.5F);
    CHECK(out(25, 2, 1) == 0.5F);
}

TEST_CASE("a sweep uncovers another picture where it has passed", "[steps][sweep]") {
    const test::Folder folder;
    PassSet other = test::greyFrame(40, 4, 2.0F);
    writePasses(folder / "other.exr", other);
    const auto reveal = [&](const std::string& file) {
        return swept(R"(,"strength":0,"mode":"reveal","picture":")" + (folder / file).string() +
                     "\"");
    };
    const Image out = reveal("other.exr");
    CHECK(out(13, 2, 0) == 2.0F);
    CHECK(out(19, 2, 0) == 2.0F);
    CHECK(out(21, 2, 0) == 0.5F);
    CHECK(out(13, 0, 0) == 0.5F);
    PassSet small = test::greyFrame(20, 2, 2.0F);
    writePasses(folder / "small.exr", small);
    CHECK_THROWS_WITH(reveal("small.exr"), Catch::Contains("20 × 2") && Catch::Contains("40 × 4"));
    CHECK_THROWS_WITH(swept(R"(,"mode":"reveal")"), Catch::Contains("choose the picture"));
}
