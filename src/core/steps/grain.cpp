#include "core/steps/grain.h"

#include "core/settings/hash.h"
#include "core/steps/grain_row.h"

#include <fmt/format.h>

namespace noctis {

StepType grainStep() {
    using S = GrainSettings;
    return StepBuilder<S>("grain", "Grain")
        .version(1)
        .phase(Phase::Finish)
        .help("Lays film's grain over the picture: more of it, but less beside the light, where "
              "the picture is bright. Another one each frame.")
        .number(&S::strength, "strength", "Strength", Unit::Percent, {0.0F, 4.0F, 0.5F},
                "How strong it is on middle grey, in percent of that grey.")
        .number(&S::size, "size", "Size", Unit::Pixel, {1.0F, 64.0F, 8.0F},
                "How large the grains are, in pixels of the full picture.")
        .number(&S::colour, "colour", "Colour", Unit::Percent, {0.0F, 1.0F, 1.0F},
                "How much the channels differ: none of it is grey grain.")
        .whole(&S::seed, "seed", "Seed", {0.0F, 9999.0F, 100.0F}, "Another number, other grain.")
        .preset("Fine", {{"strength", 0.02F}, {"size", 1.0F}, {"colour", 0.2F}})
        .preset("Fast film", {{"strength", 0.1F}, {"size", 2.2F}, {"colour", 0.4F}})
        .preset("Silver", {{"strength", 0.05F}, {"size", 1.8F}, {"colour", 0.0F}})
        .readsTime([](const S& s) { return s.strength > 0.0F; })
        .summary([](const S& s) {
            return fmt::format("{} · {}", formatNumber(s.strength, Unit::Percent),
                               formatNumber(s.size, Unit::Pixel));
        })
        .point([](const S& s, const WorkingFrame& frame) -> PointFunction {
            const FrameContext& context = frame.context();
            const std::uint64_t seed = Hash(static_cast<std::uint64_t>(s.seed))
                                           .add(static_cast<std::uint64_t>(context.time().number))
                                           .value();
            const GrainRow grain{s.strength, s.size, s.colour,
                                 static_cast<std::uint32_t>(seed ^ seed >> 32U), context.factor()};
            return [grain](const PointRow& p) {
                if (grain.strength > 0.0F)
                    grainRow(grain, p.x, p.y, p.a, p.r, p.g, p.b, p.count);
            };
        })
        .build();
}

}  // namespace noctis
