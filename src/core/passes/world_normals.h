#pragma once

#include "core/image/camera.h"
#include "core/passes/pass.h"

namespace noctis {

/// The normals of a pass in the world, X Y Z; those of the camera's space are turned.
Image inWorld(const Pass& normals, const Camera& camera);

}  // namespace noctis
