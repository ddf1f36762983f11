#include "core/passes/appearance.h"

#include "core/image/colour.h"
#include "core/image/resample.h"
#include "core/image/tiles.h"
#include "core/passes/statistics.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>

namespace noctis {

namespace {

constexpr LinearRgb kNothing{0.055F, 0.058F, 0.075F};

LinearRgb between(const LinearRgb& a, const LinearRgb& b, float t) {
    return {a.r + (b.r - a.r) * t, a.g + (b.g - a.g) * t, a.b + (b.b - a.b) * t};
}

template <typename Work> Image painted(const Image& size, const Work& colourAt) {
    Image out = Image::unset(size.width(), size.height(), {"R", "G", "B"});
    float* planes[3] = {out.editPlane(0), out.editPlane(1), out.editPlane(2)};
    forEachBand(out.height(), kBandHeight, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < out.width(); ++x) {
                const LinearRgb c = colourAt(x, y);
                const std::ptrdiff_t at = out.rowStride() * y + x;
                planes[0][at] = std::clamp(c.r, 0.0F, 1.0F);
                planes[1][at] = std::clamp(c.g, 0.0F, 1.0F);
                planes[2][at] = std::clamp(c.b, 0.0F, 1.0F);
            }
    });
    return out;
}

/// The quantiles of an image, from no more pixels than it takes to choose colours by.
std::vector<float> heightStatisticsOf(const Image& image, int channel,
                                      std::span<const float> fractions) {
    constexpr double kEnough = 1e6;
    const double pixels = static_cast<double>(image.width()) * image.height();
    const int factor = std::max(1, static_cast<int>(std::sqrt(pixels / kEnough)));
    return percentilesOf(factor == 1 ? image
                                     : shrinkByCentre(image.select({channel}, {"Y"}), factor),
                         factor == 1 ? channel : 0, fractions);
}

/// A steady, quiet colour for an id.
LinearRgb colourOfId(std::uint32_t id) {
    const float hue = static_cast<float>(id * 2654435761U >> 8U) * 0x1p-24F * 6.2831853F;
    const float light = 0.42F + 0.25F * static_cast<float>(id >> 4U & 255U) / 255.0F;
    return {light + 0.20F * std::cos(hue), light + 0.20F * std::cos(hue - 2.0944F),
            light + 0.20F * std::cos(hue + 2.0944F)};
}

Image mattePicture(const Pass& pass) {
    return painted(pass.image, [&](int x, int y) {
        LinearRgb sum{};
        float covered = 0.0F;
        for (int rank = 0; rank + 1 < pass.image.channels(); rank += 2) {
            const float part = pass.image(x, y, rank + 1);
            const LinearRgb c = colourOfId(std::bit_cast<std::uint32_t>(pass.image(x, y, rank)));
            sum = {sum.r + c.r * part, sum.g + c.g * part, sum.b + c.b * part};
            covered += part;
        }
        return between(kNothing,
                       covered > 0.0F ? LinearRgb{sum.r / covered, sum.g / covered, sum.b / covered}
                                      : kNothing,
                       std::min(covered, 1.0F));
    });
}

Image positionPicture(const Pass& pass) {
    const std::array<float, 2> ends{0.05F, 0.90F};
    std::array<std::array<float, 2>, 3> range{};
    for (int c = 0; c < 3; ++c) {
        const std::vector<float> found = heightStatisticsOf(pass.image, c, ends);
        if (found.size() == 2)
            range[static_cast<std::size_t>(c)] = {found[0], std::max(found[1], found[0] + 1e-3F)};
    }
    return painted(pass.image, [&](int x, int y) {
        std::array<float, 3> v{};
        for (int c = 0; c < 3; ++c) {
            const auto& r = range[static_cast<std::size_t>(c)];
            v[static_cast<std::size_t>(c)] =
                0.08F +
                0.80F * std::clamp((pass.image(x, y, c) - r[0]) / (r[1] - r[0]), 0.0F, 1.0F);
        }
        const bool nothing = pass.image(x, y, 0) == 0.0F && pass.image(x, y, 1) == 0.0F &&
                             pass.image(x, y, 2) == 0.0F;
        // Drawn in towards grey: the axes stay apart, but nothing glares.
        const float grey = (v[0] + v[1] + v[2]) / 3.0F;
        const auto muted = [&](float channel) { return grey + (channel - grey) * 0.62F; };
        return nothing ? kNothing : LinearRgb{muted(v[0]), muted(v[1]), muted(v[2])};
    });
}

/// Brass above 0 and indigo below it, as near and far are, by how far from 0 most of it is.
Image signedPicture(const Image& image) {
    const std::array<float, 2> ends{0.03F, 0.97F};
    const std::vector<float> found = heightStatisticsOf(image, 0, ends);
    const float span =
        found.size() == 2 ? std::max({std::abs(found[0]), std::abs(found[1]), 1e-6F}) : 1.0F;
    return painted(image, [&](int x, int y) {
        constexpr LinearRgb kMiddle{0.30F, 0.30F, 0.30F};
        const float v = std::clamp(image(x, y, 0) / span, -1.0F, 1.0F);
        return between(kMiddle, depthRampColour(v > 0.0F ? 0.15F : 0.8F), std::abs(v));
    });
}

/// The way to the next frame: direction as hue, length as strength.
Image motionPicture(const Image& image) {
    const std::array<float, 1> end{0.98F};
    float longest = 0.05F;  // px: shorter motion is rounding, and is not amplified
    for (int c = 0; c < image.channels(); ++c)
        for (const float v : heightStatisticsOf(image, c, end))
            longest = std::max(longest, std::abs(v));
    return painted(image, [&](int x, int y) {
        const float right = image(x, y, image.channels() - 2) / longest;
        const float down = image(x, y, image.channels() - 1) / longest;
        return LinearRgb{0.30F + 0.30F * right, 0.30F - 0.15F * (right + down),
                         0.30F + 0.30F * down};
    });
}

}  // namespace

LinearRgb depthRampColour(float place) noexcept {
    // Bright brass close by, through the axis's own brass and indigo, to a dark indigo far off.
    static constexpr std::array<LinearRgb, 5> kStops{{{0.965F, 0.890F, 0.700F},
                                                      {0.784F, 0.635F, 0.353F},
                                                      {0.545F, 0.490F, 0.500F},
                                                      {0.396F, 0.439F, 0.741F},
                                                      {0.165F, 0.180F, 0.380F}}};
    const float at = std::clamp(place, 0.0F, 1.0F) * static_cast<float>(kStops.size() - 1);
    const auto i = std::min(static_cast<std::size_t>(at), kStops.size() - 2);
    return between(kStops[i], kStops[i + 1], at - static_cast<float>(i));
}

float placeOnDepthAxis(float metres, float nearest, float farthest) noexcept {
    return std::log(std::max(metres, 1e-6F) / nearest) / std::log(farthest / nearest);
}

DepthRange depthRangeOf(const Image& depth) {
    const std::array<float, 2> ends{0.0005F, 0.999F};  // a few stray pixels don't count
    const std::vector<float> found = heightStatisticsOf(depth, 0, ends);
    if (found.size() < 2 || !(found[0] > 0.0F))
        return {};
    return {found[0], std::max(found[1], found[0] * 1.01F)};
}

Image appearanceOf(const Pass& pass) {
    const Image& image = pass.image;
    switch (passKindInfo(pass.kind).look) {
    case PassLook::Light:
        return viewed(image, ViewTransform::Plain, 0.0F);
    case PassLook::Distance:
        return rampPicture(image, depthRangeOf(image));
    case PassLook::Direction:
        return painted(image, [&](int x, int y) {
            const LinearRgb n{image(x, y, 0), image(x, y, 1), image(x, y, 2)};
            if (n.r == 0.0F && n.g == 0.0F && n.b == 0.0F)
                return kNothing;
            return LinearRgb{0.5F + 0.5F * n.r, 0.5F + 0.5F * n.g, 0.5F + 0.5F * n.b};
        });
    case PassLook::Place:
        return positionPicture(pass);
    case PassLook::Matte:
        return mattePicture(pass);
    case PassLook::Signed:
        return signedPicture(image);
    case PassLook::Texture:
        return painted(image, [&](int x, int y) {
            const auto within = [](float v) { return v - std::floor(v); };
            return LinearRgb{within(image(x, y, 0)), within(image(x, y, 1)), 0.18F};
        });
    case PassLook::Motion:
        return motionPicture(image);
    case PassLook::Grey:
        break;
    }
    return painted(image, [&](int x, int y) {
        const float v = image(x, y, 0);
        return LinearRgb{v, v, v};
    });
}

Image rampPicture(const Image& distance, const DepthRange& range) {
    // As placeOnDepthAxis, with the divisor's logarithm taken once.
    const float perLog = 1.0F / std::log(range.farthest / range.nearest);
    return painted(distance, [&](int x, int y) {
        const float metres = distance(x, y, 0);
        return std::isfinite(metres)
                   ? depthRampColour(std::log(std::max(metres, 1e-6F) / range.nearest) * perLog)
                   : kNothing;
    });
}

Image channelAppearance(const Pass& pass, int channel) {
    const bool data = passKindInfo(pass.kind).data();
    const Statistics s = statisticsOf(pass.image, channel);
    const float span = std::max(s.maximum - s.minimum, 1e-9F);
    return painted(pass.image, [&](int x, int y) {
        const float value = pass.image(x, y, channel);
        const float v = data ? (std::isfinite(value) ? (value - s.minimum) / span : 1.0F)
                             : srgbFromLinear(value);
        return LinearRgb{v, v, v};
    });
}

}  // namespace noctis
