#include "core/passes/statistics.h"
#include "core/relief/relief_type.h"

#include <array>

#include <fmt/format.h>

namespace noctis {

namespace {

enum class RangeBy { Own, Heights };

struct RangeSettings {
    RangeBy by = RangeBy::Own;
    float leftOut = 0.001F;
    float from = 0.0F;
    float to = 0.05F;
};

}  // namespace

OperationType rangeOperation() {
    using S = RangeSettings;
    return OperationBuilder<S>("range", "Range")
        .help("Which heights are black and white in files; the heights themselves stay.")
        .choice(&S::by, "by", "By", {{"spread", "Own spread"}, {"heights", "Two heights"}},
                "Whether the range follows the map, or is set.")
        .number(&S::leftOut, "left_out", "Left out", Unit::Percent, {0.0F, 0.4F, 0.05F},
                "The part of all heights clipped at either end, so that outliers use up no steps.")
        .onlyWhen("by=spread")
        .number(&S::from, "from", "Black is", Unit::Metre, {-1e5F, 1e5F, 1.0F},
                "The height written as black.")
        .onlyWhen("by=heights")
        .number(&S::to, "to", "White is", Unit::Metre, {-1e5F, 1e5F, 1.0F},
                "The height written as white.")
        .onlyWhen("by=heights")
        .apply([](const HeightField& field, const S& s) {
            HeightField out = field;
            std::array<float, 2> range{std::min(s.from, s.to), std::max(s.from, s.to)};
            if (s.by == RangeBy::Own) {
                const std::array<float, 2> parts{s.leftOut, 1.0F - s.leftOut};
                const std::vector<float> found = percentilesOf(field.heights, 0, parts);
                if (found.size() < 2)
                    return out;
                range = {found[0], found[1]};
            }
            out.range = range;
            return out;
        })
        .summary([](const S& s) {
            if (s.by == RangeBy::Own)
                return s.leftOut > 0.0F ? fmt::format("without {} at either end",
                                                      formatNumber(s.leftOut, Unit::Percent))
                                        : std::string("lowest to highest");
            return fmt::format("{} to {}", lengthText(static_cast<double>(std::min(s.from, s.to))),
                               lengthText(static_cast<double>(std::max(s.from, s.to))));
        })
        .build();
}

}  // namespace noctis
