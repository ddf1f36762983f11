#include "core/passes/snap_edges.h"

#include "core/image/tiles.h"

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr int kBand = 16;
/// Two surfaces are apart when one is this much farther than the other.
constexpr float kApart = 1.08F;
/// As a part of the step between them, what is nearer to a side than this lies on it.
constexpr float kOnSide = 0.03F;
/// As a part of a step, slopes steeper than this from pixel to pixel are edges.
constexpr float kEdge = 0.3F;  // a plane's own is a quarter of the step over four pixels

/// What the surface on one side makes of a pixel, carried on from two and three pixels off by its own slope.
/// Not a number: there is none.
float sideOf(const Image& depth, int x, int y, int dx, int dy, float step) noexcept {
    const auto at = [&](int k) {
        const int u = std::clamp(x + k * dx, 0, depth.width() - 1);
        const int v = std::clamp(y + k * dy, 0, depth.height() - 1);
        return depth(u, v, 0);
    };
    const float near = at(2);
    const float slope = near - at(3);
    // A slope as steep as the step is another edge.
    return std::abs(slope) < kEdge * std::abs(step) ? near + 2.0F * slope : near;
}

/// The side a pixel is put on along one line; its own depth where it is no mixture.
float along(const Image& depth, int x, int y, int dx, int dy) noexcept {
    const float here = depth(x, y, 0);
    const int margin = 2;
    if (x < margin || y < margin || x + margin >= depth.width() || y + margin >= depth.height())
        return here;
    const float step = depth(x + 2 * dx, y + 2 * dy, 0) - depth(x - 2 * dx, y - 2 * dy, 0);
    if (!std::isfinite(step))
        return here;
    const float a = sideOf(depth, x, y, -dx, -dy, step);
    const float b = sideOf(depth, x, y, dx, dy, step);
    const float nearer = std::min(a, b);
    const float farther = std::max(a, b);
    // One surface, however steep, carried on from both sides meets itself.
    if (!(nearer > 0.0F && farther > nearer * kApart))
        return here;
    const float part = (here - nearer) / (farther - nearer);
    if (!(part > kOnSide && part < 1.0F - kOnSide))
        return here;
    return part < 0.5F ? nearer : farther;
}

}  // namespace

Image snappedEdges(const Image& depth) {
    Image out = depth;
    float* to = out.editPlane(0);
    forEachBand(depth.height(), kBand, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < depth.width(); ++x) {
                const float here = depth(x, y, 0);
                if (!std::isfinite(here))
                    continue;
                float snapped = along(depth, x, y, 1, 0);
                if (snapped == here)
                    snapped = along(depth, x, y, 0, 1);
                if (snapped == here)
                    snapped = along(depth, x, y, 1, 1);
                if (snapped == here)
                    snapped = along(depth, x, y, 1, -1);
                to[out.rowStride() * y + x] = snapped;
            }
    });
    return out;
}

}  // namespace noctis
