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
/// Those flatter than this are a surface's own, out of the filter's reach.
constexpr float kClean = 0.1F;
/// No surface is carried on to farther or nearer than this many times its own distance.
constexpr float kFarthest = 1.3F;
/// A plane's slope changes by less than this part of it from pixel to pixel.
constexpr float kBend = 0.5F;
/// What is clean beside the background changes by less than this part of its distance from pixel to pixel.
constexpr float kSteady = 0.05F;
/// How far a filter's mixtures are looked past on each side, px: filters up to eleven pixels wide.
constexpr int kNarrow = 2;
constexpr int kWidest = 6;

/// Depths along a line through a pixel, at whole pixels off it.
struct Line {
    const Image& depth;
    int x, y, dx, dy;

    [[nodiscard]] float operator()(int k) const noexcept {
        const int u = std::clamp(x + k * dx, 0, depth.width() - 1);
        const int v = std::clamp(y + k * dy, 0, depth.height() - 1);
        return depth(u, v, 0);
    }
    [[nodiscard]] bool reaches(int k) const noexcept {
        return x >= k && y >= k && x + k < depth.width() && y + k < depth.height();
    }
    /// Whether it falls or rises from one side to the other, as a mixture does and a thin thing does not; the sides
    /// themselves may slope a little the other way.
    [[nodiscard]] bool ramps(int reach) const noexcept {
        const float step = (*this)(reach) - (*this)(-reach);
        for (int k = -reach; k < reach; ++k)
            if (!(((*this)(k + 1) - (*this)(k)) / step >= -kOnSide))
                return false;
        return true;
    }
};

/// What the surface on one side makes of a pixel, carried on from so far off by its own slope.
float sideOf(const Line& line, int k, float step) noexcept {
    const int out = k < 0 ? -1 : 1;
    const float near = line(k);
    const float slope = near - line(k + out);
    const float before = line(k + out) - line(k + 2 * out);
    // A slope as steep as the step is another edge, and so is a steep one that does not last.
    const float carried = std::clamp(near + static_cast<float>(std::abs(k)) * slope,
                                     near / kFarthest, near * kFarthest);
    const bool lasts = std::abs(slope - before) < kBend * std::abs(slope);
    const bool steep = std::abs(carried - near) > (kApart - 1.0F) * near;
    return std::abs(slope) >= kEdge * std::abs(step) || (steep && !lasts) ? near : carried;
}

/// How steep the steeper side is, as a part of the step between them.
float slopeBeyond(const Line& line, int reach, float step) noexcept {
    return std::max(std::abs(line(reach + 1) - line(reach)),
                    std::abs(line(-reach) - line(-reach - 1))) /
           std::abs(step);
}

/// The surface on one side of a pixel, past the mixtures: where it is clean, or of a thin thing the nearest there is.
float surfaceBeside(const Line& line, int out) noexcept {
    for (int k = 1; k < kWidest && line.reaches(k + 1); ++k) {
        const float near = line(out * k);
        const float next = line(out * (k + 1));
        if (!std::isfinite(near))
            break;
        if (std::abs(next - near) < kSteady * near || !(next < near))
            return near;
    }
    return line(0);
}

/// A pixel between a surface and the background, which has no distance: by what part of the pixel's code, one
/// over its distance, is the surface's. Its own depth for any other pixel.
float besideNothing(const Line& line) noexcept {
    const float here = line(0);
    for (int k = 1; k < kWidest && line.reaches(k + 1); ++k) {
        const bool ahead = std::isinf(line(k));
        if (!ahead && !std::isinf(line(-k)))
            continue;
        const float near = surfaceBeside(line, ahead ? -1 : 1);
        if (here < near * kApart)
            return here;
        return near > 0.5F * here ? near : kNothingHit;
    }
    return here;
}

/// The side a pixel is put on along one line; its own depth where it isn't a mixture.
float along(const Line& line, FilteredIn filteredIn) noexcept {
    const float here = line(0);
    if (const float beside = besideNothing(line); beside != here)
        return beside;
    // As near as the filter lets one see both sides; the usual one is three pixels wide.
    int reach = kNarrow;
    for (int wide = kNarrow; wide <= kWidest && line.reaches(wide); ++wide) {
        const float step = line(wide) - line(-wide);
        if (!std::isfinite(step) || (wide > kNarrow && !line.ramps(wide)))
            break;
        if (slopeBeyond(line, wide, step) < kClean) {
            reach = wide;
            break;
        }
    }
    const float step = line(reach) - line(-reach);
    if (!line.reaches(reach) || !std::isfinite(step))
        return here;
    const float a = sideOf(line, -reach, step);
    const float b = sideOf(line, reach, step);
    const float nearer = std::min(a, b);
    const float farther = std::max(a, b);
    // One surface, however steep, carried on from both sides meets itself.
    if (!(nearer > 0.0F && farther > nearer * kApart))
        return here;
    const auto stored = [filteredIn](float z) {
        return filteredIn == FilteredIn::Depth ? z : -1.0F / z;
    };
    const float part = (stored(here) - stored(nearer)) / (stored(farther) - stored(nearer));
    if (!(part > kOnSide && part < 1.0F - kOnSide))
        return here;
    return part < 0.5F ? nearer : farther;
}

Image snappedOnce(const Image& depth, FilteredIn filteredIn) {
    Image out = depth;
    float* to = out.editPlane(0);
    forEachBand(depth.height(), kBand, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < depth.width(); ++x) {
                const float here = depth(x, y, 0);
                if (!std::isfinite(here))
                    continue;
                float snapped = along({depth, x, y, 1, 0}, filteredIn);
                if (snapped == here)
                    snapped = along({depth, x, y, 0, 1}, filteredIn);
                if (snapped == here)
                    snapped = along({depth, x, y, 1, 1}, filteredIn);
                if (snapped == here)
                    snapped = along({depth, x, y, 1, -1}, filteredIn);
                to[out.rowStride() * y + x] = snapped;
            }
    });
    return out;
}

}  // namespace

Image snappedEdges(const Image& depth, FilteredIn filteredIn) {
    // At corners the side found along one line may be a mixture along the other.
    return snappedOnce(snappedOnce(depth, filteredIn), filteredIn);
}

}  // namespace noctis
