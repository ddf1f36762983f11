#include "core/operations/each_height.h"
#include "core/relief/relief_type.h"

#include <limits>

#include <fmt/format.h>

namespace noctis {

namespace {

enum class KeepPart { Inside, Outside };

struct KeepSettings {
    KeepPart part = KeepPart::Inside;
    Span heights{};
};

}  // namespace

OperationType keepOperation() {
    using S = KeepSettings;
    return OperationBuilder<S>("keep", "Cut out")
        .help("Keeps what its Where covers, or everything else; the rest becomes holes.")
        .choice(&S::part, "part", "Keeps", {{"inside", "What it covers"}, {"outside", "The rest"}},
                "Which part to keep.")
        .span(&S::heights, "heights", "Heights", Unit::Metre, {-1e5F, 1e5F, 1.0F},
              "Only heights between these are kept.")
        .limitsItself()
        .apply([](const HeightField& field, const S& s, const OperationContext& context,
                  const RunContext&) {
            HeightField out = field;
            forEachHeight(out, [&](float h, int x, int y) {
                const bool covered = context.mask.empty() || (context.mask(x, y, 0) >= 0.5F) ==
                                                                 (s.part == KeepPart::Inside);
                return covered && h >= s.heights.from && h <= s.heights.to
                           ? h
                           : std::numeric_limits<float>::quiet_NaN();
            });
            return out;
        })
        .summary([](const S& s) {
            const bool bounded = std::isfinite(s.heights.from) || std::isfinite(s.heights.to);
            const std::string where = s.part == KeepPart::Inside ? "what it covers" : "the rest";
            return bounded ? fmt::format("{}, {} to {}", where,
                                         lengthText(static_cast<double>(s.heights.from)),
                                         lengthText(static_cast<double>(s.heights.to)))
                           : where;
        })
        .build();
}

}  // namespace noctis
