#pragma once

#include "core/image/run_context.h"
#include "core/steps/aperture.h"

#include <cstddef>
#include <cstdint>
#include <vector>

namespace noctis {

/// Red, green, blue and weight, in one vector register.
using Float4 = float __attribute__((vector_size(16)));

/// A picture of premultiplied colour and weight.
struct WeightedPicture {
    int width = 0;
    int height = 0;
    std::vector<Float4> samples;

    WeightedPicture() = default;
    WeightedPicture(int w, int h)
        : width(w), height(h),
          samples(static_cast<std::size_t>(w) * static_cast<std::size_t>(h), Float4{}) {}
    [[nodiscard]] Float4* row(int y) noexcept {
        return samples.data() + static_cast<std::ptrdiff_t>(width) * y;
    }
    [[nodiscard]] const Float4* row(int y) const noexcept {
        return samples.data() + static_cast<std::ptrdiff_t>(width) * y;
    }
};

/// A source pixel to be spread over the kernel's shape.
struct SpreadPoint {
    float colour[3];  ///< premultiplied by weight
    float weight;
    std::int32_t x;
    std::int32_t kernel;
};

/// Source pixels, by row.
using SpreadRows = std::vector<std::vector<SpreadPoint>>;

/// Spreads every point over its kernel and adds them up: each keeps its energy, whatever its
/// radius.
///
/// A kernel's row is a span, so a point is written as the two ends of it into a row of differences,
/// which is summed up once at the end: the time grows with the radius, not with its square.
/// What lies beyond the picture is as its edge is.
/// Threads  same bits for any thread count; stops early when run.stop is requested.
/// Source   the idea of summing up differences: Crow 1984, Summed-Area Tables; for spreading rather
///          than gathering: Kosloff, Tao and Barsky 2009, Depth of Field Postprocessing for Layered
///          Scenes Using Constant-Time Rectangle Spreading. Ours spreads any shape that is one span
///          a row.
WeightedPicture spread(int width, const SpreadRows& rows, const ApertureKernels& kernels,
                       const RunContext& run);

}  // namespace noctis
