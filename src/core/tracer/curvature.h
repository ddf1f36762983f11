#pragma once

#include "core/tracer/accelerator.h"

#include <cstdint>

namespace noctis {

/// Mean curvature of a surface within a reach, by rays dropped onto it around a place.
///
/// In each direction the circle through the place, at a right angle to the normal there, and the point
/// met at the reach gives one curvature; Euler's theorem makes their mean the mean curvature.
/// Units    1/m; positive where the surface bends away from its own side (edges), negative in grooves.
/// Range    within 1/reach; where the surface ends, as at a sharp edge, 1/reach counts.
/// Exact    a sphere has 1/radius at any reach below the radius.
/// Source   do Carmo 1976, Differential Geometry of Curves and Surfaces, 3-2.
float curvatureAt(const Accelerator& accelerator, const Surface& surface, float reach, int samples,
                  std::uint32_t pixelHash) noexcept;

}  // namespace noctis
