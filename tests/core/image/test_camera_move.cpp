#include "core/image/camera_move.h"

#include <catch2/catch.hpp>

#include <cmath>

using namespace noctis;

namespace {

bool near(const V3f& a, const V3f& b) { return (a - b).length() < 1e-4F; }

const Camera kLooking = lookingAt(V3f(0, 2, 5), V3f(0, 1, 0), 0.7F);

}  // namespace

TEST_CASE("an orbit keeps its pivot where it is seen, at its distance", "[image][camera]") {
    const V3f pivot(0, 1, 0);
    const Camera moved = orbited(kLooking, pivot, 0.4F, -0.2F);
    CHECK((moved.position() - pivot).length() ==
          Approx((kLooking.position() - pivot).length()).epsilon(1e-5));
    CHECK(near(project(moved, pivot, 640, 480), project(kLooking, pivot, 640, 480)));
    CHECK(near(orbited(kLooking, pivot, 0.0F, 0.0F).position(), kLooking.position()));
}

TEST_CASE("a quarter turn leads from the front to the right", "[image][camera]") {
    const Camera front = lookingAt(V3f(0, 0, 4), V3f(0, 0, 0), 0.7F);
    const Camera right = orbited(front, V3f(0, 0, 0), std::acos(0.0F), 0.0F);
    CHECK(near(right.position(), V3f(4, 0, 0)));
}

TEST_CASE("panning shifts what is seen, dollying brings it nearer", "[image][camera]") {
    const Camera panning = panned(kLooking, 1.0F, 0.0F);
    CHECK((panning.position() - kLooking.position()).length() == Approx(1.0F));
    CHECK(project(panning, V3f(0, 1, 0), 640, 480).x < project(kLooking, V3f(0, 1, 0), 640, 480).x);
    const float depth = project(kLooking, V3f(0, 1, 0), 640, 480).z;
    CHECK(project(dollied(kLooking, 1.5F, 0.2F), V3f(0, 1, 0), 640, 480).z ==
          Approx(depth - 1.5F).epsilon(1e-5));
}

TEST_CASE("a parallel view is narrowed, not moved", "[image][camera]") {
    Camera parallel = kLooking;
    parallel.orthographicHeight = 4.0F;
    const Camera nearer = dollied(parallel, 1.5F, 0.25F);
    CHECK(nearer.orthographicHeight == Approx(3.0F));
    CHECK(nearer.cameraToWorld == parallel.cameraToWorld);
}
