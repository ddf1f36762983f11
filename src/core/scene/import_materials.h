#pragma once

#include "core/scene/scene.h"

#include <filesystem>

struct aiScene;

namespace noctis {

/// Fills the materials and textures of a scene, one material at least. Textures that can't be read
/// are in the scene's warnings.
void importMaterials(const aiScene& from, const std::filesystem::path& sceneFile, Scene& scene);

}  // namespace noctis
