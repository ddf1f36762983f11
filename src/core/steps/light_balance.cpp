#include "core/steps/light_balance.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

/// Half floats are rounded: a difference between a picture and its light within this part of the light is
/// rounding.
constexpr float kRounding = 0x1p-10F;

/// The light of a group, and how much of it is added.
struct Change {
    Image light;
    LinearRgb by;

    [[nodiscard]] float byOf(int channel) const noexcept {
        return channel == 0 ? by.r : channel == 1 ? by.g : by.b;
    }
    [[nodiscard]] const float* from(int channel, const PointRow& p) const noexcept {
        return light.row(std::min(channel, light.channels() - 1), p.y) + p.x;
    }
};

std::vector<Change> changesOf(const LightBalanceSettings& s, const WorkingFrame& frame) {
    std::vector<Change> changes;
    for (const Pass& pass : frame.context().full().passes) {
        const auto name = passNamed(pass.name);
        if (pass.kind != PassKind::Light || !name)
            continue;
        const LinearRgb factor = lightFactor(name->subject, s);
        changes.push_back({frame.pass(*name), {factor.r - 1.0F, factor.g - 1.0F, factor.b - 1.0F}});
    }
    return changes;
}

/// Invalid light adds nothing.
void addRow(float* to, const float* light, float by, int count) noexcept {
    if (by == 0.0F)
        return;
    for (int i = 0; i < count; ++i) {
        const float change = light[i] * by;
        to[i] += change == change ? change : 0.0F;
    }
}

/// Where almost nothing is left after light was taken away, only the light of the groups counts: otherwise the
/// disc of a moon that is off would be rimmed with sparks.
void dropRounding(float* to, const std::vector<Change>& changes, int channel,
                  const PointRow& p) noexcept {
    for (int i = 0; i < p.count; ++i) {
        float taken = 0.0F;
        float known = 0.0F;
        for (const Change& change : changes) {
            const float light = change.from(channel, p)[i];
            const float by = change.byOf(channel);
            if (light != light)
                continue;
            taken += std::max(-by, 0.0F) * light;
            known += (1.0F + by) * light;
        }
        const float rounded = kRounding * taken;
        const float left = std::abs(to[i]);
        if (left < 2.0F * rounded)
            to[i] = known + (to[i] - known) * std::clamp(left / rounded - 1.0F, 0.0F, 1.0F);
    }
}

Binding<LightGroupSettings> groupBinding() {
    using G = LightGroupSettings;
    SettingsBuilder<G> b;
    b.number(&G::strength, "strength", "Strength", Unit::Percent, {0.0F, 1000.0F, 4.0F},
             "How bright the group's light is; 100 % is as rendered.")
        .colour(&G::colour, "colour", "Colour", "Multiplies the colour of the group's light.")
        .toggle(&G::on, "on", "On", "Switches the lights of the group on or off.")
        .toggle(&G::alone, "alone", "Alone", "Shows this group's light without the others.");
    return b.binding();
}

}  // namespace

LinearRgb lightFactor(const std::string& group, const LightBalanceSettings& s) noexcept {
    const bool anyAlone = std::any_of(s.groups.begin(), s.groups.end(),
                                      [](const LightGroupSettings& g) { return g.alone; });
    for (const LightGroupSettings& g : s.groups)
        if (g.name == group) {
            if (!g.on || (anyAlone && !g.alone))
                return {};
            return {g.strength * g.colour.r, g.strength * g.colour.g, g.strength * g.colour.b};
        }
    return anyAlone ? LinearRgb{} : LinearRgb{1.0F, 1.0F, 1.0F};
}

StepType lightBalanceStep() {
    using S = LightBalanceSettings;
    return StepBuilder<S>("light_balance", "Light balance")
        .version(1)
        .phase(Phase::Light)
        .help("Changes the strength and colour of each light group after rendering.")
        .records(&S::groups, &LightGroupSettings::name, groupBinding(), "groups", "Groups",
                 TextUse::LightGroups, "The groups of lights, each with its strength and colour.")
        .preset("As rendered", {{"groups", RecordList{}}})
        .reads([](const S&) {
            return std::vector<PassNeed>{
                needed({PassKind::Light, kEach}, "the light of each group")};
        })
        .summary([](const S& s) {
            std::vector<std::string> parts;
            for (const LightGroupSettings& g : s.groups)
                if (!g.on)
                    parts.push_back(g.name + " off");
                else if (g.alone)
                    parts.push_back(g.name + " alone");
                else if (g.strength != 1.0F)
                    parts.push_back(g.name + " " + formatNumber(g.strength, Unit::Percent));
                else if (!(g.colour == LinearRgb{1.0F, 1.0F, 1.0F}))
                    parts.push_back(g.name + " coloured");
            std::string text;
            for (const std::string& part : parts)
                text += (text.empty() ? "" : ", ") + part;
            return text.empty() ? std::string("as rendered") : text;
        })
        .point([](const S& s, const WorkingFrame& frame) -> PointFunction {
            return [changes = changesOf(s, frame)](const PointRow& p) {
                float* const planes[3] = {p.r, p.g, p.b};
                for (int c = 0; c < 3; ++c) {
                    bool takes = false;
                    for (const Change& change : changes) {
                        addRow(planes[c], change.from(c, p), change.byOf(c), p.count);
                        takes = takes || change.byOf(c) < 0.0F;
                    }
                    if (takes)
                        dropRounding(planes[c], changes, c, p);
                }
            };
        })
        .build();
}

}  // namespace noctis
