#include "core/image/error.h"
#include "core/relief/derived_maps.h"
#include "core/relief/map_pass.h"
#include "core/relief/relief_input.h"
#include "core/relief/sources.h"
#include "core/relief/upside_down.h"
#include "core/settings/value_type.h"
#include "support/fields.h"
#include "support/scenes.h"

#include <catch2/catch.hpp>

#include <algorithm>

using namespace noctis;
using namespace noctis::test;

// What a height map and a picture of the same thing have to do with each other.

namespace {

constexpr int kSide = 96;

Pass passOf(PassKind kind, Image image) {
    Pass pass;
    pass.name = passKindInfo(kind).id;
    pass.kind = kind;
    pass.space = "camera";
    pass.image = std::move(image);
    return pass;
}

HeightField fieldOf(Image heights) {
    HeightField field;
    field.metresPerPixel = Waves::kCell;
    field.plane = {V3f(0.0F), V3f(1, 0, 0), V3f(0, 1, 0), V3f(0, 0, 1)};
    field.heights = std::move(heights);
    return field;
}

}  // namespace

TEST_CASE("a map that is upside down is recognised by normals, by depth, and by light from above",
          "[relief][upside-down]") {
    const Waves waves;
    const HeightField right = fieldOf(heightsBy(waves, kSide, kSide));
    HeightField over = right;
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x)
            over.heights.editPlane(0)[over.heights.rowStride() * y + x] *= -1.0F;
    const Slopes slopes = slopesBy(waves, kSide, kSide);
    PassSet normals;
    normals.put(passOf(PassKind::Normal, normalsBy(slopes)));
    PassSet depth;
    depth.put(passOf(PassKind::Depth, filledBy(kSide, kSide, [&](int x, int y) {
                         return 1.0F - right.heights(x, y, 0);
                     })));
    // Matt, and lit from above and a little from the side.
    PassSet light;
    Image lit(kSide, kSide, {"R", "G", "B"});
    const Image n = normalsBy(slopes);
    const V3f towards = V3f(0.3F, 0.8F, 0.5F).normalized();
    for (int c = 0; c < 3; ++c)
        for (int y = 0; y < kSide; ++y)
            for (int x = 0; x < kSide; ++x)
                lit.editPlane(c)[lit.rowStride() * y + x] =
                    0.05F +
                    0.5F * std::max(0.0F, V3f(n(x, y, 0), n(x, y, 1), n(x, y, 2)).dot(towards));
    light.put(passOf(PassKind::Beauty, lit));
    for (const PassSet* frame : {&normals, &depth, &light}) {
        const auto upright = agreementWith(*frame, right);
        const auto turned = agreementWith(*frame, over);
        REQUIRE(upright);
        REQUIRE(turned);
        INFO(upright->with << ": " << upright->correlation);
        CHECK(upright->correlation > 0.3F);
        CHECK_FALSE(isUpsideDown(*upright));
        CHECK(turned->correlation == Approx(-upright->correlation));
        CHECK(isUpsideDown(*turned));
    }
    // A frame of another shape, or one that has none of them, says nothing.
    CHECK_FALSE(agreementWith(normals, fieldOf(heightsBy(waves, 50, 50))));
    CHECK_FALSE(agreementWith({}, right));
    // Nor does light that has nothing to do with it.
    PassSet other;
    other.put(passOf(PassKind::Beauty, [&] {
        Image noise(kSide, kSide, {"R", "G", "B"});
        for (int c = 0; c < 3; ++c)
            for (int i = 0; i < kSide * kSide; ++i)
                noise.editPlane(c)[noise.rowStride() * (i / kSide) + i % kSide] =
                    static_cast<float>((i * 7919) % 101) / 101.0F;
        return noise;
    }()));
    CHECK_FALSE(isUpsideDown(*agreementWith(other, over)));
}

TEST_CASE("a map from above is a pass of any view of its scene, where it is what is seen",
          "[relief][map-pass]") {
    Scene scene;
    addGround(scene, 6.0F);
    addBall(scene, "ball", V3f(0.0F, 0.0F, 0.0F), 1.0F, 200);
    const Accelerator accelerator(scene);
    const View above =
        viewFromAbove("above", Box3f(V3f(-2.0F, 0.0F, -2.0F), V3f(2.0F, 1.0F, 2.0F)), 1.0F);
    const ReliefInput fromAbove = traceReliefInput(scene, accelerator, above, 256, 256);
    const HeightField field =
        reliefSource("depth").make(fromAbove, settingsWith(reliefSource("depth"), {}), {});
    View view;
    view.camera = lookingAt(V3f(0.0F, 3.0F, 5.0F), V3f(0.0F, 0.3F, 0.0F), 0.8F);
    const PassSet frame = traceReliefInput(scene, accelerator, view, 160, 120).passes;
    const Image position = resolvePass(frame, PassKind::Position).image;
    const Pass heights = passOfMap(field, "height", frame);
    const Pass normals = passOfMap(field, "normal", frame);
    REQUIRE(heights.kind == PassKind::Height);
    CHECK(normals.space == "world");
    const Image measured = frame.find(PassKind::Normal)->image;
    int known = 0;
    int seen = 0;
    const float edge = 0.5F * field.metresPerPixel * static_cast<float>(field.width()) + 0.001F;
    CHECK(edge < 2.3F);
    int beyond = 0;
    int beyondAndKnown = 0;
    std::vector<float> off;
    for (int y = 0; y < 120; ++y)
        for (int x = 0; x < 160; ++x) {
            const V3f p(position(x, y, 0), position(x, y, 1), position(x, y, 2));
            // The ground goes on beyond the map, at its edge's height.
            if (std::abs(p.x) > edge || std::abs(p.z) > edge) {
                ++beyond;
                beyondAndKnown += std::isfinite(heights.image(x, y, 0)) ? 1 : 0;
            }
            if (!std::isfinite(frame.find(PassKind::Depth)->image(x, y, 0)) ||
                std::abs(p.x) > 1.9F || std::abs(p.z) > 1.9F)
                continue;
            ++seen;
            if (!std::isfinite(heights.image(x, y, 0)))
                continue;
            ++known;
            // Within a cell and its slope.
            CHECK(heights.image(x, y, 0) ==
                  Approx(p.y).margin(p.y < 0.01F || p.y > 0.7F ? 0.03 : 0.25));
            const V3f a(normals.image(x, y, 0), normals.image(x, y, 1), normals.image(x, y, 2));
            const V3f b(measured(x, y, 0), measured(x, y, 1), measured(x, y, 2));
            off.push_back(std::acos(std::clamp(a.dot(b), -1.0F, 1.0F)));
        }
    CHECK(known > seen * 95 / 100);
    CHECK(beyond > 100);
    CHECK(beyondAndKnown == 0);
    REQUIRE(off.size() > 100);
    std::nth_element(off.begin(), off.begin() + static_cast<std::ptrdiff_t>(off.size() / 2),
                     off.end());
    CHECK(off[off.size() / 2] < 0.05F);  // radians
}

TEST_CASE("a map of a picture's shape is scaled to it, another one is refused",
          "[relief][map-pass]") {
    const HeightField field = fieldOf(heightsBy(Waves{}, 96, 48));
    PassSet frame;
    frame.put(passOf(PassKind::Beauty, Image(192, 96, {"R", "G", "B"}, 0.5F)));
    const Pass slope = passOfMap(field, "slope", frame);
    CHECK(slope.image.width() == 192);
    const Image own = slopeOf(field);
    CHECK(slope.image(101, 51, 0) == Approx(own(50, 25, 0)).margin(2.0));
    PassSet square;
    square.put(passOf(PassKind::Beauty, Image(96, 96, {"R", "G", "B"}, 0.5F)));
    CHECK_THROWS_AS(passOfMap(field, "slope", square), Error);
    CHECK_THROWS_AS(passOfMap(field, "cheese", frame), Error);
}

TEST_CASE("a place of the frame is found again on the map", "[relief][map-pass]") {
    HeightField field = fieldOf(heightsBy(Waves{}, 60, 40));
    const V2f scaled = cellOf(field, {30.0F, 20.0F}, 120, 80);
    CHECK(scaled.x == Approx(15.0F));
    CHECK(scaled.y == Approx(10.0F));
    // Laid on a plane: rows of the map run down the frame ever more slowly, and some cells show nothing.
    field.places = Image(60, 40, {"X", "Y"});
    for (int y = 0; y < 40; ++y)
        for (int x = 0; x < 60; ++x) {
            const bool hole = x < 5;
            const float down = 80.0F * std::sqrt(static_cast<float>(y) / 40.0F);
            field.places.editPlane(0)[field.places.rowStride() * y + x] =
                hole ? std::numeric_limits<float>::quiet_NaN() : 2.0F * static_cast<float>(x);
            field.places.editPlane(1)[field.places.rowStride() * y + x] =
                hole ? std::numeric_limits<float>::quiet_NaN() : down;
        }
    const V2f found = cellOf(field, {60.0F, 60.0F}, 120, 80);
    CHECK(found.x == Approx(30.5F).margin(0.6));
    const V2f back = placeOf(field, static_cast<int>(found.x), static_cast<int>(found.y), 120, 80);
    CHECK((back - V2f(60.0F, 60.0F)).length() < 1.5F);
}
