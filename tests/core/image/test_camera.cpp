#include "core/image/camera.h"

#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

Camera tilted() { return lookingAt(V3f(3, 2, 5), V3f(-1, 0.5F, -4), 0.8F); }

}  // namespace

TEST_CASE("a ray through a point of the frame projects back to that point", "[image][camera]") {
    const Camera camera = tilted();
    for (const auto& [x, y] :
         {std::pair(0.5F, 0.5F), std::pair(100.25F, 310.0F), std::pair(639.5F, 359.5F)}) {
        const CameraRay ray = cameraRay(camera, x, y, 640, 360);
        const V3f p = project(camera, ray.origin + ray.direction * 12.0F, 640, 360);
        CHECK(p.x == Approx(x).margin(1e-2));
        CHECK(p.y == Approx(y).margin(1e-2));
        CHECK(p.z == Approx(12.0F * ray.planarPerDistance).epsilon(1e-5));
        CHECK(ray.direction.length() == Approx(1.0F).epsilon(1e-6));
    }
}

TEST_CASE("the top left pixel looks up and to the left", "[image][camera]") {
    const CameraRay ray = cameraRay(assumedCamera(), 0.5F, 0.5F, 640, 360);
    CHECK(ray.direction.x < 0.0F);
    CHECK(ray.direction.y > 0.0F);
    CHECK(ray.direction.z < 0.0F);
}

TEST_CASE("a camera survives the matrices that EXR files carry", "[image][camera]") {
    const Camera camera = tilted();
    const Camera back =
        cameraFromMatrices(camera.cameraToWorld.inverse(), worldToNdc(camera, 16.0F / 9.0F));
    CHECK(back.cameraToWorld.equalWithAbsError(camera.cameraToWorld, 1e-4F));
    CHECK(back.yfovRadians == Approx(camera.yfovRadians).epsilon(1e-4));
}

TEST_CASE("an orthographic camera survives the matrices too, with parallel rays",
          "[image][camera]") {
    Camera camera = tilted();
    camera.orthographicHeight = 14.0F;
    const Camera back =
        cameraFromMatrices(camera.cameraToWorld.inverse(), worldToNdc(camera, 1.5F));
    CHECK(back.orthographicHeight == Approx(14.0F).epsilon(1e-3));
    const CameraRay a = cameraRay(camera, 10, 10, 640, 360);
    const CameraRay b = cameraRay(camera, 600, 300, 640, 360);
    CHECK(a.direction.equalWithAbsError(b.direction, 1e-6F));
    CHECK(a.planarPerDistance == 1.0F);
}

TEST_CASE("a camera that looks straight down is well formed", "[image][camera]") {
    const Camera camera = lookingAt(V3f(0, 10, 0), V3f(0, 0, 0), 0.7F);
    const CameraRay ray = cameraRay(camera, 50, 50, 100, 100);
    CHECK(ray.direction.equalWithAbsError(V3f(0, -1, 0), 1e-5F));
}

TEST_CASE("a lens sees the angle of its focal length on its sensor", "[image][camera]") {
    const float wide = 16.0F / 9.0F;
    Camera camera;
    // A lens as long as half its sensor is wide sees a right angle across.
    camera.yfovRadians = yfovFromLens(18.0F, 36.0F, wide);
    CHECK(xfovOf(camera, wide) == Approx(1.57079633F));
    CHECK(std::tan(0.5F * camera.yfovRadians) == Approx(9.0F / 16.0F));
    CHECK(focalLengthOf(camera, 36.0F, wide) == Approx(18.0F));
    CHECK(focalLengthOf(camera, 18.0F, wide) == Approx(9.0F));
    CHECK(yfovFromXfov(xfovOf(camera, wide), wide) == Approx(camera.yfovRadians));
    // The ray through the right edge's middle goes that far aside.
    const CameraRay edge = cameraRay(camera, 1600.0F, 450.0F, 1600, 900);
    CHECK(std::atan2(edge.direction.x, -edge.direction.z) == Approx(0.785398F).epsilon(1e-4));
}
