#include "core/passes/appearance.h"

#include "core/passes/matte.h"

#include <bit>
#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

Pass pass(PassKind kind, Image image) {
    Pass p;
    p.name = passKindInfo(kind).id;
    p.kind = kind;
    p.image = std::move(image);
    return p;
}

float lightOf(const Image& picture, int x) {
    return 0.2126F * picture(x, 0, 0) + 0.7152F * picture(x, 0, 1) + 0.0722F * picture(x, 0, 2);
}

}  // namespace

TEST_CASE("depth is shown from bright brass near to dark indigo far, and background apart",
          "[passes][appearance]") {
    const Image shown = appearanceOf(
        pass(PassKind::Depth, Image::row({1.0F, 3.0F, 10.0F, 30.0F, 100.0F, kNothingHit})));
    for (int x = 1; x < 5; ++x)
        CHECK(lightOf(shown, x) < lightOf(shown, x - 1));
    CHECK(shown(0, 0, 0) > shown(0, 0, 2));  // brass
    CHECK(shown(4, 0, 2) > shown(4, 0, 0));  // indigo
    CHECK(lightOf(shown, 5) < lightOf(shown, 4));
}

TEST_CASE("the ramp is continuous and stays within what can be shown", "[passes][appearance]") {
    LinearRgb last = depthRampColour(0.0F);
    for (float place = -0.5F; place < 1.5F; place += 0.01F) {
        const LinearRgb c = depthRampColour(place);
        CHECK((c.r >= 0.0F && c.r <= 1.0F && c.g >= 0.0F && c.g <= 1.0F && c.b >= 0.0F &&
               c.b <= 1.0F));
        CHECK(std::abs(c.r - last.r) + std::abs(c.g - last.g) + std::abs(c.b - last.b) < 0.06F);
        last = c;
    }
}

TEST_CASE("places on the axis are logarithmic", "[passes][appearance]") {
    CHECK(placeOnDepthAxis(1.0F, 1.0F, 100.0F) == Approx(0.0F));
    CHECK(placeOnDepthAxis(10.0F, 1.0F, 100.0F) == Approx(0.5F));
    CHECK(placeOnDepthAxis(100.0F, 1.0F, 100.0F) == Approx(1.0F));
}

TEST_CASE("the range worth showing leaves the background out, and is sound without any distance",
          "[passes][appearance]") {
    const DepthRange range = depthRangeOf(Image::row({2.0F, 5.0F, 9.0F, kNothingHit}));
    CHECK(range.nearest == 2.0F);
    CHECK(range.farthest == 9.0F);
    const DepthRange nothing = depthRangeOf(Image::row({kNothingHit}));
    CHECK(nothing.nearest < nothing.farthest);
    const DepthRange flat = depthRangeOf(Image::row({4.0F, 4.0F}));
    CHECK(flat.nearest < flat.farthest);
}

TEST_CASE("normals are encoded about the middle grey", "[passes][appearance]") {
    Image normal(2, 1, {"X", "Y", "Z"});
    normal.editPlane(1)[0] = 1.0F;
    const Image shown = appearanceOf(pass(PassKind::Normal, normal));
    CHECK(shown(0, 0, 0) == 0.5F);
    CHECK(shown(0, 0, 1) == 1.0F);
    CHECK(lightOf(shown, 1) < 0.3F);  // nothing hit
}

TEST_CASE("each name of a matte has its own colour, always the same", "[passes][appearance]") {
    Image image(3, 1, matteChannels("objects", 2));
    const char* names[] = {"crate", "rope", "water"};
    for (int x = 0; x < 3; ++x) {
        image.editPlane(0)[x] = std::bit_cast<float>(matteId(names[x]));
        image.editPlane(1)[x] = 1.0F;
    }
    const Image shown = appearanceOf(pass(PassKind::Objects, image));
    const Image again = appearanceOf(pass(PassKind::Objects, image));
    for (int x = 0; x < 3; ++x) {
        CHECK(shown(x, 0, 0) == again(x, 0, 0));
        for (int other = 0; other < x; ++other)
            CHECK(std::abs(shown(x, 0, 0) - shown(other, 0, 0)) +
                      std::abs(shown(x, 0, 2) - shown(other, 0, 2)) >
                  0.02F);
    }
}

TEST_CASE("one channel is shown as grey over its own range", "[passes][appearance]") {
    Image position(3, 1, {"X", "Y", "Z"});
    position.editPlane(0)[0] = -4.0F;
    position.editPlane(0)[1] = 0.0F;
    position.editPlane(0)[2] = 4.0F;
    const Image shown = channelAppearance(pass(PassKind::Position, position), 0);
    CHECK(shown(0, 0, 1) == 0.0F);
    CHECK(shown(1, 0, 1) == 0.5F);
    CHECK(shown(2, 0, 1) == 1.0F);
}

TEST_CASE("every kind can be shown, whatever it holds", "[passes][appearance]") {
    for (const PassKindInfo& info : passKinds())
        for (const float value : {0.0F, -1.0F, 1e30F, kNothingHit, std::nanf("")}) {
            const bool matte = info.kind == PassKind::Objects || info.kind == PassKind::Materials;
            const Image image(4, 3, matte ? matteChannels(info.id, 4) : info.channels, value);
            const Image shown = appearanceOf(pass(info.kind, image));
            INFO(info.id << " of " << value);
            CHECK(shown.channels() == 3);
            const float v = shown(1, 1, 1);
            CHECK((std::isnan(v) || (v >= 0.0F && v <= 1.0F)));
        }
}

TEST_CASE("motion of less than is seen is not blown up", "[passes][appearance]") {
    Pass pass;
    pass.kind = PassKind::Vectors;
    const auto& channels = passKindInfo(PassKind::Vectors).channels;
    pass.image = Image(4, 1, channels, 0.0F);
    const auto farthestFromRest = [&](float pixels) {
        pass.image.editPlane(2)[0] = pixels;
        const Image look = appearanceOf(pass);
        return std::abs(look(0, 0, 0) - look(3, 0, 0));
    };
    CHECK(farthestFromRest(0.0004F) < 0.01F);
    CHECK(farthestFromRest(3.0F) > 0.2F);
}
