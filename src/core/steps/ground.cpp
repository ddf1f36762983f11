#include "core/steps/ground.h"

#include "core/steps/shadow_share.h"

#include <algorithm>
#include <array>

#include <fmt/format.h>

namespace noctis {

StepType groundStep() {
    using S = GroundSettings;
    return StepBuilder<S>("ground", "Ground")
        .version(1)
        .phase(Phase::Light)
        .help(
            "Lays the shadow of a thing with alpha beneath it, as its own soft alpha: it stands on "
            "whatever comes behind it.")
        .text(&S::pass, "pass", "Pass", TextUse::Passes, "The shadow on an unseen ground.")
        .colour(&S::colour, "colour", "Colour", "The shadow's colour.")
        .number(&S::strength, "strength", "Strength", Unit::Percent, {0.0F, 1.0F, 1.0F},
                "How dense the shadow is.")
        .number(&S::softness, "softness", "Softness", Unit::Pixel, {0.0F, 512.0F, 32.0F},
                "Blurs the shadow, in pixels of the full picture.")
        .preset("Evening", {{"colour", LinearRgb{0.01F, 0.012F, 0.025F}}, {"strength", 0.8F}})
        .reads([](const S& s) {
            return std::vector<PassNeed>{needed(shadowPass(s.pass), "the shadow")};
        })
        .summary([](const S& s) {
            return fmt::format("{} · {}", s.pass, formatNumber(s.strength, Unit::Percent));
        })
        .area([](const WorkingFrame& frame, const S& s, const RunContext& run) {
            WorkingFrame result = frame;
            // Nothing of a ground is seen through an opaque picture.
            if (!frame.hasAlpha())
                return result;
            const Image shadow = shadowShare(frame, shadowPass(s.pass), s.softness, run);
            Image out = frame.picture();
            const std::array<float*, 4> to{out.editPlane(0), out.editPlane(1), out.editPlane(2),
                                           out.editPlane(3)};
            const std::array<float, 3> colour{s.colour.r, s.colour.g, s.colour.b};
            for (int y = 0; y < out.height() && !run.stopped(); ++y)
                for (int x = 0; x < out.width(); ++x) {
                    const std::ptrdiff_t at = out.rowStride() * y + x;
                    const float part =
                        std::max(0.0F, 1.0F - to[3][at]) * s.strength * shadow(x, y, 0);
                    for (std::size_t c = 0; c < 3; ++c)
                        to.at(c)[at] += part * colour.at(c);
                    to[3][at] += part;
                }
            result.setPicture(std::move(out));
            return result;
        })
        .build();
}

}  // namespace noctis
