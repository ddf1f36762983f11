#include "core/image/error.h"
#include "core/passes/even_steps.h"
#include "core/relief/sources.h"

#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

struct GreySettings {
    float black = 0.0F;
    float white = 0.05F;
    float metresPerPixel = 0.001F;
    bool smoothSteps = true;
};

/// How finely values are stored, as a part of the way from black to white; 0 for floats.
float stepOf(SampleType type) {
    switch (type) {
    case SampleType::Byte:
        return 1.0F / 255.0F;
    case SampleType::Short:
        return 1.0F / 65535.0F;
    default:
        return 0.0F;
    }
}

/// Whether 16 bits hold no more than 8 bits' worth of greys.
bool holdsBytes(const Image& stored) {
    std::vector<bool> seen(65536, false);
    std::size_t different = 0;
    for (int y = 0; y < stored.height(); ++y)
        for (int x = 0; x < stored.width(); ++x) {
            const auto code =
                static_cast<std::size_t>(std::clamp(stored(x, y, 0), 0.0F, 1.0F) * 65535.0F + 0.5F);
            if (!seen[code]) {
                seen[code] = true;
                ++different;
            }
        }
    return different <= 256 && different > 1;
}

}  // namespace

ReliefSourceType greySource() {
    using S = GreySettings;
    return ReliefSourceBuilder<S>("grey", "Grey picture")
        .help("Heights from a grey picture, between the heights of black and white.")
        .number(&S::black, "black", "Black is", Unit::Metre, {-1e4F, 1e4F, 1.0F},
                "The height of black. Higher than white swaps hills and valleys.")
        .number(&S::white, "white", "White is", Unit::Metre, {-1e4F, 1e4F, 1.0F},
                "The height of white.")
        .number(&S::metresPerPixel, "metres_a_pixel", "Metres per pixel", Unit::Metre,
                {1e-6F, 1000.0F, 0.1F}, "The size of a pixel, for slopes and solids.")
        .toggle(&S::smoothSteps, "smooth_steps", "Smooth the bands",
                "Smooths the bands of 8-bit greys by no more than half a step; edges stay.")
        .suits([](const ReliefInput& input) { return !input.stored.empty(); })
        .make([](const ReliefInput& input, const S& s, const RunContext& run) {
            if (const auto written = writtenHeights(input))
                return *written;
            if (input.stored.empty())
                throw Error(ErrorCode::BadFile, "there is no picture with one to four channels");
            const Image& stored = input.stored;
            requireCells(stored.width(), stored.height());
            HeightField field;
            field.metresPerPixel = s.metresPerPixel;
            field.plane.up = V3f(0.0F, 1.0F, 0.0F);
            field.plane.normal = V3f(0.0F, 0.0F, 1.0F);
            field.level = "by black and white";
            field.heights = unsetHeights(stored.width(), stored.height());
            float* to = field.heights.editPlane(0);
            const bool colours = stored.channels() >= 3;
            float low = kNothingHit;
            float high = -kNothingHit;
            for (int y = 0; y < stored.height(); ++y)
                for (int x = 0; x < stored.width(); ++x) {
                    const float grey =
                        colours ? (stored(x, y, 0) + stored(x, y, 1) + stored(x, y, 2)) / 3.0F
                                : stored(x, y, 0);
                    low = std::min(low, grey);
                    high = std::max(high, grey);
                    const float height = s.black + (s.white - s.black) * grey;
                    to[field.heights.rowStride() * y + x] =
                        std::isfinite(height) ? height : std::numeric_limits<float>::quiet_NaN();
                }
            const bool bytes = input.storedType == SampleType::Byte ||
                               (input.storedType == SampleType::Short && holdsBytes(stored));
            const float step =
                std::abs(s.white - s.black) * (bytes ? 1.0F / 255.0F : stepOf(input.storedType));
            if (bytes) {
                field.notes.push_back(fmt::format("The picture has 8 bits: a step is {}; {}.",
                                                  lengthText(static_cast<double>(step)),
                                                  s.smoothSteps
                                                      ? "its bands are smoothed within half a step"
                                                      : "its bands can be smoothed"));
                if (s.smoothSteps)
                    field.heights = withoutSteps(field.heights, step, run);
            }
            if (input.storedType == SampleType::Float && (low < 0.0F || high > 1.0F))
                field.warnings.push_back(fmt::format(
                    "The picture's values run from {:g} to {:g}, beyond black and white.", low,
                    high));
            return field;
        })
        .build();
}

}  // namespace noctis
