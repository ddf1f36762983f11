#pragma once

#include "core/image/image.h"
#include "core/image/run_context.h"

namespace noctis {

/// Evens out the stairs of values that were stored in steps of this size; what is not finite stays.
///
/// Exact    no value moves by more than half a step, so that no edge moves.
/// Source   our own: each place has the widest blur (a Gaussian applied to what it leaves as well, which keeps
///          bends: Tukey's twicing, 1977) that all around agrees with the codes.
Image withoutSteps(const Image& values, float step, const RunContext& run = {});

}  // namespace noctis
