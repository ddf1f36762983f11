#include "core/operations/each_height.h"
#include "core/relief/relief_type.h"

#include <fmt/format.h>

namespace noctis {

namespace {

struct ClipSettings {
    Span heights{};
};

}  // namespace

OperationType clipOperation() {
    using S = ClipSettings;
    return OperationBuilder<S>("clip", "Clip")
        .help("Cuts off heights below and above two limits.")
        .span(&S::heights, "heights", "Heights", Unit::Metre, {-1e5F, 1e5F, 1.0F},
              "Heights outside these are cut to them.")
        .apply([](const HeightField& field, const S& s) {
            HeightField out = field;
            const float low = std::min(s.heights.from, s.heights.to);
            const float high = std::max(s.heights.from, s.heights.to);
            forEachHeight(out, [&](float h, int, int) { return std::clamp(h, low, high); });
            return out;
        })
        .summary([](const S& s) {
            const bool from = std::isfinite(s.heights.from);
            const bool to = std::isfinite(s.heights.to);
            if (from && to)
                return fmt::format("{} to {}", lengthText(static_cast<double>(s.heights.from)),
                                   lengthText(static_cast<double>(s.heights.to)));
            if (from)
                return fmt::format("nothing below {}",
                                   lengthText(static_cast<double>(s.heights.from)));
            if (to)
                return fmt::format("nothing above {}",
                                   lengthText(static_cast<double>(s.heights.to)));
            return std::string("nothing is cut");
        })
        .build();
}

}  // namespace noctis
