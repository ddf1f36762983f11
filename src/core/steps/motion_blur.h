#pragma once

#include "core/recipe/step_type.h"

namespace noctis {

/// Settings of the motion blur step. Units and ranges are declared in motion_blur.cpp.
struct MotionBlurSettings {
    float shutter = 0.5F;    ///< frames that it is open
    float offset = 0.0F;     ///< frames from this one to the middle of that time
    float keepSharp = 0.0F;  ///< how much of the still picture lies over what moves
    V2f direction{0.0F};     ///< px of the full picture a frame, for all; 0: as the passes say
};

/// What a moving picture is made from. All of one size; all but light and motion may be empty.
struct MovingPicture {
    Image light;     ///< up to four channels move; what is beyond them stays
    Image motion;    ///< px: PX, PY to the frame before, NX, NY to the one after
    Image depth{};   ///< m; what is nearer hides what is behind; empty: what moves is nearer
    Image behind{};  ///< the channels of light: what shows where a thing has left, if finite
    Image moves{};   ///< 0..1, one channel: only what is above a half moves
};

/// The mean of a picture over the time that a shutter is open: at time s each pixel is where its motion has brought it,
/// the nearest of those that meet is seen, and where none is, what is behind or farthest beside goes on.
///
/// Units    first, last: frames from this one.
/// Exact    every bit where nothing moves. Same bits for any thread count; stops early when run.stop is requested.
/// Limits   what turns, or speeds up, within the shutter goes along a line to the next frame; light within one pixel stays
///          together.
Image overTime(const MovingPicture& moving, float first, float last, const RunContext& run = {});

StepType motionBlurStep();

}  // namespace noctis
