#pragma once

#include "core/scene/scene.h"
#include "core/scene/scene_files.h"

namespace noctis {

/// What Assimp omits or distorts in glTF files, read from their JSON: the strength of emission
/// (KHR_materials_emissive_strength) and the exact angles of cameras. Other files are left alone.
void applyGltfDetails(const InputFile& file, Scene& scene);

}  // namespace noctis
