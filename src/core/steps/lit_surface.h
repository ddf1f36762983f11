#pragma once

#include "core/recipe/working_frame.h"
#include "core/recipe/world_normals.h"

namespace noctis {

/// A camera's axis in the world: 0 right, 1 up, 2 towards the viewer.
V3f axisOf(const Camera& camera, int axis);

/// The light a step uses: by its name, or as the step itself says.
/// Errors   as FrameContext::light.
SceneLight lightNamed(const WorkingFrame& frame, const std::string& name, const SceneLight& own);

}  // namespace noctis
