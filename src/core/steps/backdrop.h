#pragma once

#include "core/recipe/step_type.h"

namespace noctis {

/// Settings of the backdrop step. Units and ranges are declared in backdrop.cpp.
struct BackdropSettings {
    FilePath picture{};  ///< one of a numbered sequence stands for all of it
    PlaceList
        corners{};  ///< px of the full picture: top left, then clockwise; empty: it fits the frame
    float exposure = 0.0F;  ///< EV
    float saturation = 1.0F;
    float temperature = 6500.0F;  ///< K; more is warmer
    float distance = 0.0F;        ///< m along the view; 0: beyond all
    float blur = 0.0F;            ///< px, the deviation
    float wrap = 0.0F;            ///< how much of its light reaches over the edges before it
    float wrapWidth = 12.0F;      ///< px
};

/// A picture behind what the frame's alpha covers, or where it has none, behind what coverage or depth say is hit.
///
/// Shape    picture: of any size, R G B or R G B A, associated.
/// Exact    what is covered wholly and beyond the reach of the wrap keeps every bit.
/// Errors   Error(BadSetting) unless there are no corners or four, which no line parts and which aren't crossed.
/// Threads  same bits for any thread count; stops early when run.stop is requested.
WorkingFrame standBehind(const WorkingFrame& frame, const Image& picture,
                         const BackdropSettings& settings, const RunContext& run = {});

/// Exposure, saturation and temperature that give a picture the mean brightness and colour of another.
/// Shape    both R G B or more; share: what of the other counts, may be empty.
void matchColours(BackdropSettings& settings, const Image& picture, const Image& other,
                  const Image& share = {});

StepType backdropStep();

}  // namespace noctis
