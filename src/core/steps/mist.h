#pragma once

#include "core/recipe/step_type.h"

namespace noctis {

enum class MistSource { Distances, Pass };

/// Settings of the mist step. Units and ranges are declared in mist.cpp.
struct MistStepSettings {
    MistSource source = MistSource::Distances;
    float begins = 5.0F;  ///< m along the view
    float half = 30.0F;   ///< m, where it is half
    float full = 100.0F;  ///< m, where it is full
    LinearRgb colour{0.16F, 0.19F, 0.24F};
};

/// How thick the mist is at a depth, 0..1.
/// Range    depth in m, +inf where nothing was hit: full; not a number: none.
/// Source   t^p, t = clamp((depth - begins) / (full - begins), 0, 1), p so that it is 0.5 at half.
float mistShare(float depth, const MistStepSettings& settings) noexcept;

StepType mistStep();

}  // namespace noctis
