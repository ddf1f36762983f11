#pragma once

#include "core/passes/pass_set.h"
#include "core/recipe/frame_context.h"
#include "core/settings/handle.h"

#include <optional>

namespace noctis {

/// What instruments show of a frame.
struct MeasuredFrame {
    ShownFrame shown{};
    FrameTime time{};
    std::optional<Pass> depth{};
    Image coarseDepth{};   ///< for what is laid over the picture
    Image worldNormals{};  ///< empty if there are none
    NamedLights lights{};  ///< of the scene
};

/// overview: the frame's passes at a size that instruments need.
/// Threads  any.
MeasuredFrame measuredFrame(const PassSet& overview, FrameTime time = {});

}  // namespace noctis
