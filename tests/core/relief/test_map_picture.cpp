#include "core/relief/map_picture.h"

#include <cmath>
#include <functional>
#include <limits>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

constexpr int kSide = 64;
constexpr float kHole = std::numeric_limits<float>::quiet_NaN();

/// A cell is 1 m.
HeightField fieldOf(const std::function<float(int, int)>& heightAt) {
    HeightField field;
    field.metresPerPixel = 1.0F;
    field.heights = Image(kSide, kSide, {"Y"}, 0.0F);
    float* heights = field.heights.editPlane(0);
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x)
            heights[field.heights.rowStride() * y + x] = heightAt(x, y);
    return field;
}

MapPainting paintingOf(float contours) {
    MapPainting painting;
    painting.range = {0.0F, 8.0F};
    painting.contours = contours;
    return painting;
}

}  // namespace

TEST_CASE("contours are drawn where heights cross them, and nowhere else", "[relief][picture]") {
    // 1 m in ten cells, to the right.
    const FieldPyramid map(fieldOf([](int x, int) { return 0.1F * static_cast<float>(x); }));
    const MapWindow window{0.0F, 0.0F, 0.25F};
    const Image bare = mapPicture(map, paintingOf(0.0F), window, 4 * kSide, 4 * kSide);
    const Image lined = mapPicture(map, paintingOf(2.0F), window, 4 * kSide, 4 * kSide);
    for (int x = 8; x < 4 * kSide - 8; ++x) {
        CAPTURE(x);
        const float height = 0.1F * ((static_cast<float>(x) + 0.5F) * 0.25F - 0.5F);
        const float off = std::abs(height / 2.0F - std::round(height / 2.0F)) * 2.0F;
        const float pixels = off / 0.025F;
        if (pixels < 0.9F)
            CHECK(lined(x, 100, 0) != bare(x, 100, 0));
        else if (pixels > 1.2F)
            CHECK(lined(x, 100, 0) == bare(x, 100, 0));
    }
}

TEST_CASE("a plain at the height of a contour is not painted over, nor numbered",
          "[relief][picture]") {
    const FieldPyramid map(
        fieldOf([](int x, int) { return std::max(0.0F, static_cast<float>(x - 39) / 6.0F); }));
    const MapWindow window{0.0F, 0.0F, 0.25F};
    const Image bare = mapPicture(map, paintingOf(0.0F), window, 4 * kSide, 4 * kSide);
    const Image lined = mapPicture(map, paintingOf(1.0F), window, 4 * kSide, 4 * kSide);
    const auto changed = [&](int x0, int x1) {
        int count = 0;
        for (int x = x0; x < x1; ++x)
            count += lined(x, 128, 0) != bare(x, 128, 0) ? 1 : 0;
        return count;
    };
    CHECK(changed(0, 150) == 0);
    CHECK(changed(170, 256) > 3);
    const std::vector<ContourLabel> labels = contourLabels(map, 1.0F, window, 4 * kSide, 4 * kSide);
    REQUIRE(!labels.empty());
    for (const ContourLabel& label : labels)
        CHECK(label.x > 150.0F);
}

TEST_CASE("a tiled map repeats, and holes are hatched", "[relief][picture]") {
    const FieldPyramid map(fieldOf(
        [](int x, int y) { return y < 8 ? kHole : std::sin(0.3F * static_cast<float>(x + y)); }));
    MapPainting painting = paintingOf(0.0F);
    painting.range = {-1.0F, 1.0F};
    painting.look = MapLook::Grey;
    painting.tiled = true;
    const Image middle = mapPicture(map, painting, {0.0F, 0.0F, 1.0F}, kSide, kSide);
    const Image left = mapPicture(map, painting, {-1.0F * kSide, 0.0F, 1.0F}, kSide, kSide);
    int hatched = 0;
    for (int y = 0; y < kSide; ++y)
        for (int x = 1; x < kSide - 1; ++x) {
            if (y > 9)
                REQUIRE(middle(x, y, 0) == left(x, y, 0));
            hatched += y < 7 && middle(x, y, 0) != middle(0, 0, 0) ? 1 : 0;
        }
    CHECK(hatched > kSide);  // more than one shade
    CHECK(hatched < 6 * kSide);
}

TEST_CASE("a section follows its line, and has gaps over holes and beyond the map",
          "[relief][picture]") {
    const HeightField field = fieldOf(
        [](int x, int y) { return x >= 40 && x < 50 ? kHole : static_cast<float>(x + 2 * y); });
    const std::vector<float> along = sectionOf(field, V2f(10.5F, 20.5F), V2f(30.5F, 20.5F), 21);
    REQUIRE(along.size() == 21);
    for (std::size_t i = 0; i < along.size(); ++i)
        CHECK(along[i] == Approx(10.0 + static_cast<double>(i) + 40.0));
    const std::vector<float> over = sectionOf(field, V2f(44.5F, 20.5F), V2f(84.5F, 20.5F), 5);
    CHECK(std::isnan(over.front()));
    CHECK(over[1] == Approx(54.0 + 40.0));
    CHECK(std::isnan(over.back()));
}

TEST_CASE("spacings are round", "[relief][picture]") {
    CHECK(roundSpacing(12.0F, 12) == Approx(1.0F));
    CHECK(roundSpacing(0.04F, 12) == Approx(0.002F).epsilon(0.6));
    for (const float range : {0.013F, 0.4F, 7.0F, 90.0F, 1234.0F}) {
        const float spacing = roundSpacing(range, 12);
        const float lines = range / spacing;
        CHECK(lines > 4.0F);
        CHECK(lines < 31.0F);
        const float power = std::pow(10.0F, std::floor(std::log10(spacing * 1.0001F)));
        const float first = spacing / power;
        CHECK((first == Approx(1.0F) || first == Approx(2.0F) || first == Approx(5.0F)));
    }
    CHECK(roundSpacing(0.0F, 12) == 1.0F);
}
