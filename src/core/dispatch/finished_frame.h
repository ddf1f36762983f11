#pragma once

#include "core/dispatch/picture_export.h"

#include <filesystem>
#include <functional>
#include <optional>
#include <string>
#include <vector>

namespace noctis {

/// A frame to finish.
struct FrameToFinish {
    int number = 1;
    double seconds = 0.0;  ///< when it is
    std::vector<std::filesystem::path> passes;
    std::filesystem::path out;
    std::optional<int> standIn{};  ///< the frame whose passes these are, if it is another
};

/// How frames are finished.
struct FinishHow {
    PictureStorage storage{};
    int factor = 1;  ///< 1/N of the size
    std::string
        matte{};  ///< of this step, by its id, in the place of the picture; empty: the picture
    std::vector<std::string> reads{};  ///< see readPassesAs
    /// Called with each warning of the files and steps; may be empty.
    std::function<void(const std::string& sentence)> warn{};
};

/// Errors   Error(BadFile) for a step that can't run: frames without one of their steps would be worse than none.
void requireUsable(const Recipe& recipe);

/// Runs the project's recipe on a frame's passes; none if it is stopped.
/// Errors   those of evaluating.
std::optional<Image> finishedPicture(const Project& project, const PassSet& passes,
                                     const FrameToFinish& frame, const FinishHow& how,
                                     const RunContext& run);

/// Reads them first.
/// Errors   those of reading, too.
std::optional<Image> finishedPicture(const Project& project, const FrameToFinish& frame,
                                     const FinishHow& how, const RunContext& run);

/// Writes it.
/// Errors   as exportPicture.
void writeFinished(const Project& project, const FrameToFinish& frame, const FinishHow& how,
                   const Image& picture);

}  // namespace noctis
