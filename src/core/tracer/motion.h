#pragma once

#include "core/tracer/data_passes.h"

#include <array>

namespace noctis {

/// Where a place on an instance goes in the frame: to the frame before (x, y), and to
/// the next (x, y).
/// Units    pixels, +x right, +y down; 0 where nothing moves.
std::array<float, 4> motionOf(const TracedFrame& frame, const Hit& hit, const V3f& place,
                              const Accelerator& accelerator) noexcept;

}  // namespace noctis
