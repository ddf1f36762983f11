#pragma once

#include "core/recipe/step_type.h"

namespace noctis {

enum class MatteSource { Alpha, Coverage };

/// Settings of the matte step: the picture's alpha, made anew. Units and ranges are declared in matte.cpp.
/// Exact    grown by a disc, then blurred by a Gaussian, then clamp((a - black) / (white - black))^(1 / gamma); colour
///          stays associated: it is scaled as alpha is.
struct MatteSettings {
    MatteSource source = MatteSource::Alpha;
    float grow = 0.0F;
    float soften = 0.0F;
    float black = 0.0F;
    float white = 1.0F;
    float gamma = 1.0F;
    float fringe = 0.0F;
};

StepType matteStep();

}  // namespace noctis
