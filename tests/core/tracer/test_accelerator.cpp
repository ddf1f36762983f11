#include "core/tracer/accelerator.h"

#include "support/scenes.h"

#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

/// Three boards one behind the other, at 2, 4 and 6 m; the first two belong to one object.
Scene threeBoards() {
    Scene scene;
    for (const float z : {-2.0F, -4.0F, -6.0F})
        test::addQuad(scene, "board", V3f(-1, -1, z), V3f(1, -1, z), V3f(1, 1, z), V3f(-1, 1, z));
    scene.objects = {"pair", "single"};
    scene.instances[1].object = 0;
    scene.instances[2].object = 1;
    return scene;
}

const V3f kEye(0.2F, 0.1F, 0.0F);
const V3f kAhead(0, 0, -1);

}  // namespace

TEST_CASE("a ray meets the nearest surface between its ends", "[tracer][rays]") {
    const Scene scene = threeBoards();
    const Accelerator accelerator(scene);
    CHECK(accelerator.intersect(kEye, kAhead, 0.0F, kNothingHit).distance == Approx(2.0F));
    CHECK(accelerator.intersect(kEye, kAhead, 2.5F, kNothingHit).distance == Approx(4.0F));
    CHECK_FALSE(accelerator.intersect(kEye, kAhead, 0.0F, 1.9F).any());
    CHECK_FALSE(accelerator.intersect(kEye, -kAhead, 0.0F, kNothingHit).any());
    CHECK(accelerator.occluded(kEye, kAhead, 0.0F, 3.0F));
    CHECK_FALSE(accelerator.occluded(kEye, kAhead, 2.1F, 3.9F));
}

TEST_CASE("what the first object hides is the first of another object", "[tracer][rays]") {
    const Scene scene = threeBoards();
    const Accelerator accelerator(scene);
    bool missed = true;
    const Hit behind = accelerator.behindFirst(kEye, kAhead, missed);
    CHECK_FALSE(missed);
    CHECK(behind.instance == 2);
    CHECK(behind.distance == Approx(6.0F));
    const Hit nothing = accelerator.behindFirst(V3f(0, 0, -5), kAhead, missed);
    CHECK_FALSE(missed);
    CHECK_FALSE(nothing.any());
    (void)accelerator.behindFirst(V3f(9, 9, 0), kAhead, missed);
    CHECK(missed);
}

TEST_CASE("parts of a scene are built once each, by name", "[tracer][rays]") {
    const Scene scene = threeBoards();
    const Accelerator all(scene);
    AcceleratorsByName parts(all);
    CHECK(&parts.of("") == &all);
    const Accelerator& single = parts.of("single");
    CHECK(&parts.of("single") == &single);
    CHECK(single.intersect(kEye, kAhead, 0.0F, kNothingHit).distance == Approx(6.0F));
    CHECK(single.intersect(kEye, kAhead, 0.0F, kNothingHit).instance == 2);
    CHECK(parts.of("-pair").intersect(kEye, kAhead, 0.0F, kNothingHit).instance == 2);
    CHECK_FALSE(parts.of("nobody").intersect(kEye, kAhead, 0.0F, kNothingHit).any());
}

TEST_CASE("a surface turns its normals to the ray and keeps off itself", "[tracer][rays]") {
    const Scene scene = threeBoards();
    const Accelerator accelerator(scene);
    for (const float side : {1.0F, -1.0F}) {
        const V3f from(0.3F, 0.2F, -4.0F + side);
        const V3f way(0, 0, -side);
        const Hit hit = accelerator.intersect(from, way, 0.0F, kNothingHit);
        REQUIRE(hit.any());
        const Surface surface = accelerator.surfaceAt(hit, from, way);
        CHECK(surface.geometricNormal.z == Approx(side));
        CHECK(surface.normal.dot(way) < 0.0F);
        CHECK(surface.texture == V2f(0.0F, 0.0F));  // the mesh has none
        CHECK(surface.offset > 0.0F);
        const V3f leaving = leavingFrom(surface, surface.normal);
        CHECK((leaving.z - surface.position.z) * side > 0.0F);
        CHECK_FALSE(accelerator.occluded(leaving, surface.normal, 0.0F, 0.9F));
    }
}

TEST_CASE("textures repeat, are blended between texels, and survive no number",
          "[tracer][texture]") {
    Image image(2, 2, {"R", "G", "B"});
    for (int y = 0; y < 2; ++y)
        for (int x = 0; x < 2; ++x)
            image.editPlane(0)[image.rowStride() * y + x] = static_cast<float>(x + 2 * y);
    CHECK(sampleTexture(image, V2f(0.25F, 0.75F)).r == Approx(0.0F));  // v runs upwards
    CHECK(sampleTexture(image, V2f(0.75F, 0.25F)).r == Approx(3.0F));
    CHECK(sampleTexture(image, V2f(0.5F, 0.5F)).r == Approx(1.5F));
    CHECK(sampleTexture(image, V2f(1.25F, -0.25F)).r ==
          Approx(sampleTexture(image, V2f(0.25F, 0.75F)).r));
    CHECK(sampleTexture(image, V2f(NAN, 0.5F)).r == 0.0F);
}
