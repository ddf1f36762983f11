#include "core/tracer/between_traced.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace noctis {

namespace {

constexpr int kBand = 32;
/// Differences below it are those of a surface that is lit unevenly.
constexpr float kAlike = 0.02F;
/// Neighbours whose depths differ by less, of the nearer one's, are taken for one surface.
constexpr float kSameSurface = 0.1F;
/// How much brighter, of their sum, one pair is where a line may run, and what a line's pair weighs more.
constexpr float kLine = 0.1F;
constexpr float kLinePreferred = 8.0F;
/// What a pair weighs at the border of the area, where one of it is missing.
constexpr float kAlone = 1.0F;

/// Two neighbours on opposite sides of a pixel, by their places in the planes.
struct Pair {
    std::ptrdiff_t before = 0;
    std::ptrdiff_t after = 0;
    float weight = 0.0F;
};

class Between {
public:
    Between(Image& shown, Image& depth)
        : m_channels(shown.channels()), m_stride(shown.rowStride()) {
        for (int c = 0; c < m_channels; ++c)
            m_planes[static_cast<std::size_t>(c)] = shown.editPlane(c);
        m_depth = depth.editPlane(0);
    }

    void fill(int x, int y, const Tile& area) noexcept {
        const std::ptrdiff_t at = m_stride * y + x;
        Pair across = pair(at, 1, x > area.x0, x + 1 < area.x1);
        Pair along = pair(at, m_stride, y > area.y0, y + 1 < area.y1);
        if (x >= area.x0 + 2 && y >= area.y0 + 2 && x + 2 < area.x1 && y + 2 < area.y1)
            preferLine(at, across, along);
        const float share = across.weight / (across.weight + along.weight);
        for (int c = 0; c < m_channels; ++c) {
            float* const plane = m_planes[static_cast<std::size_t>(c)];
            plane[at] = 0.5F * (share * (plane[across.before] + plane[across.after]) +
                                (1.0F - share) * (plane[along.before] + plane[along.after]));
        }
        m_depth[at] = depthOf(share > 0.5F ? across : along);
    }

private:
    /// As of the plane through both, or of one of two things.
    [[nodiscard]] float depthOf(const Pair& pair) const noexcept {
        const float a = m_depth[pair.before];
        const float b = m_depth[pair.after];
        const bool together =
            std::isfinite(a) && std::isfinite(b) && std::abs(a - b) < kSameSurface * std::min(a, b);
        return together ? 2.0F * a * b / (a + b) : a;
    }

    [[nodiscard]] Pair pair(std::ptrdiff_t at, std::ptrdiff_t step, bool hasBefore,
                            bool hasAfter) const noexcept {
        if (!hasBefore && !hasAfter)
            return {at, at, 0.0F};
        if (!hasBefore || !hasAfter) {
            const std::ptrdiff_t only = hasBefore ? at - step : at + step;
            return {only, only, kAlone};
        }
        const float difference = kAlike + unlike(at - step, at + step);
        return {at - step, at + step, 1.0F / (difference * difference)};
    }

    /// Where both pairs are alike, but not like each other, a line runs along the one that is rarer
    /// about here: reeds would come out as dots.
    void preferLine(std::ptrdiff_t at, Pair& across, Pair& along) const noexcept {
        const float level = brightness(across.before) + brightness(across.after);
        const float upright = brightness(along.before) + brightness(along.after);
        if (std::abs(level - upright) < kLine * (level + upright))
            return;
        float about = 0.0F;
        for (const std::ptrdiff_t side : {std::ptrdiff_t{-1}, std::ptrdiff_t{1}})
            for (const std::ptrdiff_t end : {-m_stride, m_stride})
                about += brightness(at + 2 * side + end) + brightness(at + side + 2 * end);
        about *= 0.25F;  // eight pixels, as two
        const bool isUpright = std::abs(upright - about) > std::abs(level - about);
        (isUpright ? along : across).weight *= kLinePreferred;
    }

    [[nodiscard]] float brightness(std::ptrdiff_t at) const noexcept {
        float sum = 0.0F;
        for (int c = 0; c < m_channels; ++c)
            sum += m_planes[static_cast<std::size_t>(c)][at];
        return sum;
    }

    /// 0 for the same, 1 and more for quite another thing.
    [[nodiscard]] float unlike(std::ptrdiff_t a, std::ptrdiff_t b) const noexcept {
        const auto [near, far] = std::minmax(m_depth[a], m_depth[b]);
        const float apart = std::isfinite(near) ? 1.0F - near / far : 0.0F;
        float difference = 0.0F;
        float sum = kAlike;
        for (int c = 0; c < m_channels; ++c) {
            const float* const plane = m_planes[static_cast<std::size_t>(c)];
            difference += std::abs(plane[a] - plane[b]);
            sum += plane[a] + plane[b];
        }
        return std::max(apart, difference / sum);
    }

    std::array<float*, 3> m_planes{};
    float* m_depth = nullptr;
    int m_channels;
    std::ptrdiff_t m_stride;
};

}  // namespace

void fillBetweenTraced(Image& shown, Image& depth, const Tile& area, const RunContext& run) {
    Between between(shown, depth);
    forEachBand(area.height(), kBand, run, [&](int first, int last) {
        for (int y = area.y0 + first; y < area.y0 + last; ++y)
            for (int x = area.x0 + (area.x0 + y + 1) % 2; x < area.x1; x += 2)
                between.fill(x, y, area);
    });
}

}  // namespace noctis
