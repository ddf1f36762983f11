#pragma once

#include "core/image/image.h"

#include <cmath>
#include <limits>

namespace noctis::test {

/// The larger of two differences. What is no number is worse than any: std::max would pass it over.
template <typename Number> Number worse(Number worst, Number difference) {
    if (std::isnan(difference))
        return std::numeric_limits<Number>::infinity();
    return difference > worst ? difference : worst;
}

/// The largest difference between two pictures of one shape, in any channel; infinite if either has one that is no
/// number.
inline double mostApart(const Image& a, const Image& b) {
    if (!a.sameSize(b) || a.channels() != b.channels())
        return std::numeric_limits<double>::infinity();
    double most = 0.0;
    for (int c = 0; c < a.channels(); ++c)
        for (int y = 0; y < a.height(); ++y)
            for (int x = 0; x < a.width(); ++x)
                if (a(x, y, c) != b(x, y, c))  // infinities that agree do
                    most = worse(most, std::abs(static_cast<double>(a(x, y, c)) -
                                                static_cast<double>(b(x, y, c))));
    return most;
}

}  // namespace noctis::test
