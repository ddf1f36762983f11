#include "core/relief/field_filters.h"
#include "core/relief/relief_type.h"

#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

enum class FillBy { Smooth, Lowest, Height };

struct FillSettings {
    FillBy by = FillBy::Smooth;
    float height = 0.0F;
};

}  // namespace

OperationType fillOperation() {
    using S = FillSettings;
    return OperationBuilder<S>("fill", "Fill holes")
        .help("Fills holes, so that displacement and solids have none.")
        .choice(&S::by, "by", "With",
                {{"smooth", "A smooth surface"},
                 {"lowest", "The lowest height"},
                 {"height", "A height"}},
                "What to fill holes with.")
        .number(&S::height, "height", "Height", Unit::Metre, {-1e5F, 1e5F, 1.0F},
                "The height of holes.")
        .onlyWhen("by=height")
        .apply([](const HeightField& field, const S& s) {
            HeightField out = field;
            if (s.by == FillBy::Smooth) {
                out.heights = withoutHoles(field.heights);
                return out;
            }
            const float level =
                s.by == FillBy::Lowest ? heightStatisticsOf(field.heights).lowest : s.height;
            float* to = out.heights.editPlane(0);
            for (int y = 0; y < field.height(); ++y)
                for (int x = 0; x < field.width(); ++x)
                    if (float& h = to[out.heights.rowStride() * y + x]; !std::isfinite(h))
                        h = level;
            return out;
        })
        .summary([](const S& s) {
            return s.by == FillBy::Smooth ? std::string("with a smooth surface")
                   : s.by == FillBy::Lowest
                       ? std::string("with the lowest height")
                       : fmt::format("with {}", lengthText(static_cast<double>(s.height)));
        })
        .build();
}

}  // namespace noctis
