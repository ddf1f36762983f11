#pragma once

#include "core/image/camera.h"
#include "core/passes/pass.h"

namespace noctis {

/// A pass's normal at a pixel, in world axes.
V3f normalInWorld(const Pass& normals, const Camera& camera, int x, int y);

/// The normals of a pass in world axes, X Y Z; converts those in camera space.
Image inWorld(const Pass& normals, const Camera& camera);

}  // namespace noctis
