#include "core/steps/relight.h"

#include "core/image/angle.h"
#include "core/steps/light_response.h"
#include "core/steps/lit_surface.h"
#include "core/steps/relight_row.h"
#include "core/steps/screen_shadow.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

namespace {

/// Where the picture's own colour has to stand for the surface's: how bright a surface is taken to be.
constexpr float kGuessedAlbedo = 0.35F;
constexpr float kUsualMirror = 0.04F;
constexpr float kUsualRoughness = 0.6F;

SceneLight withSize(const RelightSettings& s) {
    SceneLight light = ownLight(s);
    light.size = s.size;
    return light;
}

/// The colour of a surface, of its lit colour: its tint, at an even brightness.
LinearRgb guessedAlbedo(float r, float g, float b) noexcept {
    const float luminance = 0.2126F * r + 0.7152F * g + 0.0722F * b;
    if (!(luminance > 1e-6F))
        return {kGuessedAlbedo, kGuessedAlbedo, kGuessedAlbedo};
    const float scale = kGuessedAlbedo / luminance;
    const auto channel = [&](float v) { return std::clamp(v * scale, 0.0F, 0.9F); };
    return {channel(r), channel(g), channel(b)};
}

/// Everything that is read at the pixel.
class Relit {
public:
    Relit(const RelightSettings& s, const WorkingFrame& frame, const RunContext& run)
        : m_light(lightNamed(frame, s.light, withSize(s))), m_response(m_light, s.highlight),
          m_position(frame.pass(PassKind::Position)), m_normal(worldNormals(frame)),
          m_albedo(frame.passIfThere({PassKind::DiffuseColour, {}})),
          m_mirror(frame.passIfThere({PassKind::SpecularColour, {}})),
          m_roughness(frame.passIfThere({PassKind::Roughness, {}})),
          m_camera(frame.context().camera()) {
        if (s.mode == RelightMode::Replace && !s.replaces.empty())
            m_replaced = frame.pass({PassKind::Light, s.replaces});
        if (s.shadow && m_light.kind != SceneLightKind::Dome)
            m_open = screenShadow({m_camera, frame.pass(PassKind::Depth), m_normal,
                                   frame.passIfThere({PassKind::BehindDepth, {}})},
                                  m_light, {s.length, s.thickness, s.softness}, run);
        else if (m_light.kind == SceneLightKind::Dome && s.shadow)
            m_open = frame.passIfThere({PassKind::Occlusion, {}});
        m_eye = m_camera.position();
        m_along = axisOf(m_camera, 2).normalized();
        m_row = rowOf(s.highlight);
    }

    void operator()(const PointRow& p) const noexcept {
        const Row normal(m_normal, p);
        const Row position(m_position, p);
        const Row albedo(m_albedo, p);
        const Row mirror(m_mirror, p);
        const Row roughness(m_roughness, p);
        const Row open(m_open, p);
        const Row replaced(m_replaced, p);
        for (int i = 0; i < p.count && !m_replaced.empty(); ++i)
            takeAway(p, i, replaced.colour(i));
        // Lights without size in whole vectors; the others, and what is left over, one by one.
        int done = 0;
        if (m_light.kind != SceneLightKind::Area && m_light.kind != SceneLightKind::Dome)
            done = relightRow(m_row,
                              {{position.planes[0], position.planes[1], position.planes[2]},
                               {normal.planes[0], normal.planes[1], normal.planes[2]},
                               {albedo.planes[0], albedo.planes[1], albedo.planes[2]},
                               {mirror.planes[0], mirror.planes[1], mirror.planes[2]},
                               roughness.planes[0],
                               open.planes[0],
                               p.a},
                              p.r, p.g, p.b, p.count);
        for (int i = done; i < p.count; ++i) {
            LitPoint point;
            point.normal = normal.vector(i);
            if (point.normal.length2() < 0.01F)
                continue;
            point.position = position.vector(i);
            point.towardsViewer =
                m_camera.orthographic() ? m_along : (m_eye - point.position).normalized();
            point.albedo =
                m_albedo.empty() ? guessedAlbedo(p.r[i], p.g[i], p.b[i]) : albedo.colour(i);
            point.mirror = m_mirror.empty() ? usualMirror(point) : mirror.colour(i);
            point.roughness = m_roughness.empty() ? kUsualRoughness : roughness.planes[0][i];
            LinearRgb light = m_response(point);
            // Under associated alpha a covered part of the pixel is lit.
            const float part =
                (m_open.empty() ? 1.0F : open.planes[0][i]) * (p.a == nullptr ? 1.0F : p.a[i]);
            const auto add = [&](float& to, float what) {
                if (std::isfinite(what))
                    to += what * part;
            };
            add(p.r[i], light.r);
            add(p.g[i], light.g);
            add(p.b[i], light.b);
        }
    }

private:
    /// Three channels of an image along a run of pixels; a grey one is its own red, green and blue.
    struct Row {
        std::array<const float*, 3> planes{};
        Row(const Image& image, const PointRow& p) noexcept {
            for (int c = 0; c < 3 && !image.empty(); ++c)
                planes[static_cast<std::size_t>(c)] =
                    image.row(std::min(c, image.channels() - 1), p.y) + p.x;
        }
        [[nodiscard]] V3f vector(int i) const noexcept {
            return {planes[0][i], planes[1][i], planes[2][i]};
        }
        [[nodiscard]] LinearRgb colour(int i) const noexcept {
            return {planes[0][i], planes[1][i], planes[2][i]};
        }
    };
    [[nodiscard]] RelightRow rowOf(float highlight) const noexcept {
        const V3f axis = m_light.towards.normalized();
        const bool far = m_light.kind == SceneLightKind::Sun;
        const V3f place = far ? axis : m_light.position;
        const bool parallel = m_camera.orthographic();
        const V3f eye = parallel ? m_along : m_eye;
        return {.far = far,
                .spot = m_light.kind == SceneLightKind::Spot,
                .place = {place.x, place.y, place.z},
                .axis = {axis.x, axis.y, axis.z},
                .inner = m_light.inner * kRadians,
                .outer = std::max(m_light.outer, m_light.inner + 0.01F) * kRadians,
                .colour = {m_light.colour.r, m_light.colour.g, m_light.colour.b},
                .strength = m_light.strength,
                .highlight = highlight,
                .parallel = parallel,
                .eye = {eye.x, eye.y, eye.z},
                .guessed = kGuessedAlbedo,
                .mirror = kUsualMirror,
                .roughness = kUsualRoughness};
    }
    static LinearRgb usualMirror(const LitPoint& point) noexcept {
        const float view = std::clamp(point.normal.dot(point.towardsViewer), 1e-3F, 1.0F);
        const float x = 1.0F - view;
        const float f = kUsualMirror + (1.0F - kUsualMirror) * x * x * x * x * x;
        return {f, f, f};
    }
    static void takeAway(const PointRow& p, int i, const LinearRgb& old) noexcept {
        const auto take = [](float& from, float what) {
            if (std::isfinite(what))
                from = std::max(from - what, std::min(from, 0.0F));
        };
        take(p.r[i], old.r);
        take(p.g[i], old.g);
        take(p.b[i], old.b);
    }

    SceneLight m_light;
    LightResponse m_response;
    Image m_position;
    Image m_normal;
    Image m_albedo;
    Image m_mirror;
    Image m_roughness;
    Image m_replaced;
    Image m_open;
    RelightRow m_row{};
    Camera m_camera;
    V3f m_eye;
    V3f m_along;
};

/// Of a light's strength.
const char* unitOf(SceneLightKind kind) {
    switch (kind) {
    case SceneLightKind::Sun:
        return "W/m²";
    case SceneLightKind::Point:
    case SceneLightKind::Spot:
        return "W/sr";
    default:
        return "W/m²sr";
    }
}

}  // namespace

StepType relightStep() {
    using S = RelightSettings;
    return StepBuilder<S>("relight", "Relight")
        .version(1)
        .phase(Phase::Light)
        .help("Lights the picture with a new lamp, added or in place of an old one.")
        .text(&S::light, "light", "Light", TextUse::Lights,
              "A light of the scene, by name, with all its settings; leave empty to set one here.")
        .unsetIs("set here")
        .choice(&S::kind, "kind", "Kind",
                {{"sun", "Sun"},
                 {"point", "Lamp"},
                 {"spot", "Spot"},
                 {"area", "Area"},
                 {"dome", "Dome"}},
                "What kind of light it is.")
        .onlyWhen("light=")
        .direction(&S::towards, "towards", "Towards",
                   "From the scene to the light; a spot or an area shines the opposite way. Click "
                   "in the picture to turn a sun so that its highlight falls there; Shift-click "
                   "does so for any light.")
        .onlyWhen("light=&kind=sun|spot|area")
        .position(&S::position, "position", "Position",
                  "Where the light is. Click in the picture to put it near the surface there; "
                  "Shift-click to place it so that its highlight falls there.")
        .onlyWhen("light=&kind=point|spot|area")
        .number(&S::inner, "inner", "Inner", Unit::Degree, {0.0F, 90.0F, 60.0F},
                "Within this angle of its axis the spot shines at full strength.")
        .onlyWhen("light=&kind=spot")
        .number(&S::outer, "outer", "Outer", Unit::Degree, {0.0F, 90.0F, 60.0F},
                "Beyond this angle the spot gives no light.")
        .onlyWhen("light=&kind=spot")
        .number(&S::size, "size", "Size", Unit::Metre, {0.001F, 1e4F, 5.0F},
                "The side of the square that shines.")
        .onlyWhen("light=&kind=area")
        .colour(&S::colour, "colour", "Colour", "The light's colour.")
        .onlyWhen("light=")
        .number(
            &S::strength, "strength", "Strength", Unit::None, {0.0F, 1e6F, 10.0F},
            "A sun's irradiance (W/m²), a lamp's or spot's radiant intensity (W/sr), an area's or "
            "dome's radiance (W/m²sr), as in the scene.")
        .onlyWhen("light=")
        .number(&S::highlight, "highlight", "Highlight", Unit::Percent, {0.0F, 4.0F, 2.0F},
                "How much of the light's highlight is added.")
        .choice(&S::mode, "mode", "Mode", {{"add", "Added"}, {"replace", "In place of"}},
                "Whether it is added to the light or replaces a group's.")
        .text(&S::replaces, "replaces", "Replaces", TextUse::LightGroups,
              "The group whose light is removed.")
        .onlyWhen("mode=replace")
        .toggle(&S::shadow, "shadow", "Shadow", "Lets what the picture shows block this light.")
        .number(&S::length, "length", "Reach", Unit::Metre, {0.0F, 1e5F, 5.0F},
                "How far a thing casts its shadow; 0 has no limit.")
        .unsetIs("endless")
        .onlyWhen("shadow=on")
        .number(&S::thickness, "thickness", "Thickness", Unit::Metre, {0.0F, 1e4F, 2.0F},
                "How thick things are assumed to be.")
        .onlyWhen("shadow=on")
        .number(&S::softness, "softness", "Softness", Unit::Degree, {0.0F, 60.0F, 15.0F},
                "Half the light's angular width, for its shadow.")
        .onlyWhen("shadow=on")
        .suited([](Settings& s, const Surroundings& around) {
            // As bright, on a surface that faces it, as what is lit already.
            if (const float light = lightIn(around); light > 0.0F)
                s.set("strength", roundDigits(light * kPi / kGuessedAlbedo));
            s.set("towards", besideViewer(around));
            if (const float metres = distanceIn(around); metres > 0.0F)
                s.set("position", pointIn(around) + besideViewer(around) * (0.15F * metres));
        })
        .preset("Second moon", {{"kind", std::string("sun")},
                                {"towards", V3f(-0.75F, 0.45F, 0.35F)},
                                {"colour", LinearRgb{0.55F, 0.7F, 1.0F}},
                                {"strength", 0.6F},
                                {"shadow", true}})
        .preset("Warm lamp", {{"kind", std::string("point")},
                              {"colour", LinearRgb{1.0F, 0.55F, 0.2F}},
                              {"strength", 6.0F}})
        .reads([](const S& s) {
            std::vector<PassNeed> needs{
                needed(PassName{PassKind::Position, {}}, "where each surface is"),
                needed(PassName{PassKind::Normal, {}}, "which way it faces"),
                wanted(PassKind::DiffuseColour, "its own colour, guessed where there is none"),
                wanted(PassKind::SpecularColour, "how much it mirrors"),
                wanted(PassKind::Roughness, "how wide its highlights are")};
            if (s.mode == RelightMode::Replace && !s.replaces.empty())
                needs.push_back(needed({PassKind::Light, s.replaces}, "the light it replaces"));
            if (s.shadow)
                needs.push_back(needed({PassKind::Depth, {}}, "what stands in its way"));
            return needs;
        })
        .summary([](const S& s) {
            const std::string what =
                s.light.empty() ? fmt::format("{} · {} {}", lightKindId(s.kind),
                                              formatNumber(s.strength, Unit::None), unitOf(s.kind))
                                : s.light;
            return fmt::format("{}{}{}", what, s.shadow ? " · with shadow" : "",
                               s.mode == RelightMode::Replace ? " · for " + s.replaces : "");
        })
        .handle(
            HandleKind::Direction, "towards", "light",
            [](const S& s) {
                return hasOwn(s, {SceneLightKind::Sun, SceneLightKind::Spot, SceneLightKind::Area});
            })
        .highlights()
        .handle(HandleKind::Point, "position", "light",
                [](const S& s) {
                    return hasOwn(
                        s, {SceneLightKind::Point, SceneLightKind::Spot, SceneLightKind::Area});
                })
        .offSurface()
        .highlights()
        .pointPrepared([](const S& s, const WorkingFrame& frame,
                          const RunContext& run) -> PointFunction { return Relit(s, frame, run); })
        .build();
}

}  // namespace noctis
