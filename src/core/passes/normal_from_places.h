#pragma once

#include "core/image/camera.h"
#include "core/image/image.h"

#include <algorithm>
#include <cmath>

namespace noctis {

/// The slope of the surface between a pixel and its neighbour on either side, whichever lies nearer: across
/// an edge there is no slope.
template <typename PlaceAt, typename DepthAt>
V3f slopeAt(const PlaceAt& place, const DepthAt& depth, int width, int height, int x, int y, int dx,
            int dy) {
    const auto away = [&](int way) {
        const int u = x + way * dx;
        const int v = y + way * dy;
        if (u < 0 || v < 0 || u >= width || v >= height || !std::isfinite(depth(u, v)))
            return kNothingHit;
        return std::abs(depth(u, v) - depth(x, y));
    };
    const float before = away(-1);
    const float after = away(1);
    if (!std::isfinite(std::min(before, after)))
        return V3f(0.0F);
    return after <= before ? place(x + dx, y + dy) - place(x, y)
                           : place(x, y) - place(x - dx, y - dy);
}

/// The normal of the surface itself at a pixel that is seen along direction, from place(x, y) and depth(x, y)
/// there and beside it; 0 where nothing was hit.
template <typename PlaceAt, typename DepthAt>
V3f normalFromPlaces(const PlaceAt& place, const DepthAt& depth, const V3f& direction, int width,
                     int height, int x, int y) {
    if (!std::isfinite(depth(x, y)))
        return V3f(0.0F);
    const V3f across = slopeAt(place, depth, width, height, x, y, 1, 0);
    const V3f down = slopeAt(place, depth, width, height, x, y, 0, 1);
    V3f normal = down.cross(across);
    if (normal.length2() < 1e-24F || !std::isfinite(normal.length2()))
        normal = -direction;
    if (normal.dot(direction) > 0.0F)
        normal = -normal;
    return normal.normalized();
}

}  // namespace noctis
