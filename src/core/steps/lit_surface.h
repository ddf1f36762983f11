#pragma once

#include "core/recipe/working_frame.h"
#include "core/recipe/world_normals.h"

#include <algorithm>
#include <initializer_list>

namespace noctis {

/// A camera's axis in the world: 0 right, 1 up, 2 towards the viewer.
V3f axisOf(const Camera& camera, int axis);

/// A light as a step's settings say it, but for the size of an area.
template <typename S> SceneLight ownLight(const S& s) {
    SceneLight light;
    light.kind = s.kind;
    light.towards = s.towards;
    light.position = s.position;
    light.colour = s.colour;
    light.strength = s.strength;
    light.inner = s.inner;
    light.outer = s.outer;
    return light;
}

/// Whether a step's settings themselves say a light, of one of these kinds.
template <typename S> bool hasOwn(const S& s, std::initializer_list<SceneLightKind> kinds) {
    return s.light.empty() && std::ranges::find(kinds, s.kind) != kinds.end();
}

/// The light a step uses: by its name, or as the step itself says.
/// Errors   as FrameContext::light.
SceneLight lightNamed(const WorkingFrame& frame, const std::string& name, const SceneLight& own);

}  // namespace noctis
