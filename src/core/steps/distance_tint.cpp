#include "core/steps/distance_tint.h"

#include "core/recipe/picture_air.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

float shareOf(float depth, const DistanceTintSettings& s) noexcept {
    return std::clamp((depth - s.nearest) / std::max(s.farthest - s.nearest, 1e-6F), 0.0F, 1.0F);
}

}  // namespace

LinearRgb distanceTint(float depth, const DistanceTintSettings& s) noexcept {
    return std::isnan(depth) ? LinearRgb{1.0F, 1.0F, 1.0F}
                             : gradientAt(s.colours, shareOf(depth, s));
}

StepType distanceTintStep() {
    using S = DistanceTintSettings;
    return StepBuilder<S>("distance_tint", "Distance tint")
        .version(1)
        .phase(Phase::Air)
        .help("Tints the picture by distance: warm in front, cold behind, or any gradient.")
        .number(&S::nearest, "nearest", "Nearest", Unit::Metre, {0.0F, 1e6F, 100.0F},
                "Depth at which the gradient begins; everything nearer takes its first colour.")
        .number(&S::farthest, "farthest", "Farthest", Unit::Metre, {0.001F, 1e6F, 500.0F},
                "Depth at which the gradient ends; everything farther, and the sky, takes its last "
                "colour.")
        .gradient(
            &S::colours, "colours", "Colours",
            "What the picture is multiplied by, from nearest to farthest; white changes nothing.")
        .suited([](Settings& s, const Surroundings& around) {
            const std::optional<PictureAir> air = pictureAir(around.passes);
            if (!air || !(air->front < air->back))
                return;
            s.set("nearest", air->front);
            s.set("farthest", air->back);
        })
        .preset("Lamplight to night", {{"colours", Gradient{{{0.0F, {1.3F, 0.98F, 0.68F}},
                                                             {0.4F, {1.0F, 0.96F, 0.94F}},
                                                             {1.0F, {0.62F, 0.86F, 1.25F}}}}}})
        .preset(
            "Dark in front",
            {{"colours", Gradient{{{0.0F, {0.12F, 0.13F, 0.16F}}, {0.35F, {1.0F, 1.0F, 1.0F}}}}}})
        .reads(PassKind::Depth, "how far away things are")
        .summary([](const S& s) {
            const std::size_t count = s.colours.stops.size();
            return fmt::format("{} to {} · {} colour{}", formatNumber(s.nearest, Unit::Metre),
                               formatNumber(s.farthest, Unit::Metre), count, count == 1 ? "" : "s");
        })
        .lane(DepthLane::Shape::Curve, [](const S& s, float metres) { return shareOf(metres, s); })
        .handle(
            "nearest", "nearest", "nearest", [](const S& s) { return s.nearest; },
            [](const S& s, float metres) { return std::min(metres, 0.99F * s.farthest); })
        .handle(
            "farthest", "farthest", "farthest", [](const S& s) { return s.farthest; },
            [](const S& s, float metres) { return std::max(metres, 1.01F * s.nearest); })
        .point([](const S& s, const WorkingFrame& frame) -> PointFunction {
            return [s, depth = frame.pass(PassKind::Depth)](const PointRow& p) {
                const float* metres = depth.row(0, p.y) + p.x;
                for (int i = 0; i < p.count; ++i) {
                    const LinearRgb tint = distanceTint(metres[i], s);
                    p.r[i] *= tint.r;
                    p.g[i] *= tint.g;
                    p.b[i] *= tint.b;
                }
            };
        })
        .build();
}

}  // namespace noctis
