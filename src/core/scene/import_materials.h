#pragma once

#include "core/scene/scene.h"
#include "core/scene/scene_files.h"

struct aiScene;

namespace noctis {

/// Fills the materials and textures of a scene, one material at least. Textures that can't be read
/// are in the scene's warnings.
void importMaterials(const aiScene& from, SceneFiles& files, Scene& scene);

}  // namespace noctis
