#include "core/steps/motion_blur.h"

#include "core/image/error.h"
#include "core/image/tiles.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <vector>

#include <opencv2/core/hal/intrin.hpp>

namespace noctis {

namespace {

constexpr int kFewestRows = 16;  ///< of a band
constexpr int kMostRows = 64;
constexpr int kLeastMoments = 8;
constexpr int kMostMoments = 64;
constexpr float kStill = 0.05F;       ///< px that are no motion
constexpr float kSameSurface = 0.1F;  ///< of the depth, between neighbours that are one surface

constexpr float kNothing = std::numeric_limits<float>::infinity();
constexpr float kFarthest = std::numeric_limits<float>::max();  ///< of what was not hit

/// A pixel's light; what the picture has no channel for is 0.
struct alignas(16) Colour {
    std::array<float, 4> channels{};

    [[nodiscard]] cv::v_float32x4 loaded() const noexcept {
        return cv::v_load_aligned(channels.data());
    }
    void add(const cv::v_float32x4& light) noexcept {
        cv::v_store_aligned(channels.data(), loaded() + light);
    }
};

/// The neighbours of a pixel that are the same surface as it.
enum Beside : unsigned char { kLeft = 1, kRight = 2, kAbove = 4, kBelow = 8 };

/// The picture as it is moved: all of a pixel in one place, without gaps between the rows.
class MovedPixels {
public:
    explicit MovedPixels(const MovingPicture& moving)
        : m_width(moving.light.width()), m_height(moving.light.height()),
          m_channels(std::min(moving.light.channels(), 4)),
          m_colours(static_cast<std::size_t>(m_width) * static_cast<std::size_t>(m_height)),
          m_before(m_colours.size(), V2f(0.0F)), m_after(m_colours.size(), V2f(0.0F)),
          m_order(m_colours.size()), m_beside(m_colours.size()) {
        forEachBand(m_height, kBandHeight, {}, [&](int y0, int y1) {
            for (int y = y0; y < y1; ++y)
                takeRow(moving, y);
        });
        forEachBand(m_height, kBandHeight, {}, [&](int y0, int y1) {
            for (int y = y0; y < y1; ++y)
                for (int x = 0; x < m_width; ++x)
                    m_beside[index(x, y)] = surfacesBeside(moving, x, y);
        });
    }

    [[nodiscard]] int width() const noexcept { return m_width; }
    [[nodiscard]] int height() const noexcept { return m_height; }
    [[nodiscard]] int channels() const noexcept { return m_channels; }
    [[nodiscard]] std::size_t index(int x, int y) const noexcept {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(m_width) +
               static_cast<std::size_t>(x);
    }
    [[nodiscard]] const Colour& colour(std::size_t at) const noexcept { return m_colours[at]; }
    /// How far each pixel has moved at a time of 1 frame away, px: to the side of the time that is asked for.
    [[nodiscard]] const std::vector<V2f>& motionTowards(float time) const noexcept {
        return time < 0.0F ? m_before : m_after;
    }
    /// What is nearer covers what is farther; m.
    [[nodiscard]] const std::vector<float>& order() const noexcept { return m_order; }

    /// The farthest that anything of a row gets at two times, across and down; px.
    [[nodiscard]] V2f farthest(int y, float first, float last) const noexcept {
        V2f most(0.0F);
        for (const float time : {first, last})
            for (int x = 0; x < m_width; ++x) {
                const V2f by = time * motionTowards(time)[index(x, y)];
                most.x = std::max(most.x, std::abs(by.x));
                most.y = std::max(most.y, std::abs(by.y));
            }
        return most;
    }

    /// Adds a pixel's light at an offset of less than a pixel: that between it and its neighbours of one surface; across
    /// its outline, its own.
    void addBetween(std::size_t at, float offsetX, float offsetY, Colour& sum) const noexcept {
        const unsigned beside = m_beside[at];
        const auto stride = static_cast<std::ptrdiff_t>(m_width);
        std::ptrdiff_t across = offsetX < 0.0F ? -1 : 1;
        std::ptrdiff_t down = offsetY < 0.0F ? -stride : stride;
        if ((beside & (offsetX < 0.0F ? kLeft : kRight)) == 0)
            across = 0;
        if ((beside & (offsetY < 0.0F ? kAbove : kBelow)) == 0)
            down = 0;
        const float fx = std::abs(offsetX);
        const float fy = std::abs(offsetY);
        const Colour* own = m_colours.data() + at;
        const Colour& right = own[across];
        const Colour& below = own[down];
        const Colour& opposite = own[across + down];
        const cv::v_float32x4 wx = cv::v_setall_f32(fx);
        const cv::v_float32x4 upper = between(wx, own->loaded(), right.loaded());
        const cv::v_float32x4 lower = between(wx, below.loaded(), opposite.loaded());
        sum.add(between(cv::v_setall_f32(fy), upper, lower));
    }

private:
    static cv::v_float32x4 between(const cv::v_float32x4& part, const cv::v_float32x4& from,
                                   const cv::v_float32x4& to) noexcept {
        return cv::v_muladd(part, to - from, from);
    }
    void takeRow(const MovingPicture& moving, int y) {
        // Beyond the picture it is the same how far.
        const auto most = static_cast<float>(m_width + m_height);
        const auto bounded = [most](float value) {
            return std::isfinite(value) ? std::clamp(value, -most, most) : 0.0F;
        };
        for (int x = 0; x < m_width; ++x) {
            const std::size_t at = index(x, y);
            for (int c = 0; c < m_channels; ++c)
                m_colours[at].channels[static_cast<std::size_t>(c)] = moving.light(x, y, c);
            if (moving.moves.empty() || moving.moves(x, y, 0) > 0.5F) {
                m_before[at] =
                    V2f(bounded(moving.motion(x, y, 0)), bounded(moving.motion(x, y, 1)));
                m_after[at] = V2f(bounded(moving.motion(x, y, 2)), bounded(moving.motion(x, y, 3)));
            }
            if (moving.depth.empty()) {
                // What moves passes before what stands still.
                const bool stands = m_before[at] == V2f(0.0F) && m_after[at] == V2f(0.0F);
                m_order[at] = stands ? 2.0F : 1.0F;
                continue;
            }
            const float metres = moving.depth(x, y, 0);
            m_order[at] = std::isfinite(metres) ? metres : kFarthest;
        }
    }
    [[nodiscard]] unsigned char surfacesBeside(const MovingPicture& moving, int x, int y) const {
        const auto same = [&](int i, int j) {
            if (i < 0 || j < 0 || i >= m_width || j >= m_height)
                return false;
            if (!moving.moves.empty() &&
                (moving.moves(x, y, 0) > 0.5F) != (moving.moves(i, j, 0) > 0.5F))
                return false;
            if (moving.depth.empty())
                return true;
            const float own = moving.depth(x, y, 0);
            const float other = moving.depth(i, j, 0);
            return own == other || std::abs(own - other) < kSameSurface * own;
        };
        return static_cast<unsigned char>(
            (same(x - 1, y) ? kLeft : 0) | (same(x + 1, y) ? kRight : 0) |
            (same(x, y - 1) ? kAbove : 0) | (same(x, y + 1) ? kBelow : 0));
    }

    int m_width;
    int m_height;
    int m_channels;
    std::vector<Colour> m_colours;
    std::vector<V2f> m_before;
    std::vector<V2f> m_after;
    std::vector<float> m_order;
    std::vector<unsigned char> m_beside;
};

/// Which pixel is seen where, at one moment, in a band of the picture.
class Moment {
public:
    /// What is seen at a place, and how near it is; kNothing: nothing was moved there.
    struct Seen {
        float near;
        std::uint32_t pixel;
    };

    Moment(const MovedPixels& pixels, int top, int bottom, int reach)
        : m_pixels(pixels), m_width(pixels.width()), m_top(top), m_rows(bottom - top),
          m_reach(reach), m_from(std::max(top - reach, 0)),
          m_until(std::min(bottom + reach, pixels.height())),
          m_seen(static_cast<std::size_t>(m_width) * static_cast<std::size_t>(m_rows)),
          m_place(static_cast<std::size_t>(m_width)) {}

    void take(float time) {
        std::ranges::fill(m_seen, Seen{kNothing, 0});
        const std::vector<V2f>& motion = m_pixels.motionTowards(time);
        const float scale = std::abs(time);
        const float* order = m_pixels.order().data();
        for (int y = m_from; y < m_until; ++y) {
            const std::size_t row = m_pixels.index(0, y);
            for (int x = 0; x < m_width; ++x) {
                const V2f& by = motion[row + static_cast<std::size_t>(x)];
                const int column = x + cvRound(scale * by.x);
                const int line = y + cvRound(scale * by.y) - m_top;
                const bool inside =
                    (column >= 0) & (column < m_width) & (line >= 0) & (line < m_rows);
                m_place[static_cast<std::size_t>(x)] = inside ? line * m_width + column : -1;
            }
            for (int x = 0; x < m_width; ++x) {
                const int place = m_place[static_cast<std::size_t>(x)];
                if (place < 0)
                    continue;
                const std::size_t pixel = row + static_cast<std::size_t>(x);
                Seen& seen = m_seen[static_cast<std::size_t>(place)];
                if (order[pixel] < seen.near)
                    seen = {order[pixel], static_cast<std::uint32_t>(pixel)};
            }
        }
    }
    /// At a place of the band.
    [[nodiscard]] const Seen& seen(int x, int row) const noexcept { return m_seen[index(x, row)]; }
    /// Where nothing is, the farthest of what is beside it to the left, right, and as far as things move above and below.
    [[nodiscard]] Seen beside(int x, int row) const noexcept {
        const int first = std::max(row - m_reach, 0);
        const int end = std::min(row + m_reach + 1, m_rows);
        Seen best{kNothing, 0};
        float farthest = -1.0F;
        for (const auto& [dx, dy] : {std::pair{-1, 0}, {1, 0}, {0, -1}, {0, 1}}) {
            int i = x + dx;
            int j = row + dy;
            while (i >= 0 && i < m_width && j >= first && j < end && seen(i, j).near == kNothing) {
                i += dx;
                j += dy;
            }
            if (i < 0 || i >= m_width || j < first || j >= end || !(seen(i, j).near > farthest))
                continue;
            best = seen(i, j);
            farthest = best.near;
        }
        return best;
    }

private:
    [[nodiscard]] std::size_t index(int x, int row) const noexcept {
        return static_cast<std::size_t>(row) * static_cast<std::size_t>(m_width) +
               static_cast<std::size_t>(x);
    }

    const MovedPixels& m_pixels;
    int m_width;
    int m_top;
    int m_rows;
    int m_reach;
    int m_from;
    int m_until;
    std::vector<Seen> m_seen;
    std::vector<int> m_place;
};

/// Adds up the moments in a band of rows.
class Band {
public:
    Band(const MovedPixels& pixels, const Image& behind, int y0, int y1, int rowsBeside)
        : m_pixels(pixels), m_behind(behind), m_y0(y0), m_y1(y1),
          // Holes are filled from above and below, too: so many more rows are looked at.
          m_top(std::max(y0 - rowsBeside, 0)),
          m_moment(pixels, m_top, std::min(y1 + rowsBeside, pixels.height()), rowsBeside),
          m_sums(static_cast<std::size_t>(pixels.width()) * static_cast<std::size_t>(y1 - y0)),
          m_still(m_sums.size()) {}

    void add(float time) {
        m_moment.take(time);
        const std::vector<V2f>& motion = m_pixels.motionTowards(time);
        const float scale = std::abs(time);
        std::size_t at = 0;
        for (int y = m_y0; y < m_y1; ++y)
            for (int x = 0; x < m_pixels.width(); ++x, ++at) {
                const Moment::Seen& seen = m_moment.seen(x, y - m_top);
                if (seen.near == kNothing) {
                    addHidden(x, y, motion, scale, m_sums[at]);
                    continue;
                }
                const V2f by = scale * motion[seen.pixel];
                if (by == V2f(0.0F))
                    ++m_still[at];
                m_pixels.addBetween(seen.pixel, static_cast<float>(cvRound(by.x)) - by.x,
                                    static_cast<float>(cvRound(by.y)) - by.y, m_sums[at]);
            }
    }
    /// The mean of so many moments; what stood still at all of them keeps every bit.
    void write(int moments, const std::vector<float*>& to, std::ptrdiff_t stride) const {
        const float share = 1.0F / static_cast<float>(moments);
        std::size_t at = 0;
        for (int y = m_y0; y < m_y1; ++y)
            for (int x = 0; x < m_pixels.width(); ++x, ++at)
                if (m_still[at] != moments)
                    for (std::size_t c = 0; c < to.size(); ++c)
                        to[c][stride * y + x] = share * m_sums[at].channels[c];
    }

private:
    /// Hidden in the picture itself: what is behind there, or the surface beside it.
    void addHidden(int x, int y, const std::vector<V2f>& motion, float scale, Colour& sum) const {
        const Moment::Seen beside = m_moment.beside(x, y - m_top);
        if (beside.near == kNothing) {
            sum.add(m_pixels.colour(m_pixels.index(x, y)).loaded());
            return;
        }
        if (!m_behind.empty()) {
            const V2f by = scale * motion[beside.pixel];
            const int px = std::clamp(x - cvRound(by.x), 0, m_pixels.width() - 1);
            const int py = std::clamp(y - cvRound(by.y), 0, m_pixels.height() - 1);
            if (std::isfinite(m_behind(px, py, 0))) {
                for (int c = 0; c < m_pixels.channels(); ++c)
                    sum.channels[static_cast<std::size_t>(c)] += m_behind(px, py, c);
                return;
            }
        }
        sum.add(m_pixels.colour(beside.pixel).loaded());
    }

    const MovedPixels& m_pixels;
    const Image& m_behind;
    int m_y0;
    int m_y1;
    int m_top;
    Moment m_moment;
    std::vector<Colour> m_sums;
    std::vector<int> m_still;  // at how many moments each shows itself, unmoved
};

/// How far things get in each row while the shutter is open.
class Reach {
public:
    Reach(const MovedPixels& pixels, float first, float last)
        : m_rows(static_cast<std::size_t>(pixels.height())) {
        forEachBand(pixels.height(), kBandHeight, {}, [&](int y0, int y1) {
            for (int y = y0; y < y1; ++y)
                m_rows[static_cast<std::size_t>(y)] = pixels.farthest(y, first, last);
        });
    }
    /// The farthest of a range of rows, as far as there are such.
    [[nodiscard]] V2f in(int y0, int y1) const noexcept {
        V2f most(0.0F);
        for (int y = std::max(y0, 0); y < std::min(y1, static_cast<int>(m_rows.size())); ++y) {
            most.x = std::max(most.x, m_rows[static_cast<std::size_t>(y)].x);
            most.y = std::max(most.y, m_rows[static_cast<std::size_t>(y)].y);
        }
        return most;
    }
    [[nodiscard]] V2f all() const noexcept { return in(0, static_cast<int>(m_rows.size())); }

private:
    std::vector<V2f> m_rows;
};

int rowsFor(const V2f& reach) { return static_cast<int>(std::ceil(reach.y)) + 1; }

/// One for each pixel of the way.
int momentsFor(const V2f& reach, float first, float last) {
    const float open = (last - first) / std::max({std::abs(first), std::abs(last), 1e-6F});
    return std::clamp(static_cast<int>(std::ceil(reach.length() * open)) + 1, kLeastMoments,
                      kMostMoments);
}

}  // namespace

Image overTime(const MovingPicture& moving, float first, float last, const RunContext& run) {
    const Image& light = moving.light;
    if (!moving.motion.sameSize(light) || moving.motion.channels() < 4)
        throw Error(ErrorCode::ShapeMismatch, "motion blur needs motion of the picture's size");
    const MovedPixels pixels(moving);
    const Reach reach(pixels, first, last);
    if (!(last > first))
        return light;
    const int rowsBeside = rowsFor(reach.all());
    Image out = light;
    std::vector<float*> to;
    for (int c = 0; c < pixels.channels(); ++c)
        to.push_back(out.editPlane(c));
    const int rows = std::clamp(2 * rowsBeside, kFewestRows, kMostRows);
    forEachBand(out.height(), rows, run, [&](int y0, int y1) {
        // What can get here, and what holes here are filled from.
        const V2f near = reach.in(y0 - 2 * rowsBeside, y1 + 2 * rowsBeside);
        if (near.length() < kStill)
            return;
        const int moments = momentsFor(near, first, last);
        Band band(pixels, moving.behind, y0, y1, rowsFor(near));
        for (int k = 0; k < moments && !run.stopped(); ++k)
            band.add(first +
                     (last - first) * (static_cast<float>(k) + 0.5F) / static_cast<float>(moments));
        band.write(moments, to, out.rowStride());
    });
    return out;
}

}  // namespace noctis
