#pragma once

#include "core/passes/scene_light.h"
#include "core/scene/moved_places.h"
#include "core/scene/scene.h"

namespace noctis {

/// The lights of a scene as steps use them, by name. A surface that shines is an area: the square of its
/// size about its middle, facing the way most of it faces.
NamedLights sceneLights(const Scene& scene, const MovedPlaces& moved);

}  // namespace noctis
