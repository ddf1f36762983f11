#include "core/steps/shadow.h"

#include "core/steps/shadow_share.h"

#include <array>

#include <fmt/format.h>

namespace noctis {

StepType shadowStep() {
    using S = ShadowStepSettings;
    return StepBuilder<S>("shadow", "Shadow")
        .version(1)
        .phase(Phase::Light)
        .help("Lays a rendered shadow over the picture with the strength, colour and softness you "
              "choose.")
        .text(&S::pass, "pass", "Pass", TextUse::Passes,
              "A shadow pass of a light, or the shadow on an unseen ground.")
        .number(&S::strength, "strength", "Strength", Unit::Percent, {0.0F, 1.0F, 1.0F},
                "How dark the shadow is.")
        .number(&S::softness, "softness", "Softness", Unit::Pixel, {0.0F, 512.0F, 32.0F},
                "Blurs the shadow, in pixels of the full picture.")
        .colour(&S::colour, "colour", "Colour", "The colour that the shadow darkens to.")
        .preset("Blue dusk", {{"colour", LinearRgb{0.18F, 0.24F, 0.4F}}, {"strength", 0.8F}})
        .reads([](const S& s) {
            return std::vector<PassNeed>{needed(shadowPass(s.pass), "the shadow")};
        })
        .summary([](const S& s) {
            return fmt::format("{} · {}", s.pass, formatNumber(s.strength, Unit::Percent));
        })
        .pointPrepared(
            [](const S& s, const WorkingFrame& frame, const RunContext& run) -> PointFunction {
                return [s, dark = shadowShare(frame, shadowPass(s.pass), s.softness, run)](
                           const PointRow& p) {
                    const float* row = dark.row(0, p.y) + p.x;
                    const std::array<float*, 3> to{p.r, p.g, p.b};
                    const std::array<float, 3> tint{s.colour.r, s.colour.g, s.colour.b};
                    for (std::size_t c = 0; c < 3; ++c)
                        for (int i = 0; i < p.count; ++i)
                            to[c][i] *= 1.0F + (tint[c] - 1.0F) * (row[i] * s.strength);
                };
            })
        .build();
}

}  // namespace noctis
