#include "core/steps/motion_blur.h"

#include "core/image/error.h"
#include "core/image/tiles.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <vector>

namespace noctis {

namespace {

constexpr int kRows = 48;  ///< of a band: its pixels come from as many more as anything moves
constexpr int kLeastMoments = 8;
constexpr int kMostMoments = 64;
constexpr float kStill = 0.05F;       ///< px that are no motion
constexpr float kSameSurface = 0.1F;  ///< of the depth, between neighbours that are one surface
constexpr int kNone = -1;

/// Where pixels are at one moment.
class Motion {
public:
    explicit Motion(const MovingPicture& moving) : m_motion(moving.motion), m_moves(moving.moves) {
        // Beyond the picture it is the same how far.
        const auto most = static_cast<float>(m_motion.width() + m_motion.height());
        for (int c = 0; c < 4; ++c) {
            float* to = m_motion.editPlane(c);
            for (int y = 0; y < m_motion.height(); ++y)
                for (int x = 0; x < m_motion.width(); ++x) {
                    float& value = to[m_motion.rowStride() * y + x];
                    value = std::isfinite(value) ? std::clamp(value, -most, most) : 0.0F;
                }
        }
    }

    [[nodiscard]] V2f at(int x, int y, float time) const noexcept {
        if (!m_moves.empty() && !(m_moves(x, y, 0) > 0.5F))
            return V2f(0.0F);
        return time < 0.0F ? -time * V2f(m_motion(x, y, 0), m_motion(x, y, 1))
                           : time * V2f(m_motion(x, y, 2), m_motion(x, y, 3));
    }
    /// The farthest that anything gets in a time, across and down; px.
    [[nodiscard]] V2f farthest(float first, float last) const noexcept {
        V2f most(0.0F);
        for (int y = 0; y < m_motion.height(); ++y)
            for (int x = 0; x < m_motion.width(); ++x)
                for (const float time : {first, last}) {
                    const V2f by = at(x, y, time);
                    most.x = std::max(most.x, std::abs(by.x));
                    most.y = std::max(most.y, std::abs(by.y));
                }
        return most;
    }

private:
    Image m_motion;
    const Image& m_moves;
};

/// Which pixel is seen where, at one moment, in a band of the picture.
class Moment {
public:
    Moment(const MovingPicture& moving, const Motion& motion, int top, int bottom, int reach)
        : m_moving(moving), m_motion(motion), m_width(moving.light.width()), m_top(top),
          m_rows(bottom - top), m_from(std::max(top - reach, 0)),
          m_until(std::min(bottom + reach, moving.light.height())),
          m_seen(static_cast<std::size_t>(m_width) * static_cast<std::size_t>(m_rows)),
          m_near(m_seen.size()), m_whole(m_seen.size()) {}

    void take(float time) {
        std::ranges::fill(m_seen, kNone);
        std::ranges::fill(m_near, std::numeric_limits<float>::infinity());
        for (int y = m_from; y < m_until; ++y)
            for (int x = 0; x < m_width; ++x) {
                const V2f by = m_motion.at(x, y, time);
                const int column = x + static_cast<int>(std::floor(by.x + 0.5F));
                const int row = y + static_cast<int>(std::floor(by.y + 0.5F)) - m_top;
                if (column < 0 || column >= m_width || row < 0 || row >= m_rows)
                    continue;
                const std::size_t at = index(column, row);
                const float depth = depthOf(x, y, by);
                if (m_seen[at] != kNone && !(depth < m_near[at]))
                    continue;
                m_near[at] = depth;
                m_seen[at] = y * m_width + x;
            }
        fill();
    }
    /// The pixel that is seen at a place of the band; whole: it was moved there, and not taken from beside.
    [[nodiscard]] int seen(int x, int row) const noexcept { return m_seen[index(x, row)]; }
    [[nodiscard]] bool whole(int x, int row) const noexcept { return m_whole[index(x, row)] != 0; }

private:
    [[nodiscard]] std::size_t index(int x, int row) const noexcept {
        return static_cast<std::size_t>(row) * static_cast<std::size_t>(m_width) +
               static_cast<std::size_t>(x);
    }
    [[nodiscard]] float depthOf(int x, int y, const V2f& by) const noexcept {
        if (m_moving.depth.empty())
            return by == V2f(0.0F) ? 2.0F : 1.0F;
        const float metres = m_moving.depth(x, y, 0);
        return std::isfinite(metres) ? metres : std::numeric_limits<float>::max();
    }
    /// Where nothing is, the farther of what is beside it to the left, right, above and below.
    void fill() {
        std::ranges::transform(m_seen, m_whole.begin(),
                               [](int seen) { return seen == kNone ? char{0} : char{1}; });
        std::vector<int> filled = m_seen;
        for (int row = 0; row < m_rows; ++row)
            for (int x = 0; x < m_width; ++x) {
                if (m_whole[index(x, row)] != 0)
                    continue;
                int best = kNone;
                float farthest = -1.0F;
                for (const auto& [dx, dy] : {std::pair{-1, 0}, {1, 0}, {0, -1}, {0, 1}}) {
                    int i = x + dx;
                    int j = row + dy;
                    while (i >= 0 && i < m_width && j >= 0 && j < m_rows &&
                           m_whole[index(i, j)] == 0) {
                        i += dx;
                        j += dy;
                    }
                    if (i < 0 || i >= m_width || j < 0 || j >= m_rows)
                        continue;
                    const std::size_t at = index(i, j);
                    if (m_near[at] > farthest) {
                        farthest = m_near[at];
                        best = m_seen[at];
                    }
                }
                filled[index(x, row)] = best;
            }
        m_seen.swap(filled);
    }

    const MovingPicture& m_moving;
    const Motion& m_motion;
    int m_width;
    int m_top;
    int m_rows;
    int m_from;
    int m_until;
    std::vector<int> m_seen;
    std::vector<float> m_near;
    std::vector<char> m_whole;
};

/// Light between two pixels of one surface; across its outline, that of the pixel itself.
class Light {
public:
    explicit Light(const MovingPicture& moving) : m_moving(moving) {}

    /// Adds what is seen at a place that shows pixel (x, y) with an offset below a pixel.
    void add(int x, int y, const V2f& offset, std::vector<float>& sum) const noexcept {
        const int dx = offset.x < 0.0F ? -1 : 1;
        const int dy = offset.y < 0.0F ? -1 : 1;
        const int right = sameSurface(x, y, x + dx, y) ? x + dx : x;
        const int below = sameSurface(x, y, x, y + dy) ? y + dy : y;
        const float fx = std::min(std::abs(offset.x), 1.0F);
        const float fy = std::min(std::abs(offset.y), 1.0F);
        for (std::size_t c = 0; c < sum.size(); ++c) {
            const auto at = [&](int i, int j) { return m_moving.light(i, j, static_cast<int>(c)); };
            const float upper = at(x, y) + fx * (at(right, y) - at(x, y));
            const float lower = at(x, below) + fx * (at(right, below) - at(x, below));
            sum[c] += upper + fy * (lower - upper);
        }
    }

private:
    [[nodiscard]] bool sameSurface(int x, int y, int i, int j) const noexcept {
        if (i < 0 || j < 0 || i >= m_moving.light.width() || j >= m_moving.light.height())
            return false;
        if (!m_moving.moves.empty() &&
            (m_moving.moves(x, y, 0) > 0.5F) != (m_moving.moves(i, j, 0) > 0.5F))
            return false;
        if (m_moving.depth.empty())
            return true;
        const float own = m_moving.depth(x, y, 0);
        const float other = m_moving.depth(i, j, 0);
        return own == other || std::abs(own - other) < kSameSurface * own;
    }

    const MovingPicture& m_moving;
};

int momentsFor(float pixels) {
    return std::clamp(static_cast<int>(std::ceil(pixels)) + 1, kLeastMoments, kMostMoments);
}

}  // namespace

Image overTime(const MovingPicture& moving, float first, float last, const RunContext& run) {
    const Image& light = moving.light;
    if (!moving.motion.sameSize(light) || moving.motion.channels() < 4)
        throw Error(ErrorCode::ShapeMismatch, "motion blur needs motion of the picture's size");
    const Motion motion(moving);
    const V2f reach = motion.farthest(first, last);
    if (reach.length() < kStill || !(last > first))
        return light;
    const int moments = momentsFor(reach.length() * (last - first) /
                                   std::max({std::abs(first), std::abs(last), 1e-6F}));
    const int rowsBeside = static_cast<int>(std::ceil(reach.y)) + 1;
    Image out = light;
    std::vector<float*> to;
    for (int c = 0; c < out.channels(); ++c)
        to.push_back(out.editPlane(c));
    const Light between(moving);
    forEachBand(out.height(), kRows, run, [&](int y0, int y1) {
        // Holes are filled from above and below, too: so many more rows are looked at.
        const int top = std::max(y0 - rowsBeside, 0);
        const int bottom = std::min(y1 + rowsBeside, out.height());
        Moment moment(moving, motion, top, bottom, rowsBeside);
        const std::size_t channels = to.size();
        const auto pixels =
            static_cast<std::size_t>(out.width()) * static_cast<std::size_t>(y1 - y0);
        const auto indexOf = [&](int x, int y) {
            return static_cast<std::size_t>(y - y0) * static_cast<std::size_t>(out.width()) +
                   static_cast<std::size_t>(x);
        };
        std::vector<float> sums(pixels * channels);
        std::vector<int> still(pixels);  // at how many moments each shows itself, unmoved
        std::vector<float> sum(channels);
        // Adds to sum what is seen at a pixel; true: it is the pixel itself, unmoved.
        const auto look = [&](int x, int y, float time) {
            const int seen = moment.seen(x, y - top);
            if (seen == kNone) {
                between.add(x, y, V2f(0.0F), sum);
                return false;
            }
            const int i = seen % out.width();
            const int j = seen / out.width();
            const V2f by = motion.at(i, j, time);
            const V2f source(static_cast<float>(x) - by.x, static_cast<float>(y) - by.y);
            const bool itself = i == x && j == y && by == V2f(0.0F);
            if (moment.whole(x, y - top)) {
                between.add(i, j, source - V2f(static_cast<float>(i), static_cast<float>(j)), sum);
                return itself;
            }
            // Hidden in the picture itself: what is behind there, or the surface beside it.
            const int px = std::clamp(static_cast<int>(std::lround(source.x)), 0, out.width() - 1);
            const int py = std::clamp(static_cast<int>(std::lround(source.y)), 0, out.height() - 1);
            const bool known = !moving.behind.empty() && std::isfinite(moving.behind(px, py, 0));
            for (std::size_t c = 0; c < channels; ++c)
                sum[c] = known ? moving.behind(px, py, static_cast<int>(c))
                               : light(i, j, static_cast<int>(c));
            return false;
        };
        for (int k = 0; k < moments && !run.stopped(); ++k) {
            const float time = first + (last - first) * (static_cast<float>(k) + 0.5F) /
                                           static_cast<float>(moments);
            moment.take(time);
            for (int y = y0; y < y1; ++y)
                for (int x = 0; x < out.width(); ++x) {
                    std::ranges::fill(sum, 0.0F);
                    const std::size_t at = indexOf(x, y);
                    still[at] += look(x, y, time) ? 1 : 0;
                    for (std::size_t c = 0; c < channels; ++c)
                        sums[at * channels + c] += sum[c];
                }
        }
        const float share = 1.0F / static_cast<float>(moments);
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < out.width(); ++x) {
                const std::size_t at = indexOf(x, y);
                if (still[at] == moments)
                    continue;  // every bit of what stands still
                for (std::size_t c = 0; c < channels; ++c)
                    to[c][out.rowStride() * y + x] = share * sums[at * channels + c];
            }
    });
    return out;
}

}  // namespace noctis
