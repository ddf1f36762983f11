#include "core/relief/map_picture.h"

#include "core/image/tiles.h"
#include "core/passes/appearance.h"
#include "core/relief/relief.h"

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr LinearRgb kStone{0.62F, 0.60F, 0.56F};
constexpr LinearRgb kLine{0.384F, 0.663F, 0.592F};   // verdigris
constexpr LinearRgb kBelow{0.396F, 0.439F, 0.741F};  // indigo
constexpr LinearRgb kAbove{0.784F, 0.635F, 0.353F};  // brass

LinearRgb mixed(const LinearRgb& a, const LinearRgb& b, float t) {
    return {a.r + (b.r - a.r) * t, a.g + (b.g - a.g) * t, a.b + (b.b - a.b) * t};
}

LinearRgb hatched(int x, int y) {
    const float grey = (x + y) % 8 < 2 ? 0.20F : 0.12F;
    return {grey, grey, grey};
}

/// A height with the slope there, from heights around one pixel of the picture.
struct Seen {
    float height;
    float right;  ///< rise per length
    float up;
};

LinearRgb colourOf(const Seen& s, const MapPainting& p) {
    const float span = p.range[1] - p.range[0];
    const float t = span > 0.0F ? (s.height - p.range[0]) / span : 0.5F;
    switch (p.look) {
    case MapLook::Grey: {
        const float grey = std::clamp(t, 0.0F, 1.0F);
        const LinearRgb colour{grey, grey, grey};
        if (t < -1e-4F)
            return mixed(colour, kBelow, 0.6F);
        return t > 1.0F + 1e-4F ? mixed(colour, kAbove, 0.6F) : colour;
    }
    case MapLook::Ramp:
        return depthRampColour(std::clamp(1.0F - t, 0.0F, 1.0F));
    case MapLook::Slope: {
        const float steep = std::atan(std::hypot(s.right, s.up)) * 2.0F / 3.14159265F;
        return {steep, steep, steep};
    }
    case MapLook::Normals: {
        const V3f n = V3f(-s.right, -s.up, 1.0F).normalized();
        return {0.5F + 0.5F * n.x, 0.5F + 0.5F * n.y, 0.5F + 0.5F * n.z};
    }
    case MapLook::Relief:
        break;
    }
    const V3f n = V3f(-s.right, -s.up, 1.0F).normalized();
    const float direct = std::max(0.0F, n.dot(p.towardsLight.normalized()));
    // A little of what faces up, so that shadows keep their form.
    const float shade = std::sqrt(std::min(0.06F + 0.10F * n.z + 0.95F * direct, 1.2F));
    return {std::min(kStone.r * shade, 1.0F), std::min(kStone.g * shade, 1.0F),
            std::min(kStone.b * shade, 1.0F)};
}

/// Ground that rises by less than this part of the spacing from pixel to pixel is level: a plain at a line's
/// height has no line.
constexpr float kLevel = 1e-5F;

/// How much of a pixel a line of equal height covers.
float lineAt(const Seen& s, float spacing, float metresPerPixel) {
    if (std::hypot(s.right, s.up) * metresPerPixel < kLevel * spacing)
        return 0.0F;
    const float off = s.height / spacing;
    const float metres = std::abs(off - std::round(off)) * spacing;
    const float pixels = metres / std::max(std::hypot(s.right, s.up) * metresPerPixel, 1e-12F);
    // Where lines would run together they fade into the ground.
    const float apart = spacing / std::max(std::hypot(s.right, s.up) * metresPerPixel, 1e-12F);
    return std::clamp(1.1F - pixels, 0.0F, 1.0F) * std::clamp((apart - 2.0F) / 3.0F, 0.0F, 1.0F);
}

}  // namespace

const HeightField& FieldPyramid::level(float cells) const {
    const std::scoped_lock lock(m_mutex);
    std::size_t wanted = 0;
    for (float size = 2.0F; size <= cells * 1.01F && wanted + 1 < kMostLevels; size *= 2.0F)
        ++wanted;
    while (m_levels.size() <= wanted &&
           std::max(m_levels.back().width(), m_levels.back().height()) > 1)
        m_levels.push_back(shrunk(m_levels.back(), 2));
    return m_levels[std::min(wanted, m_levels.size() - 1)];
}

Image mapPicture(const FieldPyramid& map, const MapPainting& painting, const MapWindow& window,
                 int width, int height) {
    Image out = Image::unset(width, height, {"R", "G", "B"});
    float* to[3] = {out.editPlane(0), out.editPlane(1), out.editPlane(2)};
    const HeightField& full = map.full();
    const HeightField& field = map.level(window.cellsPerPixel);
    const float toLevel = full.metresPerPixel / field.metresPerPixel;
    const auto w = static_cast<float>(full.width());
    const auto h = static_cast<float>(full.height());
    // A slope is taken over a pixel of the picture, and over a cell where pixels are smaller.
    const float reach = 0.5F * std::max(window.cellsPerPixel * toLevel, 1.0F);
    const float perMetre = 1.0F / (2.0F * reach * field.metresPerPixel);
    const float metresPerPixel = window.cellsPerPixel * full.metresPerPixel;
    const float litReach = 0.01F * std::abs(painting.range[1] - painting.range[0]);
    forEachBand(height, kBandHeight, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < width; ++x) {
                float cx = window.left + (static_cast<float>(x) + 0.5F) * window.cellsPerPixel;
                float cy = window.top + (static_cast<float>(y) + 0.5F) * window.cellsPerPixel;
                const std::ptrdiff_t i = out.rowStride() * y + x;
                LinearRgb colour{0.1333F, 0.1333F, 0.1333F};
                bool inside = cx >= 0.0F && cy >= 0.0F && cx < w && cy < h;
                if (painting.tiled) {
                    inside = cx >= -w && cy >= -h && cx < 2.0F * w && cy < 2.0F * h;
                    cx -= std::floor(cx / w) * w;
                    cy -= std::floor(cy / h) * h;
                }
                if (inside) {
                    const float u = cx * toLevel - 0.5F;
                    const float v = cy * toLevel - 0.5F;
                    const Image& z = field.heights;
                    const Seen seen{
                        heightAt(z, u, v),
                        (heightAt(z, u + reach, v) - heightAt(z, u - reach, v)) * perMetre,
                        (heightAt(z, u, v - reach) - heightAt(z, u, v + reach)) * perMetre};
                    if (!std::isfinite(seen.height)) {
                        colour = hatched(x, y);
                    } else {
                        const Seen safe{seen.height, std::isfinite(seen.right) ? seen.right : 0.0F,
                                        std::isfinite(seen.up) ? seen.up : 0.0F};
                        colour = colourOf(safe, painting);
                        if (std::abs(safe.height - painting.lit) < litReach)
                            colour = mixed(colour, kLine, 0.7F);
                        if (painting.contours > 0.0F)
                            colour = mixed(colour, kLine,
                                           lineAt(safe, painting.contours, metresPerPixel));
                    }
                }
                to[0][i] = colour.r;
                to[1][i] = colour.g;
                to[2][i] = colour.b;
            }
    });
    return out;
}

HeightField differenceOf(const HeightField& a, const HeightField& b) {
    HeightField difference = a;
    float* to = difference.heights.editPlane(0);
    const float across = static_cast<float>(b.width()) / static_cast<float>(a.width());
    const float down = static_cast<float>(b.height()) / static_cast<float>(a.height());
    forEachBand(a.height(), kBandHeight, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < a.width(); ++x)
                to[difference.heights.rowStride() * y + x] =
                    a.heights(x, y, 0) - heightAt(b.heights,
                                                  (static_cast<float>(x) + 0.5F) * across - 0.5F,
                                                  (static_cast<float>(y) + 0.5F) * down - 0.5F);
    });
    return difference;
}

std::vector<float> sectionOfOther(const HeightField& other, const HeightField& field,
                                  const V2f& from, const V2f& to, int samples) {
    const V2f scale(static_cast<float>(other.width()) / static_cast<float>(field.width()),
                    static_cast<float>(other.height()) / static_cast<float>(field.height()));
    return sectionOf(other, from * scale, to * scale, samples);
}

float roundSpacing(float range, int lines) {
    const float wanted = range / static_cast<float>(std::max(lines, 1));
    if (!(wanted > 0.0F))
        return 1.0F;
    const float power = std::pow(10.0F, std::floor(std::log10(wanted)));
    const float part = wanted / power;
    return power * (part < 1.5F ? 1.0F : part < 3.5F ? 2.0F : part < 7.5F ? 5.0F : 10.0F);
}

std::vector<ContourLabel> contourLabels(const FieldPyramid& map, float spacing,
                                        const MapWindow& window, int width, int height) {
    constexpr float kApart = 96.0F;
    constexpr float kLeastWidth =
        9.0F;  // of the band between two lines, or numbers would cover them
    std::vector<ContourLabel> labels;
    const HeightField& full = map.full();
    const HeightField& field = map.level(window.cellsPerPixel);
    const float toLevel = full.metresPerPixel / field.metresPerPixel;
    const auto at = [&](float x, float y) {
        const float cx = window.left + (x + 0.5F) * window.cellsPerPixel;
        const float cy = window.top + (y + 0.5F) * window.cellsPerPixel;
        if (cx < 0.0F || cy < 0.0F || cx >= static_cast<float>(full.width()) ||
            cy >= static_cast<float>(full.height()))
            return std::nanf("");
        return heightAt(field.heights, cx * toLevel - 0.5F, cy * toLevel - 0.5F);
    };
    for (float y = 40.0F; y < static_cast<float>(height) - 12.0F; y += 34.0F) {
        float before = std::nanf("");
        for (float x = 24.0F; x < static_cast<float>(width) - 24.0F; x += 1.0F) {
            const float here = at(x, y);
            const float line = std::round(here / spacing) * spacing;
            const bool crosses = std::isfinite(before) && std::isfinite(here) &&
                                 (before - line) * (here - line) <= 0.0F;
            const float step = std::max(std::abs(here - before), std::abs(at(x, y + 1.0F) - here));
            before = here;
            if (!crosses || step < kLevel * spacing || !(step * kLeastWidth < spacing))
                continue;
            const bool free =
                std::none_of(labels.begin(), labels.end(), [&](const ContourLabel& l) {
                    return std::abs(l.x - x) < kApart && std::abs(l.y - y) < kApart;
                });
            if (free)
                labels.push_back({x, y, line});
        }
    }
    return labels;
}

std::vector<float> sectionOf(const HeightField& field, const V2f& from, const V2f& to,
                             int samples) {
    std::vector<float> heights;
    for (int i = 0; i < samples; ++i) {
        const float t =
            samples > 1 ? static_cast<float>(i) / static_cast<float>(samples - 1) : 0.0F;
        const V2f at = from + (to - from) * t;
        heights.push_back(at.x < 0.0F || at.y < 0.0F || at.x > static_cast<float>(field.width()) ||
                                  at.y > static_cast<float>(field.height())
                              ? std::nanf("")
                              : heightAt(field.heights, at.x - 0.5F, at.y - 0.5F));
    }
    return heights;
}

}  // namespace noctis
