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

constexpr int kBandHeight = 16;
/// Contrast has fallen to 5 % where the optical depth is 3.
constexpr float kVisibilityDepth = 3.0F;

/// New fog leaves a quarter of the farthest things.
constexpr float kVeiledDepth = 1.4F;

/// The numbers of one row, from its pixel x on.
class FogRows {
public:
    FogRows(const FogSettings& settings, const Camera& camera, int width, int height)
        : m_settings(settings), m_camera(camera), m_width(static_cast<float>(width)),
          m_height(static_cast<float>(height)) {}

    [[nodiscard]] FogRow at(int x, int y) const noexcept {
        FogRow row{};
        row.start = m_settings.start;
        row.density = m_settings.density;
        row.sky = m_settings.skyDistance > 0.0F ? m_settings.skyDistance : kNothingHit;
        row.r = m_settings.colour.r;
        row.g = m_settings.colour.g;
        row.b = m_settings.colour.b;
        if (!m_settings.byHeight)
            return row;
        // Towards pixel (x, y) the camera looks along (u t, v t, -1); up is that in the world.
        const float tangent = std::tan(0.5F * m_camera.yfovRadians);
        const float perPixel = 2.0F / m_height * tangent;
        const float fromMiddle = static_cast<float>(x) + 0.5F - 0.5F * m_width;
        const float v = (m_height - 2.0F * (static_cast<float>(y) + 0.5F)) / m_height * tangent;
        const M44f& m = m_camera.cameraToWorld;
        row.inverseScale = 1.0F / std::max(m_settings.scaleHeight, 1e-3F);
        row.up = fromMiddle * perPixel * m[0][1] + v * m[1][1] - m[2][1];
        row.upStep = perPixel * m[0][1];
        row.length2 = 1.0F + v * v;
        row.side = fromMiddle;
        row.sideStep = perPixel;
        row.density *= std::exp(-(m_camera.position().y - m_settings.level) * row.inverseScale);
        return row;
    }

private:
    FogSettings m_settings;
    Camera m_camera;
    float m_width;
    float m_height;
};

}  // namespace

float fogTransmittance(float distance, const FogSettings& s) noexcept {
    return std::exp(-s.density * std::max(0.0F, distance - s.start));
}

Image applyFog(const Image& colour, const Image& distance, const Camera& camera,
               const FogSettings& settings, const RunContext& run) {
    if (!colour.sameSize(distance) || colour.channels() < 3)
        throw Error(ErrorCode::ShapeMismatch,
                    "fog needs a colour picture and a distance of its size");
    if (settings.density == 0.0F)
        return colour;
    const FogRows rows(settings, camera, colour.width(), colour.height());
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
        .reads(PassKind::Distance, "how much air there is")
        .summary([](const S& s) {
            return fmt::format(
                "clear to {} · {}{}", formatNumber(s.start, Unit::Metre),
                s.density > 0.0F
                    ? "5 % left at " +
                          formatNumber(s.start + kVisibilityDepth / s.density, Unit::Metre)
                    : std::string("no air"),
                s.byHeight ? " · low" : "");
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
            const FogRows rows(s, frame.context().camera(), frame.width(), frame.height());
            return [rows, distance = frame.pass(PassKind::Distance)](const PointRow& p) {
                fogRow(rows.at(p.x, p.y), distance.row(0, p.y) + p.x, p.a, p.r, p.g, p.b, p.count);
            };
        })
        .build();
}

}  // namespace noctis
