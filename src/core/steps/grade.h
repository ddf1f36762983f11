#pragma once

#include "core/recipe/step_type.h"

namespace noctis {

/// Settings of the grade step; neutral as they start. Units and ranges are declared in grade.cpp.
struct GradeSettings {
    float exposure = 0.0F;        ///< EV
    float temperature = 6500.0F;  ///< K, of the light that is made neutral; more is warmer
    float tint = 0.0F;            ///< -1 greener .. 1 more magenta
    float black = 0.0F;           ///< what becomes 0
    float white = 1.0F;           ///< what becomes 1
    float gamma = 1.0F;
    float contrast = 1.0F;  ///< power about the pivot
    float pivot = 0.18F;
    float saturation = 1.0F;

    bool operator==(const GradeSettings&) const = default;
};

/// One colour graded, in this order: exposure, white balance, black and white point, gamma, contrast,
/// saturation.
/// Exact    what is at its default is left out, so that neutral settings keep every bit.
/// Source   white balance: Bradford adaptation from the Planckian white of temperature, after Kim et al.
///          2002, Design of Advanced Color Temperature Control System, shifted by tint along v of CIE
///          1960; gamma x^(1/gamma), contrast pivot (x / pivot)^contrast, both of |x| with its sign;
///          saturation about linear Rec.709 luminance.
LinearRgb graded(const LinearRgb& colour, const GradeSettings& settings) noexcept;

/// The same for each pixel's first three channels as they are, whatever the alpha: right for settings that don't depend on
/// how bright a colour is (exposure, white balance, saturation).
void gradeEvenly(Image& picture, const GradeSettings& settings, const RunContext& run);

StepType gradeStep();

}  // namespace noctis
