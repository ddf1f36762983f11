#include "core/steps/airlight.h"

#include "core/recipe/mask.h"
#include "core/steps/air_scattering.h"
#include "core/steps/air_shadow.h"
#include "core/steps/lit_surface.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr float kThinnest = 1e-7F;  ///< 1/m
/// New air dims a lamp by so much: an optical depth.
constexpr float kNewDepth = 0.15F;

/// The first lamp of a scene, by name; empty if there is none.
std::string lampIn(const Surroundings& around) {
    for (const auto& [name, light] : around.passes.lights)
        if (light.kind == SceneLightKind::Point || light.kind == SceneLightKind::Spot)
            return name;
    return {};
}

/// How much of the light arrives along each pixel's ray.
Image openAir(const AirlightSettings& s, const WorkingFrame& frame, const Image& distances,
              const SceneLight& light, const RunContext& run) {
    const Camera camera = frame.context().camera();
    Image behind = frame.passIfThere({PassKind::BehindDepth, {}});
    if (!behind.empty()) {
        const FrameRays rays(camera, behind.width(), behind.height());
        float* to = behind.editPlane(0);
        for (int y = 0; y < behind.height(); ++y)
            for (int x = 0; x < behind.width(); ++x)
                to[behind.rowStride() * y + x] /=
                    rays.through(static_cast<float>(x) + 0.5F, static_cast<float>(y) + 0.5F)
                        .planarPerDistance;
    }
    return airShadow(distances, behind, camera, light,
                     {s.density, s.scatter, s.size, s.reach, s.thickness, s.softness}, run);
}

}  // namespace

StepType airlightStep() {
    using S = AirlightSettings;
    return StepBuilder<S>("airlight", "Light in the air")
        .version(1)
        .phase(Phase::Air)
        .help(
            "The halo of a lamp in mist, a spot's beam, or a sun's glow: what air scatters towards "
            "the viewer.")
        .text(&S::light, "light", "Light", TextUse::Lights,
              "A light of the scene, by name, with all its settings; leave empty to set one here.")
        .unsetIs("set here")
        .choice(&S::kind, "kind", "Kind", {{"sun", "Sun"}, {"point", "Lamp"}, {"spot", "Spot"}},
                "What kind of light it is.")
        .onlyWhen("light=")
        .direction(&S::towards, "towards", "Towards",
                   "From the scene to the light; a spot shines the opposite way.")
        .onlyWhen("light=&kind=sun|spot")
        .position(&S::position, "position", "Position",
                  "Where the light is. Click in the picture to put it near the surface there.")
        .onlyWhen("light=&kind=point|spot")
        .number(&S::inner, "inner", "Inner", Unit::Degree, {0.0F, 90.0F, 60.0F},
                "Within this angle of its axis the spot shines at full strength.")
        .onlyWhen("light=&kind=spot")
        .number(&S::outer, "outer", "Outer", Unit::Degree, {0.0F, 90.0F, 60.0F},
                "Beyond this angle the spot gives no light.")
        .onlyWhen("light=&kind=spot")
        .colour(&S::colour, "colour", "Colour", "The light's colour.")
        .onlyWhen("light=")
        .number(&S::strength, "strength", "Strength", Unit::None, {0.0F, 1e6F, 10.0F},
                "A sun's irradiance (W/m²), or a lamp's or spot's radiant intensity (W/sr), as in "
                "the scene.")
        .onlyWhen("light=")
        .number(&S::density, "density", "Visibility", Unit::Extinction, {0.0F, 10.0F, 0.5F},
                "How thick the air is, in 1/m; shown as the distance where contrast falls to 5 %.")
        .number(
            &S::scatter, "scatter", "Scatter", Unit::None, {-0.95F, 0.95F, 0.95F},
            "Above 0 the air is brightest when you look towards the light, below 0 when you look "
            "away from it.")
        .number(&S::size, "size", "Lamp size", Unit::Metre, {0.001F, 1e3F, 1.0F},
                "The radius of the lamp; within it the halo gets no brighter.")
        .number(&S::reach, "reach", "Reach", Unit::Metre, {0.0F, 1e6F, 200.0F},
                "How far from the camera there is such air; 0 has no limit.")
        .unsetIs("endless")
        .toggle(&S::shadow, "shadow", "Shadow",
                "Lets what the picture shows cut this light, so that it falls in shafts.")
        .number(&S::thickness, "thickness", "Thickness", Unit::Metre, {0.0F, 1e4F, 2.0F},
                "How thick things are assumed to be.")
        .onlyWhen("shadow=on")
        .number(&S::softness, "softness", "Softness", Unit::Degree, {0.0F, 60.0F, 5.0F},
                "Half the light's angular width, as seen from the camera, for its shadow.")
        .onlyWhen("shadow=on")
        .number(&S::colourReach, "colour_reach", "Tint over", Unit::Metre, {0.0F, 1e5F, 10.0F},
                "The distance from the lamp over which the light goes from the near colour to the "
                "far one; 0 leaves it untinted.")
        .unsetIs("untinted")
        .colour(&S::nearColour, "near_colour", "Near colour", "Multiplies the light at the lamp.")
        .onlyWhen("colour_reach>0")
        .colour(&S::farColour, "far_colour", "Far colour", "Multiplies the light farther away.")
        .onlyWhen("colour_reach>0")
        .suited([](Settings& s, const Surroundings& around) {
            const std::string lamp = lampIn(around);
            s.set("light", lamp);
            float metres = distanceIn(around);
            if (metres > 0.0F)
                s.set("position", pointIn(around) + besideViewer(around) * (0.05F * metres));
            if (!lamp.empty())
                metres = (around.passes.lights.at(lamp).position -
                          around.passes.cameraOrAssumed().position())
                             .length();
            if (metres > 0.0F)
                s.set("density", roundDigits(kNewDepth / metres));
            if (const float light = lightIn(around); light > 0.0F)
                s.set("strength", roundDigits(100.0F * light));
        })
        .preset("Lantern in mist", {{"kind", std::string("point")},
                                    {"colour", LinearRgb{1.0F, 0.55F, 0.25F}},
                                    {"strength", 6.0F},
                                    {"density", 0.03F},
                                    {"scatter", 0.5F}})
        .preset("Moonlit air", {{"kind", std::string("sun")},
                                {"colour", LinearRgb{0.55F, 0.7F, 1.0F}},
                                {"strength", 0.6F},
                                {"density", 0.002F},
                                {"scatter", 0.7F}})
        .preset("Fire", {{"kind", std::string("point")},
                         {"colour", LinearRgb{1.0F, 0.5F, 0.2F}},
                         {"strength", 10.0F},
                         {"density", 0.05F},
                         {"near_colour", LinearRgb{1.0F, 0.35F, 0.15F}},
                         {"far_colour", LinearRgb{1.0F, 0.75F, 0.45F}},
                         {"colour_reach", 3.0F}})
        .notBefore({"fog", "mist"}, "it dims this light, which is dimmed by its own air already")
        .reads([](const S& s) {
            std::vector<PassNeed> needs{needed({PassKind::Distance, {}}, "how much air there is")};
            if (s.shadow)
                needs.push_back(wanted(PassKind::BehindDepth, "what else stands in its way"));
            return needs;
        })
        .summary([](const S& s) {
            const std::string what = s.light.empty() ? std::string(lightKindId(s.kind)) : s.light;
            return fmt::format("{} · {}{}", what,
                               s.density > 0.0F ? formatNumber(s.density, Unit::Extinction)
                                                : std::string("no air"),
                               s.shadow ? " · with shadow" : "");
        })
        .handle(HandleKind::Direction, "towards", "light",
                [](const S& s) {
                    return hasOwn(s, {SceneLightKind::Sun, SceneLightKind::Spot});
                })
        .handle(HandleKind::Point, "position", "light",
                [](const S& s) {
                    return hasOwn(s, {SceneLightKind::Point, SceneLightKind::Spot});
                })
        .offSurface()
        .pointPrepared([](const S& s, const WorkingFrame& frame,
                          const RunContext& run) -> PointFunction {
            if (!(s.density > kThinnest))
                return [](const PointRow&) {};
            const SceneLight light = lightNamed(frame, s.light, ownLight(s));
            const AirScattering air(light, s.density, s.scatter, s.size,
                                    {s.nearColour, s.farColour, s.colourReach});
            const Image distances = frame.pass(PassKind::Distance);
            const Image open = s.shadow ? openAir(s, frame, distances, light, run) : Image();
            const FrameRays rays(frame.context().camera(), frame.width(), frame.height());
            const float reach = s.reach > 0.0F ? s.reach : kNothingHit;
            return [air, rays, reach, open, distance = distances](const PointRow& p) {
                const float* away = distance.row(0, p.y) + p.x;
                std::array<float, kRunLength> metres;
                // A distance that is no number is none.
                for (int i = 0; i < p.count; ++i)
                    metres[static_cast<std::size_t>(i)] =
                        away[i] >= 0.0F ? std::min(away[i], reach) : 0.0F;
                air.addRow(rays.row(p.x, p.y), metres.data(),
                           open.empty() ? nullptr : open.row(0, p.y) + p.x, p.r, p.g, p.b, p.count);
            };
        })
        .build();
}

}  // namespace noctis
