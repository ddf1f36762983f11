#pragma once

#include "core/passes/pass.h"
#include "core/passes/pass_reading.h"

namespace noctis {

/// Looks at a pass as it came in and adds what an artist should know to its warnings, each with a remedy:
/// banding of 8 bits, edges blended by a filter, a constant pass, invalid numbers; but not what its reading has
/// corrected.
void addDiagnosis(Pass& pass, const PassReading& reading = {});

/// The fraction of depth edges at which some pixel lies between the two surfaces, as filtering
/// leaves. About 0 for a centre-sampled pass.
float blendedEdgeFraction(const Image& depth);

}  // namespace noctis
