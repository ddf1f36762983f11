#pragma once

#include "core/recipe/working_frame.h"

namespace noctis {

/// The normals of a frame in the world, X Y Z; 0 where nothing was hit. Where there are none they follow
/// from position.
/// Errors   Error(MissingPass).
Image worldNormals(const WorkingFrame& frame);

}  // namespace noctis
