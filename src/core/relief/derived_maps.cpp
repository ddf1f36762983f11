#include "core/relief/derived_maps.h"

#include "core/image/angle.h"
#include "core/image/error.h"
#include "core/image/tiles.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

#include <fmt/format.h>

namespace noctis {

namespace {

/// The slope along a line at i of n, from up to two neighbours on each side; at(i) may be NaN.
/// Source   central differences of fourth order, and one-sided ones of second order beside edges and holes.
template <typename At> float slopeAlong(const At& at, int i, int n) noexcept {
    const auto get = [&](int k) { return k < 0 || k >= n ? kNotKnown : at(k); };
    const float here = get(i);
    const float a1 = get(i - 1);
    const float b1 = get(i + 1);
    const float a2 = get(i - 2);
    const float b2 = get(i + 2);
    const bool left = std::isfinite(a1);
    const bool right = std::isfinite(b1);
    if (left && right)
        return std::isfinite(a2) && std::isfinite(b2) ? (8.0F * (b1 - a1) - (b2 - a2)) / 12.0F
                                                      : 0.5F * (b1 - a1);
    if (right)
        return std::isfinite(b2) ? 0.5F * (4.0F * b1 - 3.0F * here - b2) : b1 - here;
    if (left)
        return std::isfinite(a2) ? 0.5F * (3.0F * here - 4.0F * a1 + a2) : here - a1;
    return 0.0F;
}

struct Slope {
    float right;
    float up;
};

Slope slopeAt(const HeightField& field, int x, int y) noexcept {
    const Image& h = field.heights;
    const float perMetre = 1.0F / field.metresPerPixel;
    return {perMetre * slopeAlong([&](int i) { return h(i, y, 0); }, x, h.width()),
            -perMetre * slopeAlong([&](int i) { return h(x, i, 0); }, y, h.height())};
}

/// One channel from work(x, y); NaN where there is a hole.
template <typename Work> Image mapOf(const HeightField& field, const Work& work) {
    Image out = Image::unset(field.width(), field.height(), {"Y"});
    float* to = out.editPlane(0);
    forEachBand(field.height(), kBandHeight, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < field.width(); ++x)
                to[out.rowStride() * y + x] =
                    std::isfinite(field.heights(x, y, 0)) ? work(x, y) : kNotKnown;
    });
    return out;
}

// --- horizons ------------------------------------------------------------------------------------

/// The steepest rise, as a tangent, from each sample of a line to any before it; heights and places in
/// the same unit.
/// Source   the upper hull of what was passed: what lies below it is never seen again.
void horizonsOfLine(const float* heights, int n, float spacing, float* rise,
                    std::vector<int>& hull) noexcept {
    hull.clear();
    const auto tangent = [&](int from, int to) {
        return (heights[to] - heights[from]) / (spacing * static_cast<float>(from - to));
    };
    for (int i = 0; i < n; ++i) {
        if (!std::isfinite(heights[i])) {
            rise[i] = -kNothingHit;
            continue;
        }
        while (hull.size() > 1 && tangent(i, hull[hull.size() - 2]) >= tangent(i, hull.back()))
            hull.pop_back();
        rise[i] = hull.empty() ? -kNothingHit : tangent(i, hull.back());
        // What this one hides from all that follow is dropped: it lies below the way to the one before.
        while (hull.size() > 1) {
            const int top = hull.back();
            const int under = hull[hull.size() - 2];
            const float through = (heights[i] - heights[under]) / static_cast<float>(i - under);
            const float at = (heights[top] - heights[under]) / static_cast<float>(top - under);
            if (at > through)
                break;
            hull.pop_back();
        }
        hull.push_back(i);
    }
}

/// The open part of a slice between two horizons, cosine-weighted about a normal that leans by lean in it.
float openOfSlice(float back, float ahead, float lean) noexcept {
    const auto arc = [lean](float h) {
        return 0.25F * (-std::cos(2.0F * h - lean) + std::cos(lean) + 2.0F * h * std::sin(lean));
    };
    return arc(back) + arc(ahead);
}

/// Adds the slice along (1, slope) of every cell, or along (slope, 1) if turned.
void addSlices(const HeightField& field, float slope, bool turned, Image& open, Image& weight,
               const RunContext& run) {
    const int n = turned ? field.height() : field.width();  // along the line
    const int m = turned ? field.width() : field.height();  // across
    const float length = std::sqrt(1.0F + slope * slope);
    const float spacing = length * field.metresPerPixel;
    const auto at = [&](int i, int j) {
        return turned ? field.heights(j, i, 0) : field.heights(i, j, 0);
    };
    float* sum = open.editPlane(0);
    float* weights = weight.editPlane(0);
    const std::ptrdiff_t stride = open.rowStride();
    const int first =
        -static_cast<int>(std::ceil(std::max(slope, 0.0F) * static_cast<float>(n - 1)));
    const int last =
        m - 1 + static_cast<int>(std::ceil(std::max(-slope, 0.0F) * static_cast<float>(n - 1)));
    // Each cell belongs to the line nearest to it, so that lines share none.
    forEachBand(last - first + 1, 16, run, [&](int from, int to) {
        std::vector<float> heights(static_cast<std::size_t>(n));
        std::vector<float> turnedHeights(static_cast<std::size_t>(n));
        std::vector<float> back(static_cast<std::size_t>(n));
        std::vector<float> ahead(static_cast<std::size_t>(n));
        std::vector<int> hull;
        for (int line = from; line < to; ++line) {
            for (int i = 0; i < n; ++i) {
                const float j = static_cast<float>(first + line) + slope * static_cast<float>(i);
                const int below = static_cast<int>(std::floor(j));
                const float part = j - static_cast<float>(below);
                float h = kNotKnown;
                if (below >= 0 && below < m && part < 1e-4F)
                    h = at(i, below);
                else if (below >= 0 && below + 1 < m)
                    h = at(i, below) * (1.0F - part) + at(i, below + 1) * part;
                else if (below == -1 && part >= 0.5F)
                    h = at(i, 0);
                else if (below == m - 1 && part < 0.5F)
                    h = at(i, m - 1);
                heights[static_cast<std::size_t>(i)] = h;
            }
            std::reverse_copy(heights.begin(), heights.end(), turnedHeights.begin());
            horizonsOfLine(heights.data(), n, spacing, back.data(), hull);
            horizonsOfLine(turnedHeights.data(), n, spacing, ahead.data(), hull);
            for (int i = 0; i < n; ++i) {
                const auto j = static_cast<int>(std::floor(static_cast<float>(first + line) +
                                                           slope * static_cast<float>(i) + 0.5F));
                if (j < 0 || j >= m || !std::isfinite(heights[static_cast<std::size_t>(i)]))
                    continue;
                const int x = turned ? j : i;
                const int y = turned ? i : j;
                if (!std::isfinite(field.heights(x, y, 0)))
                    continue;
                const Slope s = slopeAt(field, x, y);
                // Along the line, towards growing i; down the picture is -up.
                const float along =
                    ((turned ? -s.up : s.right) + slope * (turned ? s.right : -s.up)) / length;
                const float whole = std::sqrt(1.0F + s.right * s.right + s.up * s.up);
                const float lean = std::atan(-along);
                // How much of the normal lies in the slice.
                const float inSlice = std::sqrt(1.0F + along * along) / whole;
                const float risesAhead = ahead[static_cast<std::size_t>(n - 1 - i)];
                const float risesBack = back[static_cast<std::size_t>(i)];
                const auto horizon = [&](float rise, float own) {
                    return 0.5F * kPi - std::atan(std::max(rise, own));
                };
                // Nothing is seen below the surface itself.
                const float h1 = -horizon(risesBack, -along);
                const float h2 = horizon(risesAhead, along);
                const float part = openOfSlice(h1, h2, lean);
                sum[stride * y + x] += inSlice * std::max(part, 0.0F);
                weights[stride * y + x] += 1.0F;
            }
        }
    });
}

Image halved(const Image& signedMap) {
    Image out = signedMap;
    for (int c = 0; c < out.channels(); ++c) {
        float* plane = out.editPlane(c);
        for (std::ptrdiff_t i = 0; i < out.rowStride() * out.height(); ++i)
            plane[i] = std::isfinite(plane[i]) ? 0.5F + 0.5F * plane[i] : 0.5F;
    }
    return out;
}

Image scaled(const Image& map, float scale, float bias, float hole) {
    Image out = map;
    float* plane = out.editPlane(0);
    for (std::ptrdiff_t i = 0; i < out.rowStride() * out.height(); ++i)
        plane[i] = std::isfinite(plane[i]) ? std::clamp(plane[i] * scale + bias, 0.0F, 1.0F) : hole;
    return out;
}

}  // namespace

Image normalsOf(const HeightField& field, bool greenDown) {
    Image out = Image::unset(field.width(), field.height(), {"X", "Y", "Z"});
    float* to[3] = {out.editPlane(0), out.editPlane(1), out.editPlane(2)};
    forEachBand(field.height(), kBandHeight, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < field.width(); ++x) {
                V3f n(0.0F);
                if (std::isfinite(field.heights(x, y, 0))) {
                    const Slope s = slopeAt(field, x, y);
                    n = V3f(-s.right, greenDown ? s.up : -s.up, 1.0F).normalized();
                }
                for (int c = 0; c < 3; ++c)
                    to[c][out.rowStride() * y + x] = n[c];
            }
    });
    return out;
}

Image slopeOf(const HeightField& field) {
    return mapOf(field, [&](int x, int y) {
        const Slope s = slopeAt(field, x, y);
        return std::atan(std::hypot(s.right, s.up)) * 180.0F / kPi;
    });
}

Image curvatureOf(const HeightField& field) {
    const Image& h = field.heights;
    const float m2 = field.metresPerPixel * field.metresPerPixel;
    return mapOf(field, [&](int x, int y) {
        const auto at = [&](int u, int v) {
            const float other =
                h(std::clamp(u, 0, h.width() - 1), std::clamp(v, 0, h.height() - 1), 0);
            return std::isfinite(other) ? other : h(x, y, 0);
        };
        const Slope s = slopeAt(field, x, y);
        const float p = s.right;
        const float q = -s.up;
        const float r = (at(x + 1, y) - 2.0F * at(x, y) + at(x - 1, y)) / m2;
        const float t = (at(x, y + 1) - 2.0F * at(x, y) + at(x, y - 1)) / m2;
        const float across =
            0.25F * (at(x + 1, y + 1) - at(x + 1, y - 1) - at(x - 1, y + 1) + at(x - 1, y - 1)) /
            m2;
        const float size = 1.0F + p * p + q * q;
        return -((1.0F + q * q) * r - 2.0F * p * q * across + (1.0F + p * p) * t) /
               (2.0F * size * std::sqrt(size));
    });
}

Image openPartOf(const HeightField& field, int directions, const RunContext& run) {
    Image open(field.width(), field.height(), {"Y"}, 0.0F);
    Image weight(field.width(), field.height(), {"Y"}, 0.0F);
    const int lines = std::max(2, directions / 2);
    for (int i = 0; i < lines && !run.stopped(); ++i) {
        const float angle = kPi * (static_cast<float>(i) + 0.5F) / static_cast<float>(lines);
        const float dx = std::cos(angle);
        const float dy = std::sin(angle);
        const bool turned = std::abs(dy) > std::abs(dx);
        addSlices(field, turned ? dx / dy : dy / dx, turned, open, weight, run);
        run.report(static_cast<float>(i + 1) / static_cast<float>(lines));
    }
    return mapOf(field, [&](int x, int y) {
        const float w = weight(x, y, 0);
        return w > 0.0F ? std::min(open(x, y, 0) / w, 1.0F) : 1.0F;
    });
}

Image shadeOf(const HeightField& field, const V3f& towardsLight) {
    const V3f light = towardsLight.normalized();
    return mapOf(field, [&](int x, int y) {
        const Slope s = slopeAt(field, x, y);
        return std::max(0.0F, V3f(-s.right, -s.up, 1.0F).normalized().dot(light));
    });
}

Image contoursOf(const HeightField& field, float spacing) {
    const auto bandAt = [&](int x, int y) { return std::floor(field.heights(x, y, 0) / spacing); };
    return mapOf(field, [&](int x, int y) {
        const float here = bandAt(x, y);
        const bool right = x + 1 < field.width() && bandAt(x + 1, y) != here;
        const bool below = y + 1 < field.height() && bandAt(x, y + 1) != here;
        return right || below ? 1.0F : 0.0F;
    });
}

const std::vector<DerivedMap>& derivedMaps() {
    static const std::vector<DerivedMap> maps{
        {"normal", "Normals", PassKind::Normal,
         "Directions in the map's own axes, +y up the picture; 0.5 is 0 in integer files.",
         [](const HeightField& f) { return normalsOf(f); }, halved},
        {"normal_down", "Normals, green down", PassKind::Normal,
         "Directions in the map's own axes, +y down the picture; 0.5 is 0 in integer files.",
         [](const HeightField& f) { return normalsOf(f, true); }, halved},
        {"slope", "Slope", PassKind::Colour, "Degrees from level; 90 is white in integer files.",
         slopeOf, [](const Image& map) { return scaled(map, 1.0F / 90.0F, 0.0F, 0.0F); }},
        {"curvature", "Curvature", PassKind::Curvature,
         "Mean curvature, 1/m; in integer files grey is flat, and white is 50 per metre.",
         curvatureOf, [](const Image& map) { return scaled(map, 0.01F, 0.5F, 0.5F); }},
        {"occlusion", "Occlusion", PassKind::Occlusion,
         "How open each place is, from the map's own horizons.",
         [](const HeightField& f) { return openPartOf(f); },
         [](const Image& map) { return scaled(map, 1.0F, 0.0F, 1.0F); }},
        {"shade", "Shade", PassKind::Colour, "Lit from the upper left, 45 degrees high.",
         [](const HeightField& f) { return shadeOf(f, V3f(-1.0F, 1.0F, 1.414F)); },
         [](const Image& map) { return scaled(map, 1.0F, 0.0F, 0.0F); }},
        {"contours", "Contours", PassKind::Colour,
         "Twenty lines of equal height from the lowest to the highest.",
         [](const HeightField& f) {
             const HeightStatistics statistics = heightStatisticsOf(f.heights);
             return contoursOf(f, std::max(statistics.range() / 20.0F, 1e-9F));
         },
         [](const Image& map) { return scaled(map, 1.0F, 0.0F, 0.0F); }},
    };
    return maps;
}

const DerivedMap& derivedMap(std::string_view id) {
    std::string names;
    for (const DerivedMap& map : derivedMaps()) {
        if (map.id == id)
            return map;
        names += (names.empty() ? "" : ", ") + std::string(map.id);
    }
    throw Error(ErrorCode::UnknownName,
                fmt::format("there is no map {}; use height, mesh, {}", id, names));
}

}  // namespace noctis
