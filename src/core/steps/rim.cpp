#include "core/steps/rim.h"

#include "core/steps/lit_surface.h"
#include "core/steps/silhouettes.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

/// The cosine beyond which a surface faces the light, for a light that doesn't reach round.
constexpr float kJustThere = 0.75F;

}  // namespace

StepType rimStep() {
    using S = RimSettings;
    return StepBuilder<S>("rim", "Rim")
        .version(1)
        .phase(Phase::Light)
        .help("Light along the edges of things, where they turn away from the viewer.")
        .number(&S::strength, "strength", "Strength", Unit::None, {0.0F, 1000.0F, 2.0F},
                "How much light is added at the very edge.")
        .number(&S::power, "power", "Falloff", Unit::None, {0.1F, 64.0F, 10.0F},
                "How closely the light keeps to the edge.")
        .direction(&S::towards, "towards", "Towards", "The direction the light comes from.")
        .number(&S::around, "around", "Around", Unit::Percent, {0.0F, 1.0F, 1.0F},
                "How far around things it reaches: 100 % is all the way round.")
        .colour(&S::colour, "colour", "Colour", "The colour of the light.")
        .toggle(&S::edges, "edges", "Only at edges",
                "Keeps the light to where things end in front of something farther: water and "
                "ground that run into the distance stay dark.")
        .number(&S::width, "width", "Width", Unit::Pixel, {1.0F, 512.0F, 64.0F},
                "How far from the edge the light reaches.")
        .onlyWhen("edges=on")
        .suited([](Settings& s, const Surroundings& around) {
            s.set("edges", true);
            s.set("width",
                  std::clamp(0.015F * static_cast<float>(around.passes.height), 2.0F, 64.0F));
            if (const float light = lightIn(around); light > 0.0F)
                s.set("strength", roundDigits(light));
        })
        .preset("Moonlit edge", {{"towards", V3f(0.3F, 0.6F, -0.7F)},
                                 {"around", 0.2F},
                                 {"colour", LinearRgb{0.55F, 0.7F, 1.0F}},
                                 {"strength", 0.3F}})
        .reads([](const S& s) {
            std::vector<PassNeed> needs{
                needed({PassKind::Normal, {}}, "where things turn away"),
                needed({PassKind::Position, {}}, "where the viewer sees them from")};
            if (s.edges) {
                needs.push_back(needed({PassKind::Depth, {}}, "where things end"));
                needs.push_back(wanted(PassKind::Objects, "where one thing ends before another"));
            }
            return needs;
        })
        .summary([](const S& s) {
            return fmt::format("{:.2g} · {}{}", s.strength,
                               s.around >= 1.0F ? std::string("all round")
                                                : formatNumber(s.around, Unit::Percent) + " round",
                               s.edges ? " · at edges" : "");
        })
        .handle(HandleKind::Direction, "towards", "rim", [](const S& s) { return s.around < 1.0F; })
        .point([](const S& s, const WorkingFrame& frame) -> PointFunction {
            const Camera camera = frame.context().camera();
            const V3f along = axisOf(camera, 2).normalized();
            const bool parallel = camera.orthographic();
            Image ends;
            if (s.edges)
                ends = nearSilhouettes(frame.pass(PassKind::Depth),
                                       s.width * frame.context().pixelScale(),
                                       frame.passIfThere({PassKind::Objects, {}}));
            return [s, ends = std::move(ends), normals = worldNormals(frame),
                    position = frame.pass(PassKind::Position), eye = camera.position(), along,
                    parallel, towards = s.towards.normalized()](const PointRow& p) {
                for (int i = 0; i < p.count; ++i) {
                    const int x = p.x + i;
                    const V3f n(normals(x, p.y, 0), normals(x, p.y, 1), normals(x, p.y, 2));
                    if (!(n.length2() > 0.01F))
                        continue;
                    const V3f at(position(x, p.y, 0), position(x, p.y, 1), position(x, p.y, 2));
                    const V3f viewer = parallel ? along : (eye - at).normalized();
                    const float turned =
                        ends.empty() ? 1.0F - std::abs(n.dot(viewer)) : ends(x, p.y, 0);
                    const float edge = std::pow(std::clamp(turned, 0.0F, 1.0F), s.power);
                    const float side = std::clamp(
                        2.0F * (n.dot(towards) - kJustThere + 2.0F * s.around) + 0.5F, 0.0F, 1.0F);
                    const float light = s.strength * edge * side * (p.a == nullptr ? 1.0F : p.a[i]);
                    if (!std::isfinite(light))
                        continue;
                    p.r[i] += light * s.colour.r;
                    p.g[i] += light * s.colour.g;
                    p.b[i] += light * s.colour.b;
                }
            };
        })
        .build();
}

}  // namespace noctis
