#include "core/operations/each_height.h"
#include "core/relief/field_filters.h"
#include "core/relief/relief_type.h"

#include <fmt/format.h>

namespace noctis {

namespace {

struct DetailSettings {
    float wavelength = 0.02F;
    float amount = 1.5F;
};

}  // namespace

OperationType detailOperation() {
    using S = DetailSettings;
    return OperationBuilder<S>("detail", "Detail")
        .help("Raises or lowers what is finer than a wavelength; large form stays.")
        .number(&S::wavelength, "wavelength", "Finer than", Unit::Metre, {0.0F, 1000.0F, 0.2F},
                "Forms narrower than this change, wider ones stay.")
        .number(&S::amount, "amount", "Amount", Unit::Percent, {0.0F, 10.0F, 3.0F},
                "100 % leaves detail as it is, 0 % removes it.")
        .apply([](const HeightField& field, const S& s) {
            HeightField out = field;
            const Image form =
                withoutShortForms(field.heights, s.wavelength / field.metresPerPixel);
            forEachHeight(out, [&](float h, int x, int y) {
                const float large = form(x, y, 0);
                return large + (h - large) * s.amount;
            });
            return out;
        })
        .summary([](const S& s) {
            return fmt::format("{} of what is finer than {}", formatNumber(s.amount, Unit::Percent),
                               lengthText(static_cast<double>(s.wavelength)));
        })
        .build();
}

}  // namespace noctis
