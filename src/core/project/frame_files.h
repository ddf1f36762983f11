#pragma once

#include "core/project/project.h"

#include <filesystem>
#include <optional>
#include <vector>

namespace noctis {

/// Where the passes of each frame of a project are: of its sequence, or of numbered files that lie beside those it
/// names.
struct FrameFiles {
    std::vector<std::filesystem::path> files;  ///< of the project, and its sequence's pattern
    std::vector<bool> numbered;  ///< of each file: whether there is one for each frame
    int first = 1;
    int last = 1;
    int step = 1;
    int named =
        1;  ///< the one whose files the project names; where it names none, the first there is
    std::vector<int> there;  ///< frames all of whose files exist, by rising number
    bool operator==(const FrameFiles&) const = default;

    /// Whether there are files for more than one frame; a still with keys has the same for all.
    [[nodiscard]] bool isSequence() const;
    /// The pass files of a frame, whether they exist or not.
    [[nodiscard]] std::vector<std::filesystem::path> at(int frame) const;
    /// The frame itself if it is there; else the nearest that is, of two the earlier one; none: there is none.
    [[nodiscard]] std::optional<int> standIn(int frame) const;
    /// Frames from first to last, by step, that aren't there.
    [[nodiscard]] std::vector<int> missing() const;
};

/// Looks at the folders of a project's pass files. Numbers that are kMostFrames or more apart are those of no sequence.
/// Errors   Error(BadSetting) for a sequence of more than kMostFrames.
FrameFiles frameFilesOf(const Project& project);

}  // namespace noctis
