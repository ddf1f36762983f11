#include "core/steps/contact_shadow.h"

#include "core/steps/lit_surface.h"
#include "core/steps/screen_shadow.h"

#include <algorithm>
#include <array>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

namespace {

/// Of one that is added by hand: what is in the shade keeps some of its light.
constexpr float kFirstStrength = 0.7F;

SceneLight ownLight(const ContactShadowSettings& s) {
    SceneLight light;
    light.kind = s.kind == ShadowTowards::Sun ? SceneLightKind::Sun : SceneLightKind::Point;
    light.towards = s.towards;
    light.position = s.position;
    return light;
}

PassName lightPass(const std::string& group) { return {PassKind::Light, group}; }

/// Takes the shadow's part of a light's own share away, or draws the picture towards the colour.
void shadeRow(const ContactShadowSettings& s, const Image& open, const Image& share,
              const PointRow& p) noexcept {
    const float* seen = open.row(0, p.y) + p.x;
    const std::array<float*, 3> to{p.r, p.g, p.b};
    const std::array<float, 3> colour{s.colour.r, s.colour.g, s.colour.b};
    for (int c = 0; c < 3; ++c) {
        float* row = to[static_cast<std::size_t>(c)];
        const float tint = colour[static_cast<std::size_t>(c)];
        if (share.empty()) {
            for (int i = 0; i < p.count; ++i)
                row[i] *= 1.0F + (tint - 1.0F) * (1.0F - seen[i]) * s.strength;
            continue;
        }
        const float* light = share.row(std::min(c, share.channels() - 1), p.y) + p.x;
        for (int i = 0; i < p.count; ++i) {
            const float taken = light[i] * (1.0F - tint) * (1.0F - seen[i]) * s.strength;
            row[i] = taken == taken ? std::max(row[i] - taken, std::min(row[i], 0.0F)) : row[i];
        }
    }
}

}  // namespace

StepType contactShadowStep() {
    using S = ContactShadowSettings;
    return StepBuilder<S>("contact_shadow", "Contact shadow")
        .version(1)
        .phase(Phase::Light)
        .help("Grounds things: what the picture shows casts a shadow on what is near it.")
        .settled([](nlohmann::json& settings) {
            if (settings.contains("position") && !settings.contains("kind") &&
                !settings.contains("towards"))
                settings["kind"] = "point";
        })
        .text(&S::light, "light", "Light", TextUse::Lights,
              "The light that casts the shadow, by name; leave empty to set one here.")
        .unsetIs("set here")
        .choice(&S::kind, "kind", "Kind", {{"sun", "Sun"}, {"point", "Lamp"}},
                "A sun shines from one direction everywhere, a lamp from its position.")
        .direction(&S::towards, "towards", "Towards", "The direction from the scene to the sun.")
        .onlyWhen("kind=sun")
        .position(&S::position, "position", "Position", "Where the lamp is.")
        .onlyWhen("kind=point")
        .number(&S::length, "length", "Length", Unit::Metre, {0.0F, 1e5F, 5.0F},
                "How far a thing casts its shadow; 0 has no limit.")
        .unsetIs("endless")
        .number(&S::thickness, "thickness", "Thickness", Unit::Metre, {0.0F, 1e4F, 2.0F},
                "How thick things are assumed to be, since the picture shows only their fronts.")
        .number(&S::softness, "softness", "Softness", Unit::Degree, {0.0F, 60.0F, 15.0F},
                "Half the light's angular width: the shadow softens with the distance from what "
                "casts it.")
        .colour(&S::colour, "colour", "Colour", "The colour that the shadow darkens to.")
        .number(&S::strength, "strength", "Strength", Unit::Percent, {0.0F, 1.0F, 1.0F},
                "How dark the shadow is.")
        .suited([](Settings& s, const Surroundings&) { s.set("strength", kFirstStrength); })
        .preset("Close contact", {{"length", 0.25F}, {"softness", 6.0F}, {"strength", 0.8F}})
        .preset("Hard sun", {{"length", 0.0F}, {"softness", 0.3F}})
        .reads([](const S& s) {
            std::vector<PassNeed> needs{
                needed(PassName{PassKind::Depth, {}}, "what stands in the light's way"),
                needed(PassName{PassKind::Normal, {}}, "which surfaces face the light"),
                wanted(PassKind::BehindDepth, "a second surface that casts")};
            if (!s.light.empty())
                needs.push_back({lightPass(s.light), "the light's own part of the picture", true});
            return needs;
        })
        .summary([](const S& s) {
            return fmt::format("{} · {}", s.light.empty() ? "own light" : s.light,
                               s.length > 0.0F ? formatNumber(s.length, Unit::Metre)
                                               : std::string("endless"));
        })
        .handle(HandleKind::Direction, "towards", "sun",
                [](const S& s) { return s.light.empty() && s.kind == ShadowTowards::Sun; })
        .handle(HandleKind::Point, "position", "lamp",
                [](const S& s) { return s.light.empty() && s.kind == ShadowTowards::Point; })
        .offSurface()
        .pointPrepared(
            [](const S& s, const WorkingFrame& frame, const RunContext& run) -> PointFunction {
                const SceneLight light = lightNamed(frame, s.light, ownLight(s));
                const SeenGeometry seen{frame.context().camera(), frame.pass(PassKind::Depth),
                                        worldNormals(frame),
                                        frame.passIfThere({PassKind::BehindDepth, {}})};
                Image open = screenShadow(seen, light, {s.length, s.thickness, s.softness}, run);
                Image share = s.light.empty() ? Image() : frame.passIfThere(lightPass(light.group));
                return [s, open = std::move(open), share = std::move(share)](const PointRow& p) {
                    shadeRow(s, open, share, p);
                };
            })
        .build();
}

}  // namespace noctis
