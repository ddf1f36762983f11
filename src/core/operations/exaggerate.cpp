#include "core/operations/each_height.h"
#include "core/relief/relief_type.h"

#include <fmt/format.h>

namespace noctis {

namespace {

struct ExaggerateSettings {
    float factor = 2.0F;
};

}  // namespace

OperationType exaggerateOperation() {
    using S = ExaggerateSettings;
    return OperationBuilder<S>("exaggerate", "Exaggerate")
        .help("Multiplies heights above the level; files and panels say so.")
        .number(&S::factor, "factor", "Factor", Unit::None, {-100.0F, 100.0F, 10.0F},
                "How much higher everything becomes. -1 turns hills into valleys.")
        .preset("Swap hills and valleys", {{"factor", -1.0F}})
        .apply([](const HeightField& field, const S& s) {
            HeightField out = field;
            forEachHeight(out, [&](float h, int, int) { return h * s.factor; });
            out.exaggeration *= s.factor;
            return out;
        })
        .summary([](const S& s) { return fmt::format("{:.3g} times as high", s.factor); })
        .build();
}

}  // namespace noctis
