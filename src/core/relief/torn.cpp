#include "core/relief/torn.h"

#include "core/image/tiles.h"

#include <bit>
#include <cmath>
#include <limits>

namespace noctis {

namespace {

constexpr float kCovered = 0.5F;
/// A step is one when it is this many cells off what the slopes on its two sides make of it.
constexpr float kTornCells = 1.5F;

/// Fills a mask from a test of each cell and the next in a direction.
template <typename Test> Image marks(int width, int height, int dx, int dy, const Test& isTorn) {
    Image mask(width, height, {"Y"}, 0.0F);
    float* to = mask.editPlane(0);
    forEachBand(height, 32, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < width; ++x)
                if (x + dx < width && y + dy < height && isTorn(x, y, x + dx, y + dy))
                    to[mask.rowStride() * y + x] = 1.0F;
    });
    return mask;
}

}  // namespace

void tear(Slopes& slopes, const PassSet& set, float metresPerPixel) {
    const int w = slopes.right.width();
    const int h = slopes.right.height();
    if (w != set.width || h != set.height)
        return;
    if (const Pass* coverage = set.find(PassKind::Coverage)) {
        float* right = slopes.right.editPlane(0);
        for (int y = 0; y < h; ++y)
            for (int x = 0; x < w; ++x)
                if (coverage->image(x, y, 0) < kCovered)
                    right[slopes.right.rowStride() * y + x] = kNotKnown;
    }
    const auto tearBy = [&](const auto& test) {
        slopes.tornRight = marks(w, h, 1, 0, [&](int x, int y, int u, int v) {
            return test(x, y, u, v, slopes.right, 1.0F);
        });
        slopes.tornBelow = marks(w, h, 0, 1, [&](int x, int y, int u, int v) {
            return test(x, y, u, v, slopes.up, -1.0F);
        });
    };
    if (const Pass* depth = set.find(PassKind::Depth)) {
        tearBy([&](int x, int y, int u, int v, const Image& slope, float sign) {
            const float a = depth->image(x, y, 0);
            const float b = depth->image(u, v, 0);
            if (!std::isfinite(a) || !std::isfinite(b))
                return std::isfinite(a) != std::isfinite(b);
            const float rise = (a - b) / metresPerPixel;
            const float one = sign * slope(x, y, 0);
            const float other = sign * slope(u, v, 0);
            // Between the slopes on its two sides, with room for what bends within a cell.
            const float room = kTornCells + 0.5F * std::abs(one - other);
            return std::abs(rise - 0.5F * (one + other)) > room;
        });
    } else if (const Pass* objects = set.find(PassKind::Objects)) {
        tearBy([&](int x, int y, int u, int v, const Image&, float) {
            return std::bit_cast<std::uint32_t>(objects->image(x, y, 0)) !=
                   std::bit_cast<std::uint32_t>(objects->image(u, v, 0));
        });
    }
}

}  // namespace noctis
