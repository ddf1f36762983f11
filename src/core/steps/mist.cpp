#include "core/steps/mist.h"

#include "core/passes/pass_set.h"
#include "core/recipe/picture_air.h"
#include "core/steps/mist_row.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

MistSettings placesOf(const MistStepSettings& s) noexcept { return {s.begins, s.half, s.full}; }

MistRow mistRowOf(const MistStepSettings& s) noexcept {
    MistRow row{};
    row.isShare = s.source == MistSource::Pass;
    row.begins = s.begins;
    row.perMetre = 1.0F / std::max(s.full - s.begins, 1e-6F);
    row.power = mistPower(placesOf(s));
    row.tint[0] = s.colour.r;
    row.tint[1] = s.colour.g;
    row.tint[2] = s.colour.b;
    return row;
}

}  // namespace

float mistShare(float depth, const MistStepSettings& s) noexcept {
    return mistAt(depth, placesOf(s));
}

StepType mistStep() {
    using S = MistStepSettings;
    return StepBuilder<S>("mist", "Mist")
        .version(1)
        .phase(Phase::Air)
        .help("A veil that thickens with distance from where it begins to where it is full.")
        .choice(&S::source, "source", "From", {{"distances", "Distances"}, {"pass", "Mist pass"}},
                "Whether it follows the three distances below or uses a mist pass as it is.")
        .number(&S::begins, "begins", "Begins", Unit::Metre, {0.0F, 1e6F, 100.0F},
                "Where the veil begins, along the view.")
        .onlyWhen("source=distances")
        .number(&S::half, "half", "Half", Unit::Metre, {0.0F, 1e6F, 200.0F},
                "Where the veil hides half of what lies there.")
        .onlyWhen("source=distances")
        .number(&S::full, "full", "Full", Unit::Metre, {0.001F, 1e6F, 500.0F},
                "Where the veil hides everything.")
        .onlyWhen("source=distances")
        .colour(&S::colour, "colour", "Colour", "What the veil hides things behind.")
        .suited([](Settings& s, const Surroundings& around) {
            const std::optional<PictureAir> air = pictureAir(around.passes);
            if (!air || !(air->front < air->middle && air->middle < air->back))
                return;
            s.set("begins", air->front);
            s.set("half", air->middle);
            s.set("full", air->back);
            if (air->colour)
                s.set("colour", *air->colour);
        })
        .preset("Low sun haze", {{"begins", 8.0F},
                                 {"half", 120.0F},
                                 {"full", 600.0F},
                                 {"colour", LinearRgb{0.30F, 0.22F, 0.15F}}})
        .preset("Wall of mist", {{"begins", 12.0F},
                                 {"half", 22.0F},
                                 {"full", 40.0F},
                                 {"colour", LinearRgb{0.09F, 0.11F, 0.14F}}})
        .reads([](const S& s) {
            const PassKind kind = s.source == MistSource::Pass ? PassKind::Mist : PassKind::Depth;
            return std::vector<PassNeed>{needed({kind, {}}, "how thick the veil is")};
        })
        .summary([](const S& s) {
            if (s.source == MistSource::Pass)
                return std::string("as the mist pass");
            return fmt::format("{} to {}, half at {}", formatNumber(s.begins, Unit::Metre),
                               formatNumber(s.full, Unit::Metre),
                               formatNumber(s.half, Unit::Metre));
        })
        .lane(DepthLane::Shape::Curve,
              [](const S& s, float metres) { return mistShare(metres, s); })
        .handle(
            "begins", "begins", "begins", [](const S& s) { return s.begins; },
            [](const S& s, float metres) { return std::min(metres, 0.99F * s.half); })
        .handle(
            "half", "half", "half", [](const S& s) { return s.half; },
            [](const S& s, float metres) {
                return std::clamp(metres, s.begins + 1e-3F,
                                  std::max(0.999F * s.full, s.begins + 1e-3F));
            })
        .handle(
            "full", "full", "full", [](const S& s) { return s.full; },
            [](const S& s, float metres) { return std::max(metres, 1.001F * s.half); })
        .point([](const S& s, const WorkingFrame& frame) -> PointFunction {
            const PassKind kind = s.source == MistSource::Pass ? PassKind::Mist : PassKind::Depth;
            return [row = mistRowOf(s), pass = frame.pass(kind)](const PointRow& p) {
                mistRow(row, pass.row(0, p.y) + p.x, p.a, p.r, p.g, p.b, p.count);
            };
        })
        .build();
}

}  // namespace noctis
