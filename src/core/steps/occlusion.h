#pragma once

#include "core/recipe/step_type.h"

namespace noctis {

/// Indirect: the light that came by way of other surfaces, which is what openness is about.
enum class OcclusionReach { Everywhere, DarkOnly, Indirect };

/// Settings of the occlusion step: the pass laid over the picture as shade.
struct OcclusionStepSettings {
    float strength = 0.8F;
    float black = 0.0F;  ///< openness that counts as closed
    float white = 1.0F;  ///< openness that counts as open
    float gamma = 1.0F;  ///< of the openness between the two
    LinearRgb tint{};    ///< what closed places keep of their light
    OcclusionReach reach = OcclusionReach::Everywhere;
    float brightFrom = 0.5F;  ///< with DarkOnly: luminance from which nothing is shaded
};

/// The factor a channel is multiplied by. Range 0..1 for a tint of 0..1.
/// Source   openness' = clamp((o - black)/(white - black))^gamma; 1 - strength (1 - mix(tint, 1,
/// o')).
float occlusionFactor(float open, float tint, const OcclusionStepSettings& settings) noexcept;

StepType occlusionStep();

}  // namespace noctis
