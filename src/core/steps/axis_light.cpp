#include "core/steps/axis_light.h"

#include "core/steps/lit_surface.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

using S = AxisLightSettings;

/// A way of facing that is made lighter or darker.
struct Way {
    const char* id;
    const char* label;
    const char* help;
    float S::*amount;
    LinearRgb S::*colour;
    int axis;  ///< 0 right, 1 up, 2 front
    float sign;
};

constexpr std::array<Way, 6> kWays{{
    {"right", "Right", "Surfaces that face right", &S::right, &S::rightColour, 0, 1.0F},
    {"left", "Left", "Surfaces that face left", &S::left, &S::leftColour, 0, -1.0F},
    {"up", "Up", "Surfaces that face up", &S::up, &S::upColour, 1, 1.0F},
    {"down", "Down", "Surfaces that face down", &S::down, &S::downColour, 1, -1.0F},
    {"front", "Front", "Surfaces that face the viewer, or the world's +z", &S::front,
     &S::frontColour, 2, 1.0F},
    {"back", "Back", "Surfaces that face away from the viewer, or towards -z", &S::back,
     &S::backColour, 2, -1.0F},
}};

struct Term {
    V3f direction;
    std::array<float, 3> amount;
};

/// Where a way leads in the world.
V3f directionOf(const Way& way, LightAxes axes, const Camera& camera) {
    V3f axis(0.0F);
    axis[way.axis] = 1.0F;
    if (axes == LightAxes::Camera)
        axis = axisOf(camera, way.axis);
    return axis.normalized() * way.sign;
}

std::vector<Term> termsOf(const S& s, const Camera& camera) {
    std::vector<Term> terms;
    const float scale = s.mode == AxisLightMode::Add ? s.strength : 1.0F;
    for (const Way& way : kWays) {
        const float amount = s.*way.amount;
        if (amount == 0.0F)
            continue;
        const LinearRgb& c = s.*way.colour;
        // Darkening takes all colours away equally.
        const auto part = [&](float tint) {
            return scale * amount * (amount > 0.0F ? tint : 1.0F);
        };
        terms.push_back({directionOf(way, s.axes, camera), {part(c.r), part(c.g), part(c.b)}});
    }
    return terms;
}

void lightRow(const std::vector<Term>& terms, AxisLightMode mode, const Image& normals,
              const PointRow& p) noexcept {
    const float* nx = normals.row(0, p.y) + p.x;
    const float* ny = normals.row(1, p.y) + p.x;
    const float* nz = normals.row(2, p.y) + p.x;
    for (int i = 0; i < p.count; ++i) {
        std::array<float, 3> sum{};
        for (const Term& term : terms) {
            const float facing =
                std::max(0.0F, nx[i] * term.direction.x + ny[i] * term.direction.y +
                                   nz[i] * term.direction.z);
            for (std::size_t c = 0; c < 3; ++c)
                sum[c] += facing * term.amount[c];
        }
        const std::array<float*, 3> to{p.r, p.g, p.b};
        const float alpha = p.a == nullptr ? 1.0F : p.a[i];
        for (std::size_t c = 0; c < 3; ++c) {
            float& value = to[c][i];
            if (mode == AxisLightMode::Multiply)
                value *= std::max(0.0F, 1.0F + sum[c]);
            else if (std::isfinite(sum[c]))  // no more is taken away than there is
                value = std::max(value + sum[c] * alpha, std::min(value, 0.0F));
        }
    }
}

}  // namespace

StepType axisLightStep() {
    StepBuilder<S> builder("axis_light", "Axis light");
    builder.version(1)
        .phase(Phase::Light)
        .help("Lightens or darkens surfaces by the direction they face, in the picture's own "
              "colours.")
        .choice(&S::axes, "axes", "Axes", {{"camera", "Camera"}, {"world", "World"}},
                "Whether right, up and front are the viewer's or the world's.")
        .choice(&S::mode, "mode", "Mode", {{"multiply", "Multiply"}, {"add", "Add"}},
                "Multiply keeps the picture's own colours; Add also lights what is dark.")
        .number(&S::strength, "strength", "Strength", Unit::None, {0.0F, 1000.0F, 2.0F},
                "How much light 1 adds to a surface that faces that way.")
        .onlyWhen("mode=add")
        .suited([](Settings& s, const Surroundings& around) {
            if (const float light = lightIn(around); light > 0.0F)
                s.set("strength", roundDigits(light));
        });
    for (const Way& way : kWays) {
        builder.number(way.amount, way.id, way.label, Unit::None, {-1.0F, 1.0F, 1.0F},
                       std::string(way.help) + ": darker below 0, lighter above.");
        builder
            .colour(way.colour, std::string(way.id) + "_colour", std::string(way.label) + " colour",
                    "The colour of what is lightened.")
            .onlyWhen(std::string(way.id) + ">0");
        builder.lobe(way.id, way.id, [way](const S& s, const ShownFrame& frame) {
            return directionOf(way, s.axes, frame.camera);
        });
    }
    return builder.preset("From the left", {{"left", 0.8F}, {"right", -0.5F}})
        .preset("Warm from above", {{"up", 0.7F}, {"up_colour", LinearRgb{1.0F, 0.75F, 0.45F}}})
        .reads(PassKind::Normal, "which way each surface faces")
        .summary([](const S& s) {
            std::string text;
            for (const Way& way : kWays)
                if (const float amount = s.*way.amount; amount != 0.0F)
                    text += fmt::format("{}{} {:+.2g}", text.empty() ? "" : " · ", way.id, amount);
            return text.empty() ? std::string("as it is") : text;
        })
        .point([](const S& s, const WorkingFrame& frame) -> PointFunction {
            std::vector<Term> terms = termsOf(s, frame.context().camera());
            if (terms.empty())
                return [](const PointRow&) {};
            return [terms = std::move(terms), mode = s.mode, normals = worldNormals(frame)](
                       const PointRow& p) { lightRow(terms, mode, normals, p); };
        })
        .build();
}

}  // namespace noctis
