#pragma once

#include "core/image/camera.h"
#include "core/tracer/sampler.h"

namespace noctis {

/// A thin lens, for beauty traced through it.
struct TracedLens {
    float focusDistance = 5.0F;   ///< m, planar
    float apertureRadius = 0.0F;  ///< m; 0 is a pinhole
    int blades = 0;               ///< fewer than 3: round
    float rotationRadians = 0.0F;

    /// The lens of an f-number and a focal length in mm.
    static TracedLens ofFNumber(float fNumber, float focalLengthMm, float focusDistance);
};

/// The ray that leaves a point of the lens and meets the pinhole's ray in focus.
CameraRay throughLens(const CameraRay& ray, const Camera& camera, const TracedLens& lens,
                      const Sample2& u) noexcept;

}  // namespace noctis
