#pragma once

#include "core/image/input_file.h"
#include "core/scene/scene.h"

#include <filesystem>

struct aiScene;

namespace noctis {

// Steps after a scene's file has been read.

/// For OBJ files, whose reader ignores a missing material file.
void warnOfMissingMaterialFiles(const InputFile& obj, Scene& scene);

/// Files, manifests and projects hold names as UTF-8 only.
void makeNamesValid(const std::filesystem::path& path, Scene& scene);

/// Says which units and axes its format has, and what was converted.
void noteConversions(const std::filesystem::path& path, const aiScene& from, Scene& scene);

/// Under an even sky alone things seem to float: a scene without light gets a key light from the upper left, and,
/// in its backdrop, a ground at its lowest point for the shadows.
void addKeyLight(Scene& scene);

}  // namespace noctis
