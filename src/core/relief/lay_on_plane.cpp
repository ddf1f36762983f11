#include "core/relief/lay_on_plane.h"

#include "core/image/error.h"
#include "core/image/tiles.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include <Imath/ImathBox.h>
#include <Imath/ImathMatrixAlgo.h>
#include <fmt/format.h>

namespace noctis {

namespace {

using Imath::V3d;

V3f pointAt(const Image& position, int x, int y) noexcept {
    return {position(x, y, 0), position(x, y, 1), position(x, y, 2)};
}

bool hitAt(const Image& depth, int x, int y) noexcept {
    const float d = depth(x, y, 0);
    return std::isfinite(d) && d > 0.0F;
}

/// Which neighbours lie on one surface: along it the way from pixel to pixel changes little, and at an edge it is out
/// of all proportion to the ways beside it, or turns back.
class Joints {
public:
    Joints(const Image& position, const Image& depth) : m_position(position), m_depth(depth) {}
    [[nodiscard]] bool right(int x, int y) const noexcept { return joined(x, y, 1, 0); }
    [[nodiscard]] bool below(int x, int y) const noexcept { return joined(x, y, 0, 1); }

private:
    [[nodiscard]] bool known(int x, int y) const noexcept {
        return x >= 0 && y >= 0 && x < m_depth.width() && y < m_depth.height() &&
               hitAt(m_depth, x, y);
    }
    [[nodiscard]] V3f way(int x, int y, int dx, int dy) const noexcept {
        return pointAt(m_position, x + dx, y + dy) - pointAt(m_position, x, y);
    }
    [[nodiscard]] bool joined(int x, int y, int dx, int dy) const noexcept {
        constexpr float kProportion = 3.0F;
        if (!known(x, y) || !known(x + dx, y + dy))
            return false;
        const V3f step = way(x, y, dx, dy);
        const auto alike = [&](int u, int v) {
            if (!known(u, v) || !known(u + dx, v + dy))
                return false;
            const V3f other = way(u, v, dx, dy);
            return other.dot(step) > 0.0F && step.length() <= kProportion * other.length();
        };
        return alike(x - dx, y - dy) || alike(x + dx, y + dy);
    }

    const Image& m_position;
    const Image& m_depth;
};

/// A corner on the plane's grid, in cells, with its height and its pixel.
struct Corner {
    float x;
    float y;
    float height;
    float pixelX;
    float pixelY;
};

/// Fills the cells whose middles a triangle covers, where it is the highest yet.
void fill(const Corner& a, const Corner& b, const Corner& c, int rowFrom, int rowTo, int width,
          std::ptrdiff_t stride, float* heights, float* placeX, float* placeY) noexcept {
    const float area = (b.x - a.x) * (c.y - a.y) - (c.x - a.x) * (b.y - a.y);
    if (area == 0.0F || !std::isfinite(area))
        return;
    const float top = std::min({a.y, b.y, c.y});
    const float bottom = std::max({a.y, b.y, c.y});
    const float left = std::min({a.x, b.x, c.x});
    const float right = std::max({a.x, b.x, c.x});
    const int y0 = std::max(static_cast<int>(std::ceil(top - 0.5F)), rowFrom);
    const int y1 = std::min(static_cast<int>(std::floor(bottom - 0.5F)), rowTo - 1);
    const int x0 = std::max(static_cast<int>(std::ceil(left - 0.5F)), 0);
    const int x1 = std::min(static_cast<int>(std::floor(right - 0.5F)), width - 1);
    constexpr float kSlack = -1e-5F;
    for (int y = y0; y <= y1; ++y)
        for (int x = x0; x <= x1; ++x) {
            const float px = static_cast<float>(x) + 0.5F;
            const float py = static_cast<float>(y) + 0.5F;
            const float u = ((b.x - px) * (c.y - py) - (c.x - px) * (b.y - py)) / area;
            const float v = ((c.x - px) * (a.y - py) - (a.x - px) * (c.y - py)) / area;
            const float w = 1.0F - u - v;
            if (u < kSlack || v < kSlack || w < kSlack)
                continue;
            const float height = u * a.height + v * b.height + w * c.height;
            float& there = heights[stride * y + x];
            if (there >= height)
                continue;
            there = height;
            placeX[stride * y + x] = u * a.pixelX + v * b.pixelX + w * c.pixelX;
            placeY[stride * y + x] = u * a.pixelY + v * b.pixelY + w * c.pixelY;
        }
}

}  // namespace

ScenePlane fittedPlane(const Image& position, const Image& depth, const V3f& viewer) {
    const int step = std::max(1, static_cast<int>(std::sqrt(static_cast<double>(depth.width()) *
                                                            depth.height() / 40000.0)));
    ScenePlane plane;
    double reach = std::numeric_limits<double>::infinity();
    for (int round = 0; round < 4; ++round) {
        V3d sum(0.0);
        double count = 0.0;
        const auto each = [&](const auto& work) {
            for (int y = 0; y < depth.height(); y += step)
                for (int x = 0; x < depth.width(); x += step) {
                    if (!hitAt(depth, x, y))
                        continue;
                    const V3f p = pointAt(position, x, y);
                    if (round > 0 &&
                        std::abs(static_cast<double>((p - plane.point).dot(plane.normal))) > reach)
                        continue;
                    work(V3d(p));
                }
        };
        each([&](const V3d& p) {
            sum += p;
            count += 1.0;
        });
        if (count < 3.0)
            break;
        const V3d middle = sum / count;
        Imath::M33d covariance(0, 0, 0, 0, 0, 0, 0, 0, 0);
        each([&](const V3d& p) {
            const V3d d = p - middle;
            for (int i = 0; i < 3; ++i)
                for (int j = 0; j < 3; ++j)
                    covariance[i][j] += d[i] * d[j];
        });
        V3d sizes;
        Imath::M33d axes;
        Imath::jacobiEigenSolver(covariance, sizes, axes);
        const int least = sizes.x <= sizes.y && sizes.x <= sizes.z ? 0 : sizes.y <= sizes.z ? 1 : 2;
        const V3d normal(axes[0][least], axes[1][least], axes[2][least]);
        plane = {V3f(middle), V3f(normal.normalized())};
        reach = 2.0 * std::sqrt(std::max(sizes[least], 0.0) / count) + 1e-9;
    }
    if ((viewer - plane.point).dot(plane.normal) < 0.0F)
        plane.normal = -plane.normal;
    return plane;
}

HeightPlane axesOn(const ScenePlane& plane) {
    HeightPlane axes;
    axes.normal = plane.normal.normalized();
    const V3f wanted =
        std::abs(axes.normal.y) > 0.999F ? V3f(0.0F, 0.0F, -1.0F) : V3f(0.0F, 1.0F, 0.0F);
    axes.up = (wanted - axes.normal * wanted.dot(axes.normal)).normalized();
    axes.right = axes.up.cross(axes.normal);
    axes.origin = plane.point;
    return axes;
}

float pixelSpacing(const Image& position, const Image& depth) {
    const Joints joints(position, depth);
    std::vector<float> apart;
    const int step = std::max(1, depth.width() / 200);
    for (int y = 0; y < depth.height(); y += step)
        for (int x = 0; x + 1 < depth.width(); x += step)
            if (joints.right(x, y))
                apart.push_back((pointAt(position, x + 1, y) - pointAt(position, x, y)).length());
    if (apart.empty())
        return 0.01F;
    std::nth_element(apart.begin(), apart.begin() + static_cast<std::ptrdiff_t>(apart.size() / 2),
                     apart.end());
    return std::max(apart[apart.size() / 2], 1e-6F);
}

HeightField layOnPlane(const Image& position, const Image& depth, const V3f& viewer,
                       const LaySettings& settings, const RunContext& run) {
    HeightField field;
    field.metresPerPixel = settings.metresPerPixel;
    field.plane = axesOn(settings.plane);
    const int w = depth.width();
    const int h = depth.height();

    // Every point in the plane's own axes, metres.
    Image local = Image::unset(w, h, {"X", "Y", "Z"});
    std::array<float*, 3> to{local.editPlane(0), local.editPlane(1), local.editPlane(2)};
    Imath::Box3f box;
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x) {
            const std::ptrdiff_t i = local.rowStride() * y + x;
            const V3f p = pointAt(position, x, y);
            const bool known = hitAt(depth, x, y) && (settings.within <= 0.0F ||
                                                      (p - viewer).length() <= settings.within);
            const V3f d = p - field.plane.origin;
            const V3f at = known ? V3f(d.dot(field.plane.right), -d.dot(field.plane.up),
                                       d.dot(field.plane.normal))
                                 : V3f(kNotKnown);
            for (int c = 0; c < 3; ++c)
                to[static_cast<std::size_t>(c)][i] = at[c];
            if (known)
                box.extendBy(at);
        }
    if (box.isEmpty())
        throw Error(ErrorCode::BadFile, "nothing was seen to make a height map of");
    const float m = settings.metresPerPixel;
    const double columns = std::max(1.0, std::ceil(static_cast<double>(box.size().x / m)));
    const double rows = std::max(1.0, std::ceil(static_cast<double>(box.size().y / m)));
    requireCells(columns, rows);
    const int width = static_cast<int>(columns);
    const int height = static_cast<int>(rows);
    field.plane.origin += field.plane.right * box.min.x - field.plane.up * box.min.y;

    field.heights = Image(width, height, {"Y"}, -kNothingHit);
    field.places = Image(width, height, {"X", "Y"}, kNotKnown);
    float* heights = field.heights.editPlane(0);
    float* placeX = field.places.editPlane(0);
    float* placeY = field.places.editPlane(1);
    const std::ptrdiff_t stride = field.heights.rowStride();
    const Joints joints(position, depth);
    const auto corner = [&](int x, int y) {
        return Corner{(local(x, y, 0) - box.min.x) / m, (local(x, y, 1) - box.min.y) / m,
                      local(x, y, 2), static_cast<float>(x) + 0.5F, static_cast<float>(y) + 0.5F};
    };
    // The pixels' rows that can reach each band of the grid: found once, so that bands share no cell.
    std::vector<std::array<float, 2>> reach(static_cast<std::size_t>(h),
                                            {kNothingHit, -kNothingHit});
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x)
            if (const float at = (local(x, y, 1) - box.min.y) / m; std::isfinite(at)) {
                auto& r = reach[static_cast<std::size_t>(y)];
                r = {std::min(r[0], at), std::max(r[1], at)};
            }
    forEachBand(height, kBandHeight, run, [&](int from, int end) {
        for (int y = 0; y + 1 < h; ++y) {
            const auto& a = reach[static_cast<std::size_t>(y)];
            const auto& b = reach[static_cast<std::size_t>(y) + 1];
            if (std::max(a[1], b[1]) < static_cast<float>(from) ||
                std::min(a[0], b[0]) > static_cast<float>(end))
                continue;
            for (int x = 0; x + 1 < w; ++x) {
                const Corner c00 = corner(x, y);
                const Corner c10 = corner(x + 1, y);
                const Corner c01 = corner(x, y + 1);
                const Corner c11 = corner(x + 1, y + 1);
                const bool top = joints.right(x, y);
                const bool bottom = joints.right(x, y + 1);
                const bool left = joints.below(x, y);
                const bool right = joints.below(x + 1, y);
                if (top && right && left && bottom) {
                    // Along the shorter diagonal in height, which follows creases.
                    const bool falling =
                        std::abs(c00.height - c11.height) <= std::abs(c10.height - c01.height);
                    fill(c00, c10, falling ? c11 : c01, from, end, width, stride, heights, placeX,
                         placeY);
                    fill(falling ? c00 : c10, c11, c01, from, end, width, stride, heights, placeX,
                         placeY);
                } else if (top && right) {
                    fill(c00, c10, c11, from, end, width, stride, heights, placeX, placeY);
                } else if (bottom && left) {
                    fill(c00, c11, c01, from, end, width, stride, heights, placeX, placeY);
                } else if (top && left) {
                    fill(c00, c10, c01, from, end, width, stride, heights, placeX, placeY);
                } else if (bottom && right) {
                    fill(c10, c11, c01, from, end, width, stride, heights, placeX, placeY);
                }
            }
        }
        for (int y = from; y < end; ++y)
            for (int x = 0; x < width; ++x)
                if (!std::isfinite(heights[stride * y + x]))
                    heights[stride * y + x] = kNotKnown;
    });
    return field;
}

}  // namespace noctis
