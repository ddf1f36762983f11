#include "core/steps/own_matte.h"

#include "core/image/tiles.h"

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

/// 1 where something is hit.
Image hitIn(const Image& depth) {
    Image hit(depth.width(), depth.height(), {"A"});
    float* to = hit.editPlane(0);
    forEachBand(depth.height(), kBandHeight, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y) {
            const float* metres = depth.row(0, y);
            for (int x = 0; x < depth.width(); ++x)
                to[hit.rowStride() * y + x] = std::isfinite(metres[x]) ? 1.0F : 0.0F;
        }
    });
    return hit;
}

/// From 0 to 1, whatever a file holds.
Image asMatte(Image matte) {
    float* to = matte.editPlane(0);
    forEachBand(matte.height(), kBandHeight, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < matte.width(); ++x) {
                float& a = to[matte.rowStride() * y + x];
                a = a > 0.0F ? std::min(a, 1.0F) : 0.0F;
            }
    });
    return matte;
}

}  // namespace

Image alphaOf(const WorkingFrame& frame) {
    return frame.hasAlpha() ? frame.picture().select({3}, {"A"}) : Image();
}

Image hitMatte(const WorkingFrame& frame) {
    const Image coverage = frame.passIfThere({PassKind::Coverage, {}});
    return coverage.empty() ? hitIn(frame.pass(PassKind::Depth))
                            : asMatte(coverage.select({0}, {"A"}));
}

Image ownMatte(const WorkingFrame& frame) {
    if (frame.hasAlpha())
        return asMatte(alphaOf(frame));
    if (frame.has({PassKind::Coverage, {}}) || frame.has({PassKind::Depth, {}}))
        return hitMatte(frame);
    return {frame.width(), frame.height(), {"A"}, 1.0F};
}

}  // namespace noctis
