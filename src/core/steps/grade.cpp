#include "core/steps/grade.h"

#include "core/image/tiles.h"
#include "core/steps/grade_row.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <Imath/ImathMatrix.h>
#include <fmt/format.h>

namespace noctis {

namespace {

using Imath::M33d;
using Imath::V3d;

constexpr float kNeutralKelvin = 6500.0F;
constexpr double kTintReach = 0.02;  ///< in v of CIE 1960, at full tint

/// Matrices act on row vectors, as Imath's do.
const M33d kXyzFromRgb(0.4123908, 0.2126390, 0.0193308, 0.3575843, 0.7151687, 0.1191948, 0.1804808,
                       0.0721923, 0.9505322);
const M33d kBradford(0.8951, -0.7502, 0.0389, 0.2664, 1.7135, -0.0685, -0.1614, 0.0367, 1.0296);

/// The white of a black body, as XYZ with Y = 1.
V3d whiteOf(double kelvin, double tint) {
    const double t = std::clamp(kelvin, 1667.0, 25000.0);
    const double x =
        t < 4000.0
            ? -0.2661239e9 / (t * t * t) - 0.2343589e6 / (t * t) + 0.8776956e3 / t + 0.179910
            : -3.0258469e9 / (t * t * t) + 2.1070379e6 / (t * t) + 0.2226347e3 / t + 0.240390;
    double y = 0.0;
    if (t < 2222.0)
        y = -1.1063814 * x * x * x - 1.34811020 * x * x + 2.18555832 * x - 0.20219683;
    else if (t < 4000.0)
        y = -0.9549476 * x * x * x - 1.37418593 * x * x + 2.09137015 * x - 0.16748867;
    else
        y = 3.0817580 * x * x * x - 5.87338670 * x * x + 3.75112997 * x - 0.37001483;
    const double scale = -2.0 * x + 12.0 * y + 3.0;
    const double u = 4.0 * x / scale;
    // A light that is greener than the body makes the picture more magenta.
    const double v = 6.0 * y / scale + kTintReach * tint;
    const double back = 2.0 * u - 8.0 * v + 4.0;
    const double shiftedX = 3.0 * u / back;
    const double shiftedY = 2.0 * v / back;
    return {shiftedX / shiftedY, 1.0, (1.0 - shiftedX - shiftedY) / shiftedY};
}

M33d balanceOf(const GradeSettings& s) {
    const V3d from =
        whiteOf(static_cast<double>(s.temperature), static_cast<double>(s.tint)) * kBradford;
    const V3d to = whiteOf(static_cast<double>(kNeutralKelvin), 0.0) * kBradford;
    M33d scale;
    for (int i = 0; i < 3; ++i)
        scale[i][i] = to[i] / from[i];
    return kXyzFromRgb * kBradford * scale * kBradford.inverse() * kXyzFromRgb.inverse();
}

GradeRow gradeRowOf(const GradeSettings& s) {
    GradeRow row{};
    row.gain = std::exp2(s.exposure);
    row.balances = s.temperature != kNeutralKelvin || s.tint != 0.0F;
    if (row.balances) {
        const M33d balance = balanceOf(s);
        for (int i = 0; i < 3; ++i)
            for (int j = 0; j < 3; ++j)
                row.balance[i][j] = static_cast<float>(balance[j][i]);
    }
    row.ranges = s.black != 0.0F || s.white != 1.0F;
    row.black = s.black;
    row.perRange = 1.0F / std::max(s.white - s.black, 1e-4F);
    row.power = 1.0F / s.gamma;
    row.contrast = s.contrast;
    row.pivot = s.pivot;
    row.saturation = s.saturation;
    return row;
}

}  // namespace

LinearRgb graded(const LinearRgb& colour, const GradeSettings& settings) noexcept {
    LinearRgb out = colour;
    gradeRow(gradeRowOf(settings), nullptr, &out.r, &out.g, &out.b, 1);
    return out;
}

void gradeEvenly(Image& picture, const GradeSettings& settings, const RunContext& run) {
    if (settings == GradeSettings())
        return;
    const GradeRow row = gradeRowOf(settings);
    const std::array<float*, 3> to{picture.editPlane(0), picture.editPlane(1),
                                   picture.editPlane(2)};
    forEachBand(picture.height(), kBandHeight, run, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y) {
            const std::ptrdiff_t at = picture.rowStride() * y;
            gradeRow(row, nullptr, to[0] + at, to[1] + at, to[2] + at, picture.width());
        }
    });
}

StepType gradeStep() {
    using S = GradeSettings;
    return StepBuilder<S>("grade", "Grade")
        .version(1)
        .phase(Phase::Finish)
        .help("Brightness, white balance, tones and saturation of the whole picture or a part.")
        .number(&S::exposure, "exposure", "Exposure", Unit::Stop, {-20.0F, 20.0F, 4.0F},
                "Brightens or darkens everything evenly.")
        .number(&S::temperature, "temperature", "Temperature", Unit::Kelvin,
                {1667.0F, 25000.0F, 12000.0F},
                "The colour temperature that counts as neutral: more makes the picture warmer.")
        .number(&S::tint, "tint", "Tint", Unit::Percent, {-1.0F, 1.0F, 1.0F},
                "Shifts the picture towards magenta, or below 0 towards green.")
        .number(&S::black, "black", "Black point", Unit::None, {-10.0F, 10.0F, 0.5F},
                "What becomes black: more deepens the shadows.")
        .number(&S::white, "white", "White point", Unit::None, {0.001F, 1000.0F, 4.0F},
                "What becomes white: less brightens the highlights.")
        .number(&S::gamma, "gamma", "Gamma", Unit::None, {0.1F, 10.0F, 3.0F},
                "Above 1 brightens the tones between black and white, below 1 darkens them.")
        .number(&S::contrast, "contrast", "Contrast", Unit::None, {0.0F, 10.0F, 3.0F},
                "Above 1 moves tones away from the pivot, below 1 towards it.")
        .number(&S::pivot, "pivot", "Pivot", Unit::None, {0.001F, 100.0F, 1.0F},
                "The brightness that contrast leaves as it is.")
        .number(&S::saturation, "saturation", "Saturation", Unit::Percent, {0.0F, 10.0F, 2.0F},
                "How colourful the picture is: 0 leaves grey.")
        .preset("Warm evening", {{"temperature", 8200.0F}, {"exposure", 0.2F}})
        .preset("Bleached", {{"saturation", 0.35F}, {"contrast", 1.35F}})
        .preset("Day for night",
                {{"exposure", -1.6F}, {"temperature", 4300.0F}, {"saturation", 0.6F}})
        .summary([](const S& s) {
            std::string text = formatNumber(s.exposure, Unit::Stop);
            if (s.temperature != kNeutralKelvin || s.tint != 0.0F)
                text += " · " + formatNumber(s.temperature, Unit::Kelvin);
            if (s.contrast != 1.0F)
                text += fmt::format(" · contrast {:.2g}", s.contrast);
            if (s.saturation != 1.0F)
                text += " · " + formatNumber(s.saturation, Unit::Percent) + " colour";
            return text;
        })
        .point([](const S& s, const WorkingFrame&) -> PointFunction {
            return [row = gradeRowOf(s)](const PointRow& p) {
                gradeRow(row, p.a, p.r, p.g, p.b, p.count);
            };
        })
        .build();
}

}  // namespace noctis
