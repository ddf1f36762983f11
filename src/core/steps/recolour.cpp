#include "core/steps/recolour.h"

#include <algorithm>
#include <array>

#include <fmt/format.h>

namespace noctis {

namespace {

/// Darker surfaces show too little colour to divide by.
constexpr float kDarkest = 0.01F;

float lightOf(float r, float g, float b) noexcept {
    return 0.2126F * r + 0.7152F * g + 0.0722F * b;
}

PointFunction tinted(const RecolourSettings& s) {
    const float own = lightOf(s.colour.r, s.colour.g, s.colour.b);
    const float scale = s.brightness / std::max(own, 1e-6F);
    return [factor = std::array{s.colour.r * scale, s.colour.g * scale, s.colour.b * scale}](
               const PointRow& p) {
        for (int i = 0; i < p.count; ++i) {
            const float light = lightOf(p.r[i], p.g[i], p.b[i]);
            p.r[i] = light * factor[0];
            p.g[i] = light * factor[1];
            p.b[i] = light * factor[2];
        }
    };
}

PointFunction painted(const RecolourSettings& s, const Image& own) {
    return [s, own](const PointRow& p) {
        const std::array channels{p.r, p.g, p.b};
        const std::array colour{s.colour.r, s.colour.g, s.colour.b};
        for (std::size_t c = 0; c < 3; ++c) {
            const float* before = own.row(static_cast<int>(c), p.y) + p.x;
            for (int i = 0; i < p.count; ++i)
                channels[c][i] *= s.brightness * colour[c] / std::max(before[i], kDarkest);
        }
    };
}

}  // namespace

StepType recolourStep() {
    using S = RecolourSettings;
    return StepBuilder<S>("recolour", "Recolour")
        .version(1)
        .phase(Phase::Light)
        .help("Gives things another colour under the light that falls on them; limit it with a "
              "Where.")
        .colour(&S::colour, "colour", "Colour", "The new colour.")
        .choice(&S::as, "as", "As",
                {{"tint", "Tint: brightness stays"}, {"paint", "Paint: as bright as the colour"}},
                "Whether things keep their brightness or take the colour's; Paint needs the pass "
                "diffuse.colour.")
        .number(&S::brightness, "brightness", "Brightness", Unit::Percent, {0.0F, 100.0F, 3.0F},
                "Brightens or darkens what is recoloured.")
        .preset("Green paint", {{"colour", LinearRgb{0.05F, 0.25F, 0.08F}}})
        .preset("Red oxide", {{"colour", LinearRgb{0.28F, 0.06F, 0.04F}}})
        .preset("Grey card", {{"colour", LinearRgb{0.18F, 0.18F, 0.18F}}})
        .reads([](const S& s) {
            std::vector<PassNeed> needs;
            if (s.as == RecolourAs::Paint)
                needs.push_back(
                    needed(PassName{PassKind::DiffuseColour, {}}, "the colour to paint over"));
            return needs;
        })
        .summary([](const S& s) {
            return fmt::format("{} · {}", s.as == RecolourAs::Paint ? "paint" : "tint",
                               formatNumber(s.brightness, Unit::Percent));
        })
        .point([](const S& s, const WorkingFrame& frame) -> PointFunction {
            return s.as == RecolourAs::Paint ? painted(s, frame.pass(PassKind::DiffuseColour))
                                             : tinted(s);
        })
        .build();
}

}  // namespace noctis
