#include "app/hand/shape_drawing.h"

#include "core/passes/matte.h"
#include "core/steps/registry.h"
#include "support/frames.h"

#include <bit>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

const CriterionType& type(const char* id) { return stepCatalogue().criterion(id); }
Settings initial(const char* id) { return initialSettings(type(id).parameters); }

/// Left half a boat, right half a crate; the picture is red, all faces look to the right.
PassSet frame() {
    PassSet set = test::greyFrame(20, 10);
    Pass objects = test::passOf({PassKind::Objects, {}}, 20, 10, [](int x, int, int c) {
        if (c == 1)
            return 1.0F;
        return c == 0 ? std::bit_cast<float>(matteId(x < 10 ? "boat" : "crate")) : 0.0F;
    });
    objects.image = Image(20, 10, {"objects00.R", "objects00.G", "objects00.B", "objects00.A"});
    float* id = objects.image.editPlane(0);
    float* covered = objects.image.editPlane(1);
    for (int y = 0; y < 10; ++y)
        for (int x = 0; x < 20; ++x) {
            id[objects.image.rowStride() * y + x] =
                std::bit_cast<float>(matteId(x < 10 ? "boat" : "crate"));
            covered[objects.image.rowStride() * y + x] = 1.0F;
        }
    objects.manifest = matteManifest({"boat", "crate"});
    set.put(objects);
    set.put(test::passOf({PassKind::Normal, {}}, 20, 10,
                         [](int, int, int c) { return c == 0 ? 1.0F : 0.0F; }));
    return set;
}

}  // namespace

TEST_CASE("shapes are dragged out between two places of the picture", "[app][where]") {
    const Settings ellipse =
        drawnShape(type("ellipse"), initial("ellipse"), V2f(50, 80), V2f(10, 20));
    CHECK(std::get<V2f>(ellipse.at("centre")) == V2f(30, 50));
    CHECK(std::get<V2f>(ellipse.at("radii")) == V2f(20, 30));
    const Settings box =
        drawnShape(type("rectangle"), initial("rectangle"), V2f(50, 80), V2f(10, 90));
    CHECK(std::get<V2f>(box.at("min")) == V2f(10, 80));
    CHECK(std::get<V2f>(box.at("max")) == V2f(50, 90));
    const Settings way = drawnShape(type("gradient"), initial("gradient"), V2f(5, 5), V2f(1, 2));
    CHECK(std::get<V2f>(way.at("from")) == V2f(5, 5));
    CHECK(std::get<V2f>(way.at("to")) == V2f(1, 2));
}

TEST_CASE("outlines grow by corners and brushes by strokes", "[app][where]") {
    Settings outline = initial("polygon");
    const auto before = std::get<PlaceList>(outline.at("points")).size();
    outline = withCorner(type("polygon"), outline, V2f(3, 4));
    CHECK(std::get<PlaceList>(outline.at("points")).size() == before + 1);
    Settings strokes =
        withStroke(type("strokes"), initial("strokes"), V2f(5, 5), {12.0F, 0.2F}, true);
    strokes = withStrokeTo(type("strokes"), strokes, V2f(5.1F, 5.0F));  // too near to bend
    strokes = withStrokeTo(type("strokes"), strokes, V2f(25, 5));
    const auto& list = std::get<Strokes>(strokes.at("strokes")).list();
    REQUIRE(list.size() == 1);
    CHECK(list[0].points == std::vector<V2f>{V2f(5, 5), V2f(25, 5)});
    CHECK(list[0].radius == 12.0F);
    CHECK(list[0].takesAway);
}

TEST_CASE("a click picks what is seen there, and a second one takes it out", "[app][where]") {
    const PassSet set = frame();
    auto objects = picked(type("objects"), initial("objects"), set, 3, 3);
    REQUIRE(objects);
    CHECK(std::get<NameList>(objects->at("names")) == NameList{"boat"});
    objects = picked(type("objects"), *objects, set, 15, 3);
    CHECK(std::get<NameList>(objects->at("names")) == NameList{"boat", "crate"});
    objects = picked(type("objects"), *objects, set, 4, 4);
    CHECK(std::get<NameList>(objects->at("names")) == NameList{"crate"});
    const auto facing = picked(type("facing"), initial("facing"), set, 3, 3);
    REQUIRE(facing);
    CHECK(std::get<V3f>(facing->at("direction")) == V3f(1, 0, 0));
    CHECK(picked(type("objects"), initial("objects"), set, -1, 40) == std::nullopt);
    CHECK(picked(type("materials"), initial("materials"), set, 3, 3) == std::nullopt);
}

TEST_CASE("every criterion that stands in the picture can be drawn", "[app][where]") {
    CHECK(drawingOf(type("ellipse")) == Drawing::Shape);
    CHECK(drawingOf(type("rectangle")) == Drawing::Shape);
    CHECK(drawingOf(type("gradient")) == Drawing::Shape);
    CHECK(drawingOf(type("polygon")) == Drawing::Outline);
    CHECK(drawingOf(type("strokes")) == Drawing::Brush);
    CHECK(drawingOf(type("objects")) == Drawing::Pick);
    CHECK(drawingOf(type("depth")) == Drawing::None);
}
