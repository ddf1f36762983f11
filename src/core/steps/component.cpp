#include "core/steps/component.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

PassName nameIn(const ComponentSettings& s) {
    return passNamed(s.pass).value_or(PassName{PassKind::Colour, s.pass});
}

float mixed(ComponentMode mode, float picture, float light) noexcept {
    switch (mode) {
    case ComponentMode::Add:
        return picture + light;
    case ComponentMode::Screen:
        // Light beyond white stays as it is.
        return picture + light * std::clamp(1.0F - picture, 0.0F, 1.0F);
    case ComponentMode::Subtract:
        return std::max(picture - light, std::min(picture, 0.0F));
    }
    return picture;
}

}  // namespace

StepType componentStep() {
    using S = ComponentSettings;
    return StepBuilder<S>("component", "Component")
        .version(1)
        .phase(Phase::Light)
        .help("Adds or takes away one part of the light, from the pass that holds it.")
        .text(&S::pass, "pass", "Pass", TextUse::Passes, "The pass with the light.")
        .number(&S::strength, "strength", "Strength", Unit::Percent, {0.0F, 100.0F, 2.0F},
                "How much of the pass.")
        .choice(&S::mode, "mode", "Mode",
                {{"add", "Add"}, {"screen", "Screen"}, {"subtract", "Subtract"}},
                "Add is how light adds up; Screen spares what is already bright.")
        .colour(&S::colour, "colour", "Colour", "Tints the light of the pass.")
        .preset("Half as much", {{"strength", 0.5F}, {"mode", std::string("subtract")}})
        .reads([](const S& s) {
            return std::vector<PassNeed>{needed(nameIn(s), "the light that is added")};
        })
        .summary([](const S& s) {
            return fmt::format("{} · {}{}", s.pass, s.mode == ComponentMode::Subtract ? "-" : "+",
                               formatNumber(s.strength, Unit::Percent));
        })
        .point([](const S& s, const WorkingFrame& frame) -> PointFunction {
            return [s, light = frame.pass(nameIn(s))](const PointRow& p) {
                const std::array<float*, 3> to{p.r, p.g, p.b};
                const std::array<float, 3> by{s.strength * s.colour.r, s.strength * s.colour.g,
                                              s.strength * s.colour.b};
                for (int c = 0; c < 3; ++c) {
                    const float* from = light.row(std::min(c, light.channels() - 1), p.y) + p.x;
                    float* row = to[static_cast<std::size_t>(c)];
                    for (int i = 0; i < p.count; ++i) {
                        const float part = from[i] * by[static_cast<std::size_t>(c)];
                        if (std::isfinite(part))
                            row[i] = mixed(s.mode, row[i], part);
                    }
                }
            };
        })
        .build();
}

}  // namespace noctis
