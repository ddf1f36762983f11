#pragma once

#include "core/recipe/working_frame.h"

namespace noctis {

/// A camera's axis in the world: 0 right, 1 up, 2 towards the viewer.
V3f axisOf(const Camera& camera, int axis);

/// Unit normals in the world, X Y Z; 0 where nothing was hit. Those of the camera's space are turned, and
/// where there are none they follow from position.
/// Errors   Error(MissingPass).
Image worldNormals(const WorkingFrame& frame);

/// The light a step uses: by its name, or as the step itself says.
/// Errors   as FrameContext::light.
SceneLight lightNamed(const WorkingFrame& frame, const std::string& name, const SceneLight& own);

}  // namespace noctis
