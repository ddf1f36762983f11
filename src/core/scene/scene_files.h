#pragma once

#include "core/image/passed_files.h"
#include "core/scene/import.h"

#include <filesystem>
#include <functional>
#include <memory>
#include <vector>

namespace Assimp {
class IOSystem;
}

namespace noctis {

/// The files of a scene while it is read: its own, buffers, material libraries, textures. Each is opened once, and
/// only if it is a regular file: a pipe would be waited for.
class SceneFiles {
public:
    explicit SceneFiles(const SceneInput& reading);

    [[nodiscard]] const InputFile& own() const noexcept { return *m_own; }
    /// Errors   as InputFile.
    std::shared_ptr<const InputFile> open(const std::filesystem::path& path);

private:
    std::shared_ptr<const InputFile> m_own;
    std::function<void(const InputFile&)> m_opened;
    bool m_opens;  ///< files other than these
    OpenFiles m_files;
};

/// Assimp's way to these files. Whoever gets it deletes it; files outlives it.
Assimp::IOSystem* assimpFilesOf(SceneFiles& files);

/// The material libraries that an OBJ file names, by their places.
std::vector<std::filesystem::path> materialFilesOf(const InputFile& obj);

/// Those of some files that belong to a scene: itself, and what it names anywhere. Reads no geometry, so
/// that asking before each export costs little.
std::vector<std::filesystem::path> filesOfScene(const std::filesystem::path& scene,
                                                const std::vector<std::filesystem::path>& among);

}  // namespace noctis
