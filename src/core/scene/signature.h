#pragma once

#include "core/scene/scene.h"

#include <string>

namespace noctis {

/// A few sums over each object, material and light, by name, that any edit changes; as text, stored with what
/// was made from the scene. The last bits of a float differ between machines, so signatures are compared, see
/// scene_change.h, and not hashed. Cost     one look at every vertex and texel.
std::string signatureOf(const Scene& scene);

}  // namespace noctis
