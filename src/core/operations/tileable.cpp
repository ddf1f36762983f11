#include "core/image/error.h"
#include "core/relief/integrate.h"
#include "core/relief/poisson.h"
#include "core/relief/relief_type.h"

#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

struct TileableSettings {
    float seam = 0.02F;
};

/// Without the part of the field that keeps its opposite edges from meeting, spread over the whole.
/// Source   Moisan 2011, Periodic Plus Smooth Image Decomposition.
Image periodicPart(const Image& heights) {
    const int w = heights.width();
    const int h = heights.height();
    std::vector<float> jumps(static_cast<std::size_t>(w) * static_cast<std::size_t>(h), 0.0F);
    const auto at = [&](int x, int y) -> float& {
        return jumps[static_cast<std::size_t>(y) * static_cast<std::size_t>(w) +
                     static_cast<std::size_t>(x)];
    };
    for (int y = 0; y < h; ++y) {
        const float jump = heights(w - 1, y, 0) - heights(0, y, 0);
        at(0, y) -= jump;
        at(w - 1, y) += jump;
    }
    for (int x = 0; x < w; ++x) {
        const float jump = heights(x, h - 1, 0) - heights(x, 0, 0);
        at(x, 0) -= jump;
        at(x, h - 1) += jump;
    }
    PoissonSolver(w, h, FieldEdges::Periodic).solve(jumps, 0.0F);
    Image out = heights;
    float* to = out.editPlane(0);
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x)
            to[out.rowStride() * y + x] -= at(x, y);
    return out;
}

/// Near the edges, the map carried over from beyond the opposite one is mixed in.
Image blended(const Image& heights, int seam) {
    const int w = heights.width();
    const int h = heights.height();
    Image out = heights;
    const auto mix = [&](bool across) {
        const Image from = out;
        float* to = out.editPlane(0);
        const int length = across ? w : h;
        const int reach = std::min(seam, length / 2);
        for (int i = 0; i < reach; ++i) {
            // Half and half at the edge itself: both sides show the same there.
            const float t = 1.0F - (static_cast<float>(i) + 0.5F) / static_cast<float>(reach);
            const float part = 0.5F * t * t * (3.0F - 2.0F * t);
            for (int j = 0; j < (across ? h : w); ++j) {
                const int x0 = across ? i : j;
                const int y0 = across ? j : i;
                const int x1 = across ? w - 1 - i : j;
                const int y1 = across ? j : h - 1 - i;
                const float a = from(x0, y0, 0);
                const float b = from(x1, y1, 0);
                to[out.rowStride() * y0 + x0] = a + (b - a) * part;
                to[out.rowStride() * y1 + x1] = b + (a - b) * part;
            }
        }
    };
    mix(true);
    mix(false);
    return out;
}

}  // namespace

OperationType tileableOperation() {
    using S = TileableSettings;
    return OperationBuilder<S>("tileable", "Make tileable")
        .help("Makes opposite edges meet, so that the map repeats without a seam.")
        .number(&S::seam, "seam", "Seam", Unit::Metre, {0.0F, 1000.0F, 0.2F},
                "How far in from its edges the map is blended with its opposite side.")
        .apply([](const HeightField& field, const S& s) {
            if (heightStatisticsOf(field.heights).holes > 0)
                throw Error(ErrorCode::BadSetting,
                            "a map with holes can't repeat; add Fill holes before this");
            HeightField out = field;
            out.heights = periodicPart(field.heights);
            const int seam = static_cast<int>(std::lround(s.seam / field.metresPerPixel));
            if (seam > 0)
                out.heights = blended(out.heights, seam);
            return out;
        })
        .summary([](const S& s) {
            return fmt::format("blended over {} at the edges",
                               lengthText(static_cast<double>(s.seam)));
        })
        .build();
}

}  // namespace noctis
