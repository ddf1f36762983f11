#include "core/passes/interpretation.h"

#include "core/image/tiles.h"
#include "core/passes/statistics.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr std::array<std::string_view, 4> kCodingNames{"metres", "normalised", "inverse",
                                                       "projected"};
/// Beyond any scene: what renderers store where a ray hit nothing.
constexpr float kSurelyBackground = 1e9F;

float meanOfRows(const Image& image, int y0, int y1) {
    double sum = 0.0;
    std::size_t count = 0;
    for (int y = y0; y < y1; ++y)
        for (int x = 0; x < image.width(); ++x)
            if (std::isfinite(image(x, y, 0)) && std::abs(image(x, y, 0)) < kSurelyBackground) {
                sum += static_cast<double>(image(x, y, 0));
                ++count;
            }
    return count > 0 ? static_cast<float>(sum / static_cast<double>(count)) : 0.0F;
}

/// The ground is mostly at the bottom and near: where the bottom is the brighter end, near is
/// bright.
bool bottomIsBrighter(const Image& stored) {
    const int third = std::max(1, stored.height() / 3);
    return meanOfRows(stored, stored.height() - third, stored.height()) >
           meanOfRows(stored, 0, third);
}

/// How large a part of the picture holds exactly this value.
float shareOf(const Image& stored, float value) {
    std::size_t count = 0;
    for (int y = 0; y < stored.height(); ++y)
        count += static_cast<std::size_t>(
            std::count(stored.row(0, y), stored.row(0, y) + stored.width(), value));
    return static_cast<float>(count) /
           (static_cast<float>(stored.width()) * static_cast<float>(stored.height()));
}

std::optional<float> numberIn(const Attributes& attributes, const std::string& name) {
    const auto found = attributes.find(name);
    if (found == attributes.end())
        return std::nullopt;
    if (const auto* number = std::get_if<float>(&found->second))
        return *number;
    if (const auto* whole = std::get_if<int>(&found->second))
        return static_cast<float>(*whole);
    return std::nullopt;
}

Interpretation guessUnitRange(const Image& stored, const Statistics& s, SampleType type,
                              const Attributes& attributes) {
    Interpretation guess;
    guess.coding = DepthCoding::Normalised;
    guess.nearBright = bottomIsBrighter(stored);
    const std::array<float, 1> middle{0.5F};
    const float median = percentilesOf(stored, 0, middle).front();
    const bool crowded = type == SampleType::Float && median > 0.9F && s.maximum <= 1.0F;
    if (crowded) {
        guess.coding = DepthCoding::Projected;
        guess.nearBright = false;
    }
    const auto statedNear = numberIn(attributes, "near");
    const auto statedFar = numberIn(attributes, "far");
    guess.nearDistance = statedNear.value_or(guess.nearDistance);
    guess.farDistance = statedFar.value_or(guess.farDistance);
    const float farEnd = guess.nearBright ? s.minimum : s.maximum;
    const float limit = guess.nearBright ? 0.0F : 1.0F;
    if (farEnd == limit && shareOf(stored, limit) > 0.005F)
        guess.backgroundFrom = limit;
    guess.reason = fmt::format(
        "{} of {:.3g} to {:.3g}{}; the {} end is near{}",
        type == SampleType::Byte || type == SampleType::Short ? "integer values" : "values",
        s.minimum, s.maximum, crowded ? ", most of them close to 1" : "",
        guess.nearBright ? "bright" : "dark",
        statedNear && statedFar ? "; near and far come from the file"
                                : "; near and far are assumed: set them");
    return guess;
}

}  // namespace

std::string_view depthCodingName(DepthCoding coding) {
    return kCodingNames[static_cast<std::size_t>(coding)];
}

std::optional<DepthCoding> depthCodingNamed(std::string_view name) {
    const auto found = std::find(kCodingNames.begin(), kCodingNames.end(), name);
    if (found == kCodingNames.end())
        return std::nullopt;
    return static_cast<DepthCoding>(found - kCodingNames.begin());
}

std::string describe(const Interpretation& i) {
    std::string text(depthCodingName(i.coding));
    if (i.coding == DepthCoding::Metres) {
        if (i.scale != 1.0F)
            text += fmt::format(" × {:g}", i.scale);
    } else {
        text += fmt::format(" {:g} to {:g} m, {}", i.nearDistance, i.farDistance,
                            i.nearBright ? "near bright" : "near dark");
    }
    text += i.radial ? ", radial" : ", planar";
    if (std::isfinite(i.backgroundFrom))
        text += fmt::format(", background from {:g}", i.backgroundFrom);
    return text;
}

float depthFromStored(float stored, const Interpretation& i) noexcept {
    if (std::isnan(stored))
        return kNothingHit;
    if (i.coding == DepthCoding::Metres) {
        const float depth = stored * i.scale;
        const bool background = i.scale > 0.0F ? stored >= i.backgroundFrom : false;
        return background || depth <= 0.0F ? kNothingHit : depth;
    }
    if (std::isfinite(i.backgroundFrom) &&
        (i.nearBright ? stored <= i.backgroundFrom : stored >= i.backgroundFrom))
        return kNothingHit;
    if (std::isinf(stored))
        return kNothingHit;
    const float towardsFar = std::clamp(i.nearBright ? 1.0F - stored : stored, 0.0F, 1.0F);
    if (i.coding == DepthCoding::Normalised) {
        // Near may lie behind the camera, where two known distances say so and nothing is seen that near.
        const float far = std::max(i.farDistance, i.nearDistance + 1e-6F);
        return std::max(i.nearDistance + (far - i.nearDistance) * towardsFar, 1e-6F);
    }
    const float n = std::max(i.nearDistance, 1e-6F);
    const float f = std::max(i.farDistance, n * 1.000001F);
    // A projected depth buffer is linear in 1/depth, exactly as inverse depth is.
    return 1.0F / (1.0F / n + (1.0F / f - 1.0F / n) * towardsFar);
}

float storedFromDepth(float depth, const Interpretation& i) noexcept {
    if (i.coding == DepthCoding::Metres)
        return std::isfinite(depth) ? depth / i.scale : i.backgroundFrom;
    if (!std::isfinite(depth) && std::isfinite(i.backgroundFrom))
        return i.backgroundFrom;
    const float n = i.nearDistance;
    const float f = i.farDistance;
    float towardsFar = 1.0F;
    if (std::isfinite(depth))
        towardsFar = i.coding == DepthCoding::Normalised
                         ? (depth - n) / (f - n)
                         : (1.0F / depth - 1.0F / n) / (1.0F / f - 1.0F / n);
    return i.nearBright ? 1.0F - towardsFar : towardsFar;
}

Image depthFromStored(const Image& stored, const Interpretation& interpretation,
                      const Camera& camera) {
    Image depth = Image::unset(stored.width(), stored.height(), {"Z"});
    float* out = depth.editPlane(0);
    const FrameRays rays(camera, stored.width(), stored.height());
    forEachBand(stored.height(), kBandHeight, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < stored.width(); ++x) {
                float value = depthFromStored(stored(x, y, 0), interpretation);
                if (interpretation.radial)
                    value *=
                        rays.through(static_cast<float>(x) + 0.5F, static_cast<float>(y) + 0.5F)
                            .planarPerDistance;
                out[depth.rowStride() * y + x] = value;
            }
    });
    return depth;
}

Interpretation guessInterpretation(const Image& stored, SampleType type,
                                   const Attributes& attributes, bool namedRadial) {
    const Statistics s = statisticsOf(stored, 0);
    Interpretation guess;
    const bool integer = type == SampleType::Byte || type == SampleType::Short;
    if (s.counted == 0) {
        guess.reason = "no finite values to judge by";
    } else if (integer || (s.minimum >= 0.0F && s.maximum <= 1.0001F && s.infinite == 0)) {
        guess = guessUnitRange(stored, s, type, attributes);
    } else if (s.maximum <= 0.0F) {
        guess.scale = -1.0F;
        guess.reason = "all values are negative, like positions along the camera's -Z";
    } else {
        guess.reason =
            fmt::format("float values from {:.3g} to {:.3g}, so metres", s.minimum, s.maximum);
        if (s.maximum >= kSurelyBackground || shareOf(stored, s.maximum) > 0.005F) {
            const bool clear = s.maximum >= 1000.0F;
            if (clear) {
                guess.backgroundFrom =
                    s.maximum >= kSurelyBackground ? kSurelyBackground : s.maximum;
                guess.reason +=
                    fmt::format("; {:.3g} and more is the background", guess.backgroundFrom);
            }
        }
    }
    guess.radial = namedRadial;
    return guess;
}

}  // namespace noctis
