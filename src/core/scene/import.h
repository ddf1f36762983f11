#pragma once

#include "core/image/passed_files.h"
#include "core/scene/scene.h"

#include <filesystem>
#include <functional>
#include <memory>
#include <optional>
#include <stop_token>
#include <string>
#include <vector>

namespace noctis {

/// The endings that can be read as scenes, in lower case with the dot.
const std::vector<std::string>& readableSceneEndings();

/// Reads a scene through Assimp into metres and +Y up. What can't be used (triangles without finite
/// corners or area, missing textures or materials) is left out with a warning in scene.warnings; a scene
/// without a camera gets a framing view.
/// Errors   Error(FileAccess) if there is no such file, Error(BadFile) if it can't be read,
///          Error(BadScene) if it holds no triangle that can be used.
/// When stopped, an empty scene; how soon depends on the format.
Scene importScene(const std::filesystem::path& path, const std::stop_token& stop = {});

/// A scene's file, and what watches its reading.
struct SceneInput {
    std::shared_ptr<const InputFile> file;
    /// The only other files there are for it, or nothing: whatever it names is opened.
    std::optional<OpenFiles> others{};
    /// Called for each other file that the scene names, as it is opened.
    std::function<void(const InputFile&)> opened{};
    std::stop_token stop{};
};

/// As importScene, for a file known to be harmless; see core/image/trial.h.
Scene importTriedScene(const SceneInput& reading);

}  // namespace noctis
