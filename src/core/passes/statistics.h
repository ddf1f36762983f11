#pragma once

#include "core/image/image.h"

#include <array>
#include <span>
#include <vector>

namespace noctis {

/// What one channel holds, background and non-finite values left out.
struct Statistics {
    float minimum = 0.0F;
    float maximum = 0.0F;
    std::size_t counted = 0;  ///< finite values
    std::size_t infinite = 0;
    std::size_t notANumber = 0;

    [[nodiscard]] bool constant() const noexcept { return counted > 0 && minimum == maximum; }
};

Statistics statisticsOf(const Image& image, int channel);

/// The quantiles of the finite values at these fractions (0..1). Exact; empty if none is finite.
std::vector<float> percentilesOf(const Image& image, int channel, std::span<const float> fractions);

/// Counts of the finite values in bins of equal width from low to high, in value or, if
/// logarithmic, in log(value). What lies outside is not counted.
std::vector<float> histogramOf(const Image& image, int channel, int bins, float low, float high,
                               bool logarithmic);

}  // namespace noctis
