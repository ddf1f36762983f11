#include "core/steps/occlusion.h"

#include "core/steps/occlusion_row.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

OcclusionRow occlusionRowOf(const OcclusionStepSettings& s) {
    return {.strength = s.strength,
            .black = s.black,
            .perOpen = 1.0F / std::max(s.white - s.black, 1e-4F),
            .gamma = s.gamma,
            .tint = {s.tint.r, s.tint.g, s.tint.b},
            .perBright =
                s.reach == OcclusionReach::DarkOnly ? 1.0F / std::max(s.brightFrom, 1e-4F) : 0.0F};
}

/// Shades the matt indirect light, and leaves the rest of the picture as it is.
void shadeIndirect(const OcclusionRow& row, const Image& open, const Image& light,
                   const Image& colour, const PointRow& p) noexcept {
    constexpr int kPiece = 256;
    const std::array<float*, 3> to{p.r, p.g, p.b};
    for (int from = 0; from < p.count; from += kPiece) {
        const int count = std::min(kPiece, p.count - from);
        std::array<std::array<float, kPiece>, 3> indirect;
        for (int c = 0; c < 3; ++c)
            for (int i = 0; i < count; ++i) {
                const float v =
                    light.row(c, p.y)[p.x + from + i] * colour.row(c, p.y)[p.x + from + i];
                indirect[static_cast<std::size_t>(c)][static_cast<std::size_t>(i)] =
                    std::isfinite(v) ? v : 0.0F;
            }
        auto shaded = indirect;
        occlusionRow(row, open.row(0, p.y) + p.x + from, shaded[0].data(), shaded[1].data(),
                     shaded[2].data(), count);
        for (std::size_t c = 0; c < 3; ++c)
            for (std::size_t i = 0; i < static_cast<std::size_t>(count); ++i)
                to[c][from + static_cast<int>(i)] += shaded[c][i] - indirect[c][i];
    }
}

}  // namespace

float occlusionFactor(float open, float tint, const OcclusionStepSettings& s) noexcept {
    const float o = std::clamp((open - s.black) / std::max(s.white - s.black, 1e-4F), 0.0F, 1.0F);
    const float shaped = std::pow(o, s.gamma);
    return 1.0F - s.strength * (1.0F - shaped) * (1.0F - tint);
}

StepType occlusionStep() {
    using S = OcclusionStepSettings;
    return StepBuilder<S>("occlusion", "Occlusion")
        .version(1)
        .phase(Phase::Light)
        .help("Shade where surfaces are close to others: contact, corners, crevices.")
        .number(&S::strength, "strength", "Strength", Unit::Percent, {0.0F, 1.0F, 1.0F},
                "How dark closed places become.")
        .number(&S::black, "black", "Black point", Unit::Percent, {0.0F, 0.99F, 0.99F},
                "Openness that counts as fully closed; more spreads the darkest shade.")
        .number(&S::white, "white", "White point", Unit::Percent, {0.01F, 1.0F, 1.0F},
                "Openness that counts as fully open; less keeps shade to deep places.")
        .number(&S::gamma, "gamma", "Gamma", Unit::None, {0.1F, 8.0F, 4.0F},
                "Above 1 deepens the shade between the two points, below 1 lightens it.")
        .colour(&S::tint, "tint", "Tint", "The colour that shaded places keep.")
        .choice(&S::reach, "only", "Shades",
                {{"everywhere", "Everything"},
                 {"dark", "Dark places only"},
                 {"indirect", "Indirect light only"}},
                "What stays unshaded: brightly lit places, or all light straight from lamps and "
                "sky, as in true occlusion.")
        .number(&S::brightFrom, "bright_from", "Protect above", Unit::None, {0.001F, 1000.0F, 4.0F},
                "The brightness above which nothing is shaded.")
        .onlyWhen("only=dark")
        .preset("Gentle contact",
                {{"strength", 0.55F}, {"gamma", 1.2F}, {"tint", LinearRgb{0.10F, 0.08F, 0.07F}}})
        .preset("Deep corners", {{"strength", 0.95F}, {"white", 0.75F}, {"gamma", 1.6F}})
        .preset("Umber, in the dark only", {{"strength", 0.85F},
                                            {"gamma", 1.4F},
                                            {"tint", LinearRgb{0.22F, 0.13F, 0.07F}},
                                            {"only", std::string("dark")},
                                            {"bright_from", 0.4F}})
        .reads([](const S& s) {
            std::vector<PassNeed> needs{
                needed(PassName{PassKind::Occlusion, {}}, "how open each place is")};
            if (s.reach == OcclusionReach::Indirect)
                for (const PassKind kind : {PassKind::DiffuseIndirect, PassKind::DiffuseColour})
                    needs.push_back(needed(PassName{kind, {}}, "the indirect light"));
            return needs;
        })
        .summary([](const S& s) {
            return fmt::format("{}{} · {}", formatNumber(s.strength, Unit::Percent),
                               s.tint == LinearRgb{} ? "" : " · tinted",
                               s.reach == OcclusionReach::DarkOnly   ? "dark places"
                               : s.reach == OcclusionReach::Indirect ? "indirect light"
                                                                     : "everything");
        })
        .point([](const S& s, const WorkingFrame& frame) -> PointFunction {
            if (s.reach == OcclusionReach::Indirect)
                return [row = occlusionRowOf(s), open = frame.pass(PassKind::Occlusion),
                        light = frame.pass(PassKind::DiffuseIndirect),
                        colour = frame.pass(PassKind::DiffuseColour)](const PointRow& p) {
                    shadeIndirect(row, open, light, colour, p);
                };
            return [row = occlusionRowOf(s),
                    open = frame.pass(PassKind::Occlusion)](const PointRow& p) {
                occlusionRow(row, open.row(0, p.y) + p.x, p.r, p.g, p.b, p.count);
            };
        })
        .build();
}

}  // namespace noctis
