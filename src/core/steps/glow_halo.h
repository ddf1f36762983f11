#pragma once

#include "core/image/image.h"
#include "core/image/run_context.h"

namespace noctis {

/// Light spread to a round halo whose brightness falls about with the square of the distance; half of it stays within
/// radius pixels. Its sum is kept but for what leaves the picture. The time doesn't grow with the radius.
/// Threads  same bits for any thread count; stops early when run.stop is requested.
/// Source   Gaussians of doubling width: see pyramidBlur.
Image roundHalo(const Image& light, float radius, const RunContext& run);

/// Light drawn out to so many rays, the first at an angle in degrees counterclockwise from the right; along each it
/// falls exponentially, and half of it stays within radius pixels. As above in all else.
/// Source   a recursive filter along each line, on rows that are shifted by its slope.
Image streakHalo(const Image& light, float radius, int rays, float angle, const RunContext& run);

}  // namespace noctis
