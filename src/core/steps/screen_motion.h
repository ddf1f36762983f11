#pragma once

#include "core/recipe/working_frame.h"

#include <string>

namespace noctis {

/// By which way foreign vectors point otherwise than ours: -1 turns an axis round.
struct VectorSigns {
    V2f previous{1.0F};
    V2f next{1.0F};
    std::string why;  ///< a whole sentence; empty where they point as they should
};

/// Vectors that point along the motion on both sides have those to the frame before turned round; where cameras and
/// depth say how what stands still moves, both are compared with that, axis by axis.
VectorSigns vectorSigns(const FrameContext& context);

/// How the pixels of a frame move, px of the working frame: PX, PY to the frame before and NX, NY to the one after, as
/// the vectors pass says; or else as the camera moves past what stands still, by depth and the cameras of the frames
/// before and after. What isn't finite doesn't move. Foreign vectors are turned as vectorSigns says.
/// Errors   Error(MissingPass) where neither is known.
Image screenMotion(const WorkingFrame& frame);

}  // namespace noctis
