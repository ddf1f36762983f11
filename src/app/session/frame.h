#pragma once

#include "core/image/tiles.h"
#include "core/passes/pass_file.h"
#include "core/scene/scene.h"

#include <filesystem>
#include <optional>
#include <vector>

namespace noctis {

/// The passes of one view.
struct Frame {
    PassSet passes;
    std::vector<std::filesystem::path> files;  ///< that hold them; empty if none do
    bool unsaved = false;                      ///< its file, if there is one, just keeps it
    bool inFilesOnly = false;                  ///< its passes are without pixels here
    bool unreadable = false;                   ///< its files could not be read
    unsigned change = 0;                       ///< differs between states of its passes

    /// Whether it shows what the view shows: by its name, or by where the camera is.
    [[nodiscard]] bool isOf(const View& view) const;
};

/// Passes just rendered take the place of those of the same name, or of all if they are of another size,
/// view or camera. Within a crop, only its pixels do. No file holds the frame then.
void addRendered(Frame& frame, const PassSet& rendered, const std::optional<Tile>& crop);

/// Writes a frame beside a project, named by its view.
/// Errors   as writePasses; Error(FileAccess) if what it was kept in can't be copied.
void saveFrame(Frame& frame, const std::filesystem::path& project);

}  // namespace noctis
