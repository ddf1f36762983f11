#include "core/tracer/lens.h"

#include "core/tracer/directions.h"

#include <cmath>

namespace noctis {

namespace {

/// A point on the unit aperture.
V2f aperturePoint(const TracedLens& lens, const Sample2& u) {
    if (lens.blades < 3)
        return discFromSquare(u.x, u.y);
    // One of the triangles that make up the polygon, then a point within it.
    const auto blades = static_cast<float>(lens.blades);
    const float scaled = u.x * blades;
    const float blade = std::floor(scaled);
    const float root = std::sqrt(scaled - blade);
    const float a = lens.rotationRadians + 2.0F * kPi * blade / blades;
    const float b = a + 2.0F * kPi / blades;
    const V2f p(std::cos(a), std::sin(a));
    const V2f q(std::cos(b), std::sin(b));
    return (p * (1.0F - u.y) + q * u.y) * root;
}

}  // namespace

TracedLens TracedLens::ofFNumber(float fNumber, float focalLengthMm, float focusDistance) {
    return {.focusDistance = focusDistance, .apertureRadius = focalLengthMm * 0.0005F / fNumber};
}

CameraRay throughLens(const CameraRay& ray, const Camera& camera, const TracedLens& lens,
                      const Sample2& u) noexcept {
    const V3f focus = ray.origin + ray.direction * (lens.focusDistance / ray.planarPerDistance);
    const V2f p = aperturePoint(lens, u) * lens.apertureRadius;
    CameraRay bent = ray;
    bent.origin = V3f(p.x, p.y, 0.0F) * camera.cameraToWorld;
    bent.direction = (focus - bent.origin).normalized();
    return bent;
}

}  // namespace noctis
