#include "core/steps/sweep.h"

#include "core/image/error.h"
#include "core/image/resample.h"
#include "core/steps/frame_size.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

/// The front edge's width, as a part of the band's.
constexpr float kEdgeWidth = 0.12F;
constexpr float kSharpest = 1e-4F;  ///< m

/// 0 before an edge, 1 beyond it, about it straight.
float rise(float value, float soft) noexcept {
    return std::clamp(value / std::max(soft, kSharpest) + 0.5F, 0.0F, 1.0F);
}

/// The picture that is revealed, at the working size.
Image revealed(const SweepSettings& s, const WorkingFrame& frame) {
    if (s.picture.path.empty())
        throw Error(ErrorCode::BadSetting, "choose the picture that it reveals");
    const FrameContext& context = frame.context();
    const Image picture = context.fileInTime(s.picture.path, SequenceEnd::Holds);
    requireFrameSize(s.picture.path, picture.width(), picture.height(), context);
    return context.factor() == 1 ? picture : shrinkByMean(picture, context.factor());
}

struct Swept {
    SweepSettings s;
    Image distance;
    Image position;
    Image picture;

    [[nodiscard]] float metresAt(int x, int y) const noexcept {
        if (s.from == SweepFrom::Camera)
            return distance(x, y, 0);
        return (V3f(position(x, y, 0), position(x, y, 1), position(x, y, 2)) - s.point).length();
    }

    void operator()(const PointRow& p) const noexcept {
        const LinearRgb light{s.colour.r * s.strength, s.colour.g * s.strength,
                              s.colour.b * s.strength};
        for (int i = 0; i < p.count; ++i) {
            // The sky is beyond every band.
            if (!std::isfinite(distance(p.x + i, p.y, 0)))
                continue;
            const float metres = metresAt(p.x + i, p.y);
            const float covered = p.a == nullptr ? 1.0F : p.a[i];
            if (!picture.empty()) {
                const float swept = sweptAt(s, metres);
                const auto over = [&](float& to, int channel) {
                    to += swept * (picture(p.x + i, p.y, channel) - to);
                };
                over(p.r[i], 0);
                over(p.g[i], 1);
                over(p.b[i], 2);
            }
            const float band = sweepAt(s, metres);
            const auto lay = [&](float& to, float tint) {
                to = s.mode == SweepMode::Tint ? to * (1.0F + band * (tint - 1.0F))
                                               : to + band * tint * covered;
            };
            if (band > 0.0F) {
                lay(p.r[i], light.r);
                lay(p.g[i], light.g);
                lay(p.b[i], light.b);
            }
        }
    }
};

}  // namespace

float sweptAt(const SweepSettings& s, float metres) noexcept {
    return std::isfinite(metres) ? rise(s.distance - metres, s.soft) : 0.0F;
}

float sweepAt(const SweepSettings& s, float metres) noexcept {
    if (!std::isfinite(metres))
        return 0.0F;
    const float front = rise(s.distance - metres, s.soft);
    const float behind = s.distance - s.width - metres;  // the band's back edge is nearer
    const float left = s.trail > 0.0F ? 1.0F - std::clamp(behind / s.trail, 0.0F, 1.0F)
                                      : 1.0F - rise(behind, s.soft);
    const float edge = (s.distance - metres) / std::max(kEdgeWidth * s.width, kSharpest);
    return front * left + s.edge * std::exp(-edge * edge);
}

StepType sweepStep() {
    using S = SweepSettings;
    return StepBuilder<S>("sweep", "Sweep")
        .version(1)
        .phase(Phase::Air)
        .help("A band of light that travels over the scene, away from the camera or from a point.")
        .choice(&S::from, "from", "From", {{"camera", "The camera"}, {"point", "A point"}},
                "What the band moves away from.")
        .position(&S::point, "point", "Point", "The point of the scene that the band spreads from.")
        .onlyWhen("from=point")
        .number(&S::distance, "distance", "Distance", Unit::Metre, {0.0F, 1e6F, 100.0F},
                "How far the front of the band has come.")
        .number(&S::width, "width", "Width", Unit::Metre, {0.0F, 1e5F, 20.0F},
                "How deep the band is.")
        .number(&S::soft, "soft", "Soft", Unit::Metre, {0.0F, 1e5F, 5.0F},
                "The distance over which its front and back fade.")
        .number(&S::trail, "trail", "Trail", Unit::Metre, {0.0F, 1e5F, 50.0F},
                "How far behind the band its light dies away.")
        .unsetIs("none")
        .colour(&S::colour, "colour", "Colour", "The band's colour.")
        .number(&S::strength, "strength", "Strength", Unit::None, {0.0F, 1e4F, 4.0F},
                "How bright the band is, in the picture's linear light; for a tint, what it "
                "multiplies by.")
        .number(&S::edge, "edge", "Edge", Unit::Percent, {0.0F, 10.0F, 4.0F},
                "How much brighter its front edge is.")
        .choice(&S::mode, "mode", "Mode",
                {{"add", "Adds light"}, {"tint", "Tints"}, {"reveal", "Reveals"}},
                "Whether the band adds light, multiplies what is there, or uncovers another "
                "picture behind it.")
        .file(&S::picture, "picture", "Picture", TextUse::PictureFile,
              "Another picture of the same frame, such as one with other materials, that is seen "
              "where the band has passed. One frame of a numbered sequence stands for all of it.")
        .onlyWhen("mode=reveal")
        .readsTime(
            [](const S& s) { return s.mode == SweepMode::Reveal && isSequence(s.picture.path); })
        .suited([](Settings& s, const Surroundings& around) {
            const float metres = distanceIn(around);
            if (!(metres > 0.0F))
                return;
            s.set("distance", roundDigits(1.1F * metres));
            s.set("width", roundDigits(0.3F * metres));
            s.set("soft", roundDigits(0.05F * metres));
            s.set("trail", roundDigits(0.3F * metres));
            s.set("point", pointIn(around));
            if (const float light = lightIn(around); light > 0.0F)
                s.set("strength", roundDigits(light));
        })
        .preset("Scanner", {{"width", 0.4F}, {"soft", 0.1F}, {"trail", 3.0F}, {"edge", 3.0F}})
        .preset("Wave of warmth", {{"colour", LinearRgb{1.0F, 0.5F, 0.2F}},
                                   {"width", 6.0F},
                                   {"soft", 4.0F},
                                   {"trail", 10.0F},
                                   {"edge", 0.0F}})
        .reads([](const S& s) {
            std::vector<PassNeed> needs{needed({PassKind::Distance, {}}, "how far the band is")};
            if (s.from == SweepFrom::Point)
                needs.push_back(needed({PassKind::Position, {}}, "how far from the point it is"));
            return needs;
        })
        .summary([](const S& s) {
            return fmt::format("{} from {} · {}", formatNumber(s.distance, Unit::Metre),
                               s.from == SweepFrom::Camera ? "the camera" : "a point",
                               s.mode == SweepMode::Add    ? "adds light"
                               : s.mode == SweepMode::Tint ? "tints"
                                                           : "reveals");
        })
        .lane(DepthLane::Shape::Curve,
              [](const S& s, float metres) {
                  if (s.from != SweepFrom::Camera)
                      return 0.0F;
                  const float band = std::min(sweepAt(s, metres), 1.0F);
                  return s.mode == SweepMode::Reveal ? std::max(band, sweptAt(s, metres)) : band;
              })
        .handle(HandleKind::Distance, "distance", "front",
                [](const S& s) { return s.from == SweepFrom::Camera; })
        .handle(HandleKind::Point, "point", "from",
                [](const S& s) { return s.from == SweepFrom::Point; })
        .point([](const S& s, const WorkingFrame& frame) -> PointFunction {
            return Swept{s, frame.pass(PassKind::Distance),
                         s.from == SweepFrom::Point ? frame.pass(PassKind::Position) : Image(),
                         s.mode == SweepMode::Reveal ? revealed(s, frame) : Image()};
        })
        .build();
}

}  // namespace noctis
