#pragma once

#include "core/passes/pass_file.h"
#include "core/tracer/render.h"

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace noctis {

struct SequenceOptions {
    int first = 1;
    int last = 1;
    double framesPerSecond = 24.0;
    std::filesystem::path pattern;  ///< see fileOfFrame
    PassFileOptions packing;
    bool resume = false;  ///< frames whose files are there are kept
};

struct SequenceReport {
    int written = 0;  ///< frames
    int files = 0;    ///< of them, and of one that was stopped
    int skipped = 0;
    std::vector<std::string> failures;  ///< one sentence a frame that failed
    std::vector<std::string> warnings;  ///< each once, whatever frames it is of
};

/// Renders the same passes of several views, one file each, numbered from 1; see fileOfFrame.
/// Result   what was written: fewer frames than there are views if it was stopped.
/// Errors   as renderPasses and writePasses.
SequenceReport renderViews(const Scene& scene, const Accelerator& accelerator,
                           const RenderRequest& request, const std::vector<View>& views,
                           const std::filesystem::path& pattern, const PassFileOptions& packing,
                           const RunContext& run = {}, const RenderObserver& observer = {});

/// The request at a frame of a scene that moves, and the scene posed as it is then. own: see ownView, asked of the scene
/// before it was first posed.
RenderRequest requestAtFrame(Scene& scene, const RenderRequest& request,
                             const std::optional<std::size_t>& own, int frame,
                             double framesPerSecond);

/// Renders a range of frames of a view, packed as asked. The view moves as the scene has it, if it is
/// one of the scene's own and stands where the scene has it; otherwise it stays. A frame that fails is
/// reported and the rest goes on. The scene is left at the last frame's pose.
/// Errors   Error(BadSetting) for a range that is none.
SequenceReport renderSequence(Scene& scene, const RenderRequest& request,
                              const SequenceOptions& options, const RunContext& run = {});

}  // namespace noctis
