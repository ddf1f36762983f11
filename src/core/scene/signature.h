#pragma once

#include "core/scene/scene.h"

namespace noctis {

/// A few sums over all surfaces, materials, textures and lights, of which any edit of the scene shifts
/// one. The last bits of a float differ between machines, so signatures are compared, not hashed.
/// Cost     one look at every vertex and texel.
std::vector<double> signatureOf(const Scene& scene);

std::string textOfSignature(const std::vector<double>& signature);

/// Whether two texts are of the same scene. Empty ones tell nothing, and count as the same.
bool sameScene(const std::string& a, const std::string& b);

}  // namespace noctis
