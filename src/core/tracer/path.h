#pragma once

#include "core/tracer/accelerator.h"
#include "core/tracer/lighting.h"
#include "core/tracer/pass_settings.h"

namespace noctis {

/// The light that comes along one ray: path tracing with next-event estimation and multiple
/// importance sampling (balance heuristic), ended by Russian roulette.
/// Range    >= 0 and finite.
/// Source   Kajiya 1986, The Rendering Equation; Veach 1997, 9.2.
LinearRgb tracePath(const Accelerator& accelerator, const Lighting& lighting, const CameraRay& ray,
                    const BeautySettings& settings, PixelSampler& sampler) noexcept;

}  // namespace noctis
