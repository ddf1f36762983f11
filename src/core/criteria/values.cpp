#include "core/criteria/criteria.h"
#include "core/criteria/masking.h"

#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr float kMost = 1e6F;

struct RangeSettings {
    Span span;
    float soft = 0.0F;
};

struct ColourSettings {
    LinearRgb colour{0.5F, 0.5F, 0.5F};
    float within = 0.1F;
    float soft = 0.0F;
};

struct PassSettings {
    std::string pass = "occlusion";
    Span span;
    float soft = 0.0F;
};

PassName nameIn(const PassSettings& s) {
    return passNamed(s.pass).value_or(PassName{PassKind::Colour, s.pass});
}

/// A band of the first channel of a pass, soft by coverage where a pixel has one value of a surface.
MaskFunction bandOfPass(const Span& span, float soft, const PassName& name,
                        const WorkingFrame& frame) {
    const Band band(span, soft);
    const PassKindInfo& info = passKindInfo(name.kind);
    const bool covers = info.data() && !info.matte() && name.kind != PassKind::Coverage;
    return [band, covers, pass = frame.pass(name), hits = Hits(frame),
            beyond = band.at(info.background)](const MaskRow& row) {
        band.fill(pass.row(0, row.y) + row.x, row.mask, row.count);
        if (covers)
            hits.cover(row, beyond);
    };
}

}  // namespace

CriterionType luminanceCriterion() {
    using S = RangeSettings;
    return CriterionBuilder<S>("luminance", "Luminance")
        .help("By the picture's brightness before the step.")
        .span(&S::span, "span", "Between", Unit::None, {0.0F, kMost, 4.0F},
              "The linear luminances to include; leave an end out to keep it open.")
        .number(&S::soft, "soft", "Soft", Unit::None, {0.0F, kMost, 1.0F},
                "The distance over which each end fades.")
        .summary(
            [](const S& s) { return spanText(s.span, Unit::None, "brighter than", "darker than"); })
        .preset("Lights", {{"span", Span{.from = 0.5F}}, {"soft", 0.4F}})
        .input([](const S& s) -> MaskFunction {
            return [band = Band(s.span, s.soft)](const MaskRow& row) {
                for (int i = 0; i < row.count; ++i)
                    row.mask[i] =
                        band.at(0.2126F * row.r[i] + 0.7152F * row.g[i] + 0.0722F * row.b[i]);
            };
        })
        .build();
}

CriterionType colourCriterion() {
    using S = ColourSettings;
    return CriterionBuilder<S>("colour", "Colour")
        .help("By how close the picture's colour is to one, before the step.")
        .colour(&S::colour, "colour", "Colour", "The colour to include.")
        .number(&S::within, "within", "Within", Unit::None, {0.0F, 100.0F, 1.0F},
                "How far a colour may differ from it, in linear values.")
        .number(&S::soft, "soft", "Soft", Unit::None, {0.0F, 100.0F, 1.0F},
                "The difference over which it fades.")
        .summary([](const S&) { return std::string("one colour"); })
        .preset("Soft", {{"within", 0.15F}, {"soft", 0.1F}})
        .input([](const S& s) -> MaskFunction {
            return [edge = Edge(s.within, s.soft), c = s.colour](const MaskRow& row) {
                for (int i = 0; i < row.count; ++i) {
                    const float r = row.r[i] - c.r;
                    const float g = row.g[i] - c.g;
                    const float b = row.b[i] - c.b;
                    const float mask = edge.under(std::sqrt(r * r + g * g + b * b));
                    row.mask[i] = mask >= 0.0F ? mask : 0.0F;
                }
            };
        })
        .build();
}

CriterionType occlusionCriterion() {
    using S = RangeSettings;
    return CriterionBuilder<S>("occlusion", "Occlusion")
        .help("By how open surfaces are.")
        .span(&S::span, "span", "Between", Unit::Percent, {0.0F, 1.0F, 1.0F},
              "How open surfaces must be; leave an end out to keep it open.")
        .number(&S::soft, "soft", "Soft", Unit::Percent, {0.0F, 1.0F, 1.0F},
                "The distance over which each end fades.")
        .reads(PassKind::Occlusion, "openness")
        .summary([](const S& s) {
            return spanText(s.span, Unit::Percent, "more open than", "less open than");
        })
        .preset("Corners", {{"span", Span{.to = 0.5F}}, {"soft", 0.3F}})
        .point([](const S& s, const WorkingFrame& frame) {
            return bandOfPass(s.span, s.soft, {PassKind::Occlusion, {}}, frame);
        })
        .build();
}

CriterionType passCriterion() {
    using S = PassSettings;
    return CriterionBuilder<S>("pass", "Pass")
        .help("By the value of any pass.")
        .text(&S::pass, "pass", "Pass", TextUse::Passes, "The pass; its first channel counts.")
        .span(&S::span, "span", "Between", Unit::None, {-kMost, kMost, 1.0F},
              "The values to include; leave an end out to keep it open.")
        .number(&S::soft, "soft", "Soft", Unit::None, {0.0F, kMost, 1.0F},
                "The distance over which each end fades.")
        .reads([](const S& s) { return std::vector<PassNeed>{needed(nameIn(s), "its values")}; })
        .summary([](const S& s) {
            return fmt::format("{} {}", s.pass, spanText(s.span, Unit::None, "above", "below"));
        })
        .preset("Upper half", {{"span", Span{.from = 0.5F}}})
        .point([](const S& s, const WorkingFrame& frame) {
            return bandOfPass(s.span, s.soft, nameIn(s), frame);
        })
        .build();
}

}  // namespace noctis
