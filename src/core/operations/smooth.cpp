#include "core/operations/each_height.h"
#include "core/relief/field_filters.h"
#include "core/relief/relief_type.h"

#include <fmt/format.h>

namespace noctis {

namespace {

struct SmoothSettings {
    float radius = 0.004F;
    float edge = 0.002F;
};

/// Source   He, Sun, Tang 2010, Guided Image Filtering, of the heights by themselves.
Image smoothed(const Image& heights, int radius, float edge) {
    Image squares = heights;
    float* square = squares.editPlane(0);
    for (int y = 0; y < heights.height(); ++y)
        for (int x = 0; x < heights.width(); ++x)
            square[squares.rowStride() * y + x] *= heights(x, y, 0);
    const Image mean = boxMean(heights, radius);
    const Image meanSquare = boxMean(squares, radius);
    Image slope = unsetHeights(heights.width(), heights.height());
    Image rest = unsetHeights(heights.width(), heights.height());
    float* a = slope.editPlane(0);
    float* b = rest.editPlane(0);
    const float kept = edge * edge;
    for (int y = 0; y < heights.height(); ++y)
        for (int x = 0; x < heights.width(); ++x) {
            const float m = mean(x, y, 0);
            const float variance = std::max(meanSquare(x, y, 0) - m * m, 0.0F);
            const std::ptrdiff_t i = slope.rowStride() * y + x;
            a[i] = variance / (variance + std::max(kept, 1e-20F));
            b[i] = m - a[i] * m;
            if (!std::isfinite(m))
                a[i] = b[i] = m;
        }
    slope = boxMean(slope, radius);
    rest = boxMean(rest, radius);
    Image out = unsetHeights(heights.width(), heights.height());
    float* to = out.editPlane(0);
    for (int y = 0; y < heights.height(); ++y)
        for (int x = 0; x < heights.width(); ++x)
            to[out.rowStride() * y + x] = slope(x, y, 0) * heights(x, y, 0) + rest(x, y, 0);
    return out;
}

}  // namespace

OperationType smoothOperation() {
    using S = SmoothSettings;
    return OperationBuilder<S>("smooth", "Smooth")
        .help("Smooths low relief and keeps high edges.")
        .number(&S::radius, "radius", "Radius", Unit::Metre, {0.0F, 100.0F, 0.05F},
                "How far around each place heights are averaged.")
        .number(&S::edge, "edge", "Keeps edges of", Unit::Metre, {0.0F, 1000.0F, 0.02F},
                "Steps much higher than this stay; lower ones are smoothed.")
        .apply([](const HeightField& field, const S& s) {
            HeightField out = field;
            const int radius = static_cast<int>(std::lround(s.radius / field.metresPerPixel));
            if (radius < 1)
                return out;
            // About their mean, so that squares keep their digits.
            const auto mean = static_cast<float>(heightStatisticsOf(field.heights).mean);
            forEachHeight(out, [&](float h, int, int) { return h - mean; });
            out.heights = smoothed(out.heights, std::min(radius, 2000), s.edge);
            forEachHeight(out, [&](float h, int, int) { return h + mean; });
            return out;
        })
        .summary([](const S& s) {
            return fmt::format("{} around, edges over {} stay",
                               lengthText(static_cast<double>(s.radius)),
                               lengthText(static_cast<double>(s.edge)));
        })
        .build();
}

}  // namespace noctis
