#include "core/steps/fog.h"

#include "core/image/error.h"
#include "core/image/tiles.h"
#include "core/recipe/picture_air.h"
#include "core/steps/fog_row.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

/// Contrast has fallen to 5 % where the optical depth is 3.
constexpr float kVisibilityDepth = 3.0F;

/// New fog leaves a quarter of the farthest things.
constexpr float kVeiledDepth = 1.4F;

/// The numbers of one row, from its pixel x on.
class FogRows {
public:
    FogRows(const FogSettings& s, const Camera& camera, int width, int height, double seconds)
        : m_rays(camera, width, height) {
        m_row.start = s.start;
        m_row.density = s.density;
        m_row.sky = s.skyDistance > 0.0F ? s.skyDistance : kNothingHit;
        m_row.colour = s.colour;
        m_row.level = s.level;
        if (s.byHeight)
            m_row.inverseScale = 1.0F / std::max(s.scaleHeight, 1e-3F);
        if (s.bottom > -kNoHeight)
            m_row.bottom = s.bottom;
        if (s.top < kNoHeight) {
            m_row.top = s.top;
            m_row.softTop = s.softTop;
        }
        if (s.banks && s.bankContrast > 0.0F)
            m_row.banks = {1.0F / std::max(s.bankSize, 1e-3F), s.bankContrast,
                           s.drift * static_cast<float>(seconds)};
    }

    [[nodiscard]] FogRow at(int x, int y) const {
        FogRow row = m_row;
        row.rays = m_rays.row(x, y);
        return row;
    }

private:
    FrameRays m_rays;
    FogRow m_row;
};

}  // namespace

float fogTransmittance(float distance, const FogSettings& s) noexcept {
    return std::exp(-s.density * std::max(0.0F, distance - s.start));
}

Image applyFog(const Image& colour, const Image& distance, const Camera& camera,
               const FogSettings& settings, const RunContext& run, double seconds) {
    if (!colour.sameSize(distance) || colour.channels() < 3)
        throw Error(ErrorCode::ShapeMismatch,
                    "fog needs a colour picture and a distance of its size");
    if (settings.density == 0.0F)
        return colour;
    const FogRows rows(settings, camera, colour.width(), colour.height(), seconds);
    Image out = colour;
    float* planes[3] = {out.editPlane(0), out.editPlane(1), out.editPlane(2)};
    forEachBand(out.height(), kBandHeight, run, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y) {
            const std::ptrdiff_t at = out.rowStride() * y;
            fogRow(rows.at(0, y), distance.row(0, y), out.channels() > 3 ? out.row(3, y) : nullptr,
                   planes[0] + at, planes[1] + at, planes[2] + at, out.width());
        }
    });
    return out;
}

StepType fogStep() {
    using S = FogSettings;
    return StepBuilder<S>("fog", "Fog")
        .version(1)
        .phase(Phase::Air)
        .help("Air that dims what is far away and adds its own colour instead.")
        .number(&S::density, "density", "Visibility", Unit::Extinction, {0.0F, 10.0F, 0.5F},
                "How thick the air is, in 1/m; shown as the distance beyond the start where "
                "contrast falls to 5 %.")
        .number(&S::start, "start", "Start", Unit::Metre, {0.0F, 1e6F, 100.0F},
                "Distance from the camera where the fog begins.")
        .colour(&S::colour, "colour", "Colour", "What the far distance fades to.")
        .toggle(&S::byHeight, "by_height", "Thins with height",
                "Lets the fog lie on the ground and thin upwards.")
        .number(&S::level, "level", "Level", Unit::Metre, {-1e5F, 1e5F, 20.0F},
                "The world height where the fog is as thick as set.")
        .onlyWhen("by_height=on")
        .number(&S::scaleHeight, "scale_height", "Scale height", Unit::Metre, {0.01F, 1e5F, 50.0F},
                "The height over which the fog thins to about a third.")
        .onlyWhen("by_height=on")
        .number(&S::skyDistance, "sky", "Sky distance", Unit::Metre, {0.0F, 1e6F, 2000.0F},
                "How far away the sky counts as, so that moon and clouds can show through; 0 is "
                "endless.")
        .unsetIs("endless")
        .number(&S::bottom, "bottom", "Bottom", Unit::Metre, {-kNoHeight, kNoHeight, 20.0F},
                "The world height below which there is no fog.")
        .unsetIs("no limit", -kNoHeight)
        .number(
            &S::top, "top", "Top", Unit::Metre, {-kNoHeight, kNoHeight, 20.0F},
            "The world height above which there is no fog: a layer lies between bottom and top.")
        .unsetIs("no limit", kNoHeight)
        .number(&S::softTop, "soft_top", "Soft top", Unit::Metre, {0.0F, 1e5F, 10.0F},
                "The height below the top over which the layer thins out.")
        .toggle(&S::banks, "banks", "Banks",
                "Gathers the fog in banks that stand in the scene; on the whole it is as thick as "
                "before.")
        .number(&S::bankSize, "bank_size", "Bank size", Unit::Metre, {0.01F, 1e5F, 50.0F},
                "How large the banks are.")
        .onlyWhen("banks=on")
        .number(&S::bankContrast, "bank_contrast", "Contrast", Unit::Percent, {0.0F, 1.0F, 1.0F},
                "How much thicker the banks are than the gaps between them.")
        .onlyWhen("banks=on")
        .velocity(&S::drift, "drift", "Drift",
                  "Which way the banks move, and how fast, as frames go by.")
        .onlyWhen("banks=on")
        .readsTime([](const S& s) { return s.banks && s.drift != V3f(0.0F); })
        .suited([](Settings& s, const Surroundings& around) {
            const std::optional<PictureAir> air = pictureAir(around.passes);
            if (!air)
                return;
            s.set("start", air->front);
            s.set("density", kVeiledDepth / (air->back - air->front));
            if (air->colour)
                s.set("colour", *air->colour);
        })
        .preset(
            "Harbour haze",
            {{"density", 0.004F}, {"start", 6.0F}, {"colour", LinearRgb{0.035F, 0.052F, 0.080F}}})
        .preset(
            "Sea fog",
            {{"density", 0.05F}, {"start", 3.0F}, {"colour", LinearRgb{0.060F, 0.075F, 0.095F}}})
        .preset("Mist on the water", {{"density", 0.12F},
                                      {"start", 5.0F},
                                      {"colour", LinearRgb{0.075F, 0.095F, 0.120F}},
                                      {"by_height", true},
                                      {"level", 0.0F},
                                      {"scale_height", 0.7F}})
        .companion("Light this fog",
                   "Adds the light that this fog scatters: the halo of a lamp, or a sun's shafts.",
                   "airlight", [](Settings& light, const S& s) { light.set("density", s.density); })
        .preset("Layer of ground mist", {{"density", 0.15F},
                                         {"start", 2.0F},
                                         {"colour", LinearRgb{0.075F, 0.095F, 0.120F}},
                                         {"bottom", -1.0F},
                                         {"top", 0.8F},
                                         {"soft_top", 0.5F}})
        .preset("Drifting banks", {{"density", 0.02F},
                                   {"start", 3.0F},
                                   {"colour", LinearRgb{0.060F, 0.075F, 0.095F}},
                                   {"top", 6.0F},
                                   {"soft_top", 4.0F},
                                   {"banks", true},
                                   {"bank_size", 8.0F},
                                   {"bank_contrast", 1.0F},
                                   {"drift", V3f(0.5F, 0.0F, 0.0F)}})
        .reads(PassKind::Distance, "how much air there is")
        .summary([](const S& s) {
            return fmt::format(
                "clear to {} · {}{}{}{}", formatNumber(s.start, Unit::Metre),
                s.density > 0.0F
                    ? "5 % left at " +
                          formatNumber(s.start + kVisibilityDepth / s.density, Unit::Metre)
                    : std::string("no air"),
                s.byHeight ? " · low" : "",
                s.bottom > -kNoHeight || s.top < kNoHeight ? " · a layer" : "",
                s.banks ? " · in banks" : "");
        })
        .lane(DepthLane::Shape::Curve,
              [](const S& s, float metres) { return 1.0F - fogTransmittance(metres, s); })
        .handle(
            "start", "start", "start", [](const S& s) { return s.start; },
            [](const S&, float metres) { return metres; })
        .handle(
            "visibility", "5 % left", "density",
            [](const S& s) { return s.start + kVisibilityDepth / std::max(s.density, 1e-9F); },
            [](const S& s, float metres) {
                return kVisibilityDepth / std::max(metres - s.start, 0.01F);
            })
        .point([](const S& s, const WorkingFrame& frame) -> PointFunction {
            if (s.density == 0.0F)  // none of it hides even what is endlessly far
                return [](const PointRow&) {};
            const FogRows rows(s, frame.context().camera(), frame.width(), frame.height(),
                               frame.context().time().seconds);
            return [rows, distance = frame.pass(PassKind::Distance)](const PointRow& p) {
                fogRow(rows.at(p.x, p.y), distance.row(0, p.y) + p.x, p.a, p.r, p.g, p.b, p.count);
            };
        })
        .build();
}

}  // namespace noctis
