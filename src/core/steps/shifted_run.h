#pragma once

namespace noctis {

/// Pixels between four neighbours each: two of a row and two of the row below.
struct ShiftedRun {
    const float* above;  ///< the first pixel's left neighbours
    const float* below;
    float right;          ///< where the first pixel is between left and right, 0 to 1
    float rightPerPixel;  ///< how that changes from pixel to pixel
    float down;           ///< where all of them are between above and below, 0 to 1
    float weight;
};

/// Adds them to a sum of count pixels; above and below have one pixel more.
void addShiftedRun(const ShiftedRun& run, float* sum, int count) noexcept;

}  // namespace noctis
