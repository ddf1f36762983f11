#pragma once

#include <QRectF>

#include <vector>

namespace noctis {

/// Where distances stand on a line, logarithmic or linear.
struct DepthAxis {
    float nearest = 0.5F;     ///< m at the left end
    float farthest = 100.0F;  ///< m at the right end
    bool logarithmic = true;
    qreal left = 0.0;  ///< pixels
    qreal right = 100.0;

    [[nodiscard]] qreal at(float metres) const;
    [[nodiscard]] float metresAt(qreal x) const;
    /// Round distances for its labels, at least that many pixels apart.
    [[nodiscard]] std::vector<float> ticks(qreal apart) const;
};

}  // namespace noctis
