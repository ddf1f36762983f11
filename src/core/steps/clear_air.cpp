#include "core/steps/clear_air.h"

#include "core/image/error.h"
#include "core/recipe/picture_haze.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

/// What the picture has, if it has any.
void findHaze(Settings& s, const Surroundings& around) {
    const std::optional<PictureHaze> haze = pictureHaze(around.passes);
    if (!haze)
        return;
    s.set("density", haze->density);
    s.set("start", haze->start);
    s.set("colour", haze->colour);
}

}  // namespace

StepType clearAirStep() {
    using S = ClearAirSettings;
    return StepBuilder<S>("clear_air", "Clear the air")
        .version(1)
        .phase(Phase::Air)
        .help("Takes away the haze that a picture has: the inverse of fog. The sky stays.")
        .number(
            &S::density, "density", "Visibility", Unit::Extinction, {0.0F, 10.0F, 0.5F},
            "How thick the haze is, in 1/m; shown as the distance beyond the start where contrast "
            "has fallen to 5 %.")
        .number(&S::start, "start", "Start", Unit::Metre, {0.0F, 1e6F, 100.0F},
                "Distance from the camera where the haze begins.")
        .colour(&S::colour, "colour", "Colour", "What the far distance has faded to.")
        .number(&S::least, "least", "Least left", Unit::Percent, {0.001F, 1.0F, 0.5F},
                "How much of a thing's own light must get through for all of its haze to go: less "
                "brings back more of the distance, and its noise.")
        .suited(findHaze)
        .action("Find", "Reads density, start and colour from the picture and its distances.",
                [](Settings& s, const Surroundings& around) {
                    if (!pictureHaze(around.passes))
                        throw Error(ErrorCode::BadSetting,
                                    "the picture shows no haze that grows with the distance");
                    findHaze(s, around);
                })
        .preset("Morning haze",
                {{"density", 0.004F}, {"start", 10.0F}, {"colour", LinearRgb{0.45F, 0.52F, 0.6F}}})
        .preset("Smoke",
                {{"density", 0.02F}, {"start", 2.0F}, {"colour", LinearRgb{0.22F, 0.2F, 0.18F}}})
        .reads(PassKind::Distance, "how much air there is")
        .summary([](const S& s) {
            return s.density > 0.0F
                       ? fmt::format("from {} · {}", formatNumber(s.start, Unit::Metre),
                                     formatNumber(s.density, Unit::Extinction))
                       : std::string("no haze");
        })
        .lane(DepthLane::Shape::Curve,
              [](const S& s, float metres) {
                  return 1.0F - std::exp(-s.density * std::max(0.0F, metres - s.start));
              })
        .handle(
            "start", "start", "start", [](const S& s) { return s.start; },
            [](const S&, float metres) { return metres; })
        .point([](const S& s, const WorkingFrame& frame) -> PointFunction {
            if (s.density == 0.0F)
                return [](const PointRow&) {};
            return [s, distance = frame.pass(PassKind::Distance)](const PointRow& p) {
                const float* metres = distance.row(0, p.y) + p.x;
                for (int i = 0; i < p.count; ++i) {
                    if (!std::isfinite(metres[i]))
                        continue;
                    const float through = std::max(
                        std::exp(-s.density * std::max(0.0F, metres[i] - s.start)), s.least);
                    // Haze covers as much of a pixel as what is behind it does.
                    const float haze = (1.0F - through) * (p.a == nullptr ? 1.0F : p.a[i]);
                    p.r[i] = (p.r[i] - s.colour.r * haze) / through;
                    p.g[i] = (p.g[i] - s.colour.g * haze) / through;
                    p.b[i] = (p.b[i] - s.colour.b * haze) / through;
                }
            };
        })
        .build();
}

}  // namespace noctis
