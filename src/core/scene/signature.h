#pragma once

#include "core/scene/scene.h"

#include <string>

namespace noctis {

/// A few sums over each object, material and light, by its name, of which any edit shifts one; as text,
/// to be kept with what was made of the scene. The last bits of a float differ between machines, so
/// signatures are compared, see scene_change.h, and not hashed.
/// Cost     one look at every vertex and texel.
std::string signatureOf(const Scene& scene);

}  // namespace noctis
