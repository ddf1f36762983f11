#include "core/operations/each_height.h"
#include "core/relief/relief_type.h"

namespace noctis {

namespace {

struct CurveSettings {
    Curve curve{};
};

}  // namespace

OperationType curveOperation() {
    using S = CurveSettings;
    return OperationBuilder<S>("curve", "Curve")
        .help("Bends heights between the lowest, 0, and the highest, 1.")
        .curve(&S::curve, "curve", "Curve", "What each height becomes, from lowest to highest.")
        .preset("Flat floor", {{"curve", Curve{{{0.0F, 0.0F}, {0.35F, 0.02F}, {1.0F, 1.0F}}}}})
        .preset("Soft top", {{"curve", Curve{{{0.0F, 0.0F}, {0.6F, 0.75F}, {1.0F, 1.0F}}}}})
        .apply([](const HeightField& field, const S& s) {
            HeightField out = field;
            const HeightStatistics statistics = heightStatisticsOf(field.heights);
            if (!(statistics.range() > 0.0F))
                return out;
            forEachHeight(out, [&](float h, int, int) {
                return statistics.lowest +
                       statistics.range() *
                           curveAt(s.curve, (h - statistics.lowest) / statistics.range());
            });
            return out;
        })
        .summary([](const S& s) {
            return s.curve == Curve{} ? std::string("straight") : std::string("bent");
        })
        .build();
}

}  // namespace noctis
