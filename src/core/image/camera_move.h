#pragma once

#include "core/image/camera.h"

namespace noctis {

/// Turned about a point: about the world's vertical by `turn`, and about the camera's own right by `tilt`.
/// Units    radians, counter-clockwise seen from above and from the right.
Camera orbited(const Camera& camera, const V3f& pivot, float turn, float tilt);
/// Moved along its own right and up, m.
Camera panned(const Camera& camera, float right, float up);
/// Moved forwards, m; a parallel view is narrowed by that part of its height instead.
Camera dollied(const Camera& camera, float forwards, float narrowing);

}  // namespace noctis
