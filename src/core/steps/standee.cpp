#include "core/steps/standee.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr float kPartOfPicture = 0.125F;  ///< of its height, at first

}  // namespace

StepType standeeStep() {
    using S = StandeeSettings;
    return StepBuilder<S>("standee", "Standee")
        .version(1)
        .phase(Phase::Air)
        .help("A text or picture that stands in the scene; nearer things hide it.")
        .text(&S::text, "text", "Text", TextUse::Free, "What it says when it has no picture.")
        .file(&S::picture, "picture", "Picture", TextUse::PictureFile,
              "A picture to show instead of text; its alpha is its outline.")
        .file(&S::font, "font", "Font", TextUse::FontFile,
              "A font file for the text; empty uses the application's font.")
        .number(&S::height, "height", "Height", Unit::Metre, {0.001F, 1e5F, 20.0F},
                "Its height in the scene.")
        .number(&S::distance, "distance", "Distance", Unit::Metre, {0.0F, 1e6F, 100.0F},
                "How far away it stands, along the view; 0 uses its position instead.")
        .unsetIs("position")
        .place(&S::at, "at", "Base point", "Where its base is in the picture, at that distance.")
        .onlyWhen("distance>0")
        .position(&S::position, "position", "Position",
                  "Where its foot is in the scene, if it has no distance.")
        .onlyWhen("distance=0")
        .choice(&S::facing, "facing", "Faces",
                {{"camera", "The camera"},
                 {"upright", "The camera, upright"},
                 {"fixed", "A fixed direction"}},
                "Whether it turns to face the camera.")
        .number(&S::turn, "turn", "Turn", Unit::Degree, {-360.0F, 360.0F, 180.0F},
                "Which way it faces, around the vertical.")
        .onlyWhen("facing=fixed")
        .colour(&S::colour, "colour", "Colour", "The text's colour; it multiplies a picture.")
        .number(&S::strength, "strength", "Strength", Unit::Percent, {0.0F, 1000.0F, 4.0F},
                "How bright it is.")
        .number(&S::soft, "soft", "Soft", Unit::Metre, {0.0F, 1000.0F, 2.0F},
                "How far in front of a surface it starts to fade into it.")
        .choice(&S::mode, "mode", "Mode",
                {{"over", "Covers"}, {"add", "Adds light"}, {"screen", "Screens"}},
                "Whether it covers what is behind it, as a thing does, or adds its light, as a "
                "spark does; screened light never gets brighter than white.")
        .whole(&S::count, "count", "Count", {1.0F, 1000.0F, 50.0F},
               "How many there are, each of another size.")
        .number(&S::span, "span", "Span", Unit::Metre, {0.0F, 1e4F, 20.0F},
                "How far they are spread, along the view and across it.")
        .onlyWhen("count>1")
        .whole(&S::seed, "seed", "Seed", {0.0F, 10000.0F, 100.0F}, "Places them differently.")
        .onlyWhen("count>1")
        .velocity(&S::velocity, "velocity", "Velocity",
                  "Which way it moves, and how fast, as frames go by.")
        .number(&S::life, "life", "Life", Unit::Second, {0.0F, 1e4F, 10.0F},
                "After so long each fades and starts again from its foot.")
        .unsetIs("endless")
        .readsTime([](const S& s) {
            return s.velocity != V3f(0.0F) || s.life > 0.0F || isSequence(s.picture.path);
        })
        .suited([](Settings& s, const Surroundings& around) {
            const float metres = distanceIn(around);
            if (!(metres > 0.0F))
                return;
            // In front of what is there, or that would cut it.
            s.set("distance", roundDigits(0.95F * metres));
            s.set("height", roundDigits(kPartOfPicture * heightOfPicture(around)));
            s.set("at", placeIn(around));
            s.set("position", pointIn(around));
            if (const float light = lightIn(around); light > 0.0F)
                s.set("strength", roundDigits(light));
        })
        .preset("Title", {{"text", std::string("Saltern Quay")},
                          {"height", 3.0F},
                          {"distance", 40.0F},
                          {"colour", LinearRgb{0.55F, 0.60F, 0.66F}}})
        .preset("Embers", {{"text", std::string("•")},
                           {"height", 0.03F},
                           {"colour", LinearRgb{1.0F, 0.45F, 0.15F}},
                           {"strength", 3.0F},
                           {"mode", std::string("add")},
                           {"count", 60.0F},
                           {"span", 3.0F},
                           {"velocity", V3f(0.1F, 0.6F, 0.0F)},
                           {"life", 3.0F}})
        .preset("Ghost sign", {{"strength", 0.35F}, {"soft", 1.5F}})
        .writes({{PassKind::Depth, {}}, {PassKind::Coverage, {}}})
        .reads([](const S&) {
            return std::vector<PassNeed>{wanted(PassKind::Depth, "what hides it"),
                                         wanted(PassKind::Coverage, "its outline")};
        })
        .summary([](const S& s) {
            const std::string what = s.picture.path.empty() ? s.text.substr(0, s.text.find('\n'))
                                                            : s.picture.path.filename().string();
            return fmt::format("{} · {}{}", what, formatNumber(s.height, Unit::Metre),
                               s.distance > 0.0F ? " at " + formatNumber(s.distance, Unit::Metre)
                                                 : std::string());
        })
        .lane(DepthLane::Shape::Span,
              [](const S& s, float metres) {
                  const float away = std::abs(std::log(metres / std::max(s.distance, 1e-3F)));
                  return s.distance > 0.0F && away < 0.03F ? 1.0F : 0.0F;
              })
        .handle(HandleKind::Distance, "distance", "stands at",
                [](const S& s) { return s.distance > 0.0F; })
        .handle(HandleKind::Place, "at", "foot", [](const S& s) { return s.distance > 0.0F; })
        .handle(HandleKind::Point, "position", "foot",
                [](const S& s) { return !(s.distance > 0.0F); })
        .area([](const WorkingFrame& frame, const S& s, const RunContext& run) {
            return standIn(frame, s, run);
        })
        .build();
}

}  // namespace noctis
