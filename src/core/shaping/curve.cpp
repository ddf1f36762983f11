#include "core/relief/relief_type.h"
#include "core/shaping/each_height.h"

namespace noctis {

namespace {

struct CurveSettings {
    Curve curve{};
};

}  // namespace

ShapingType curveShaping() {
    using S = CurveSettings;
    return ShapingBuilder<S>("curve", "Curve")
        .help("Bends heights between the lowest, 0, and the highest, 1.")
        .curve(&S::curve, "curve", "Curve", "What each height becomes, from lowest to highest.")
        .preset("Flat floor", {{"curve", Curve{{{0.0F, 0.0F}, {0.35F, 0.02F}, {1.0F, 1.0F}}}}})
        .preset("Soft top", {{"curve", Curve{{{0.0F, 0.0F}, {0.6F, 0.75F}, {1.0F, 1.0F}}}}})
        .apply([](const HeightField& field, const S& s) {
            HeightField out = field;
            const HeightSpread spread = spreadOf(field.heights);
            if (!(spread.range() > 0.0F))
                return out;
            forEachHeight(out, [&](float h, int, int) {
                return spread.lowest +
                       spread.range() * curveAt(s.curve, (h - spread.lowest) / spread.range());
            });
            return out;
        })
        .summary([](const S& s) {
            return s.curve == Curve{} ? std::string("straight") : std::string("bent");
        })
        .build();
}

}  // namespace noctis
