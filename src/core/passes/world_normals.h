#pragma once

#include "core/image/camera.h"
#include "core/passes/pass.h"

namespace noctis {

/// The normals of a pass in world axes, X Y Z; converts those in camera space.
Image inWorld(const Pass& normals, const Camera& camera);

}  // namespace noctis
