#include "core/criteria/criteria.h"
#include "core/criteria/masking.h"

#include <cmath>

namespace noctis {

namespace {

constexpr float kFar = 1e6F;  ///< m

struct BandSettings {
    Span span;
    float soft = 0.0F;  ///< m
};

/// A band of one pass of distances, whose background is infinitely far.
MaskFunction bandOfDistances(const BandSettings& s, const WorkingFrame& frame, PassKind kind) {
    const Band band(s.span, s.soft);
    return [band, pass = frame.pass(kind), hits = Hits(frame),
            beyond = band.at(kNothingHit)](const MaskRow& row) {
        band.fill(pass.row(0, row.y) + row.x, row.mask, row.count);
        hits.cover(row, beyond);
    };
}

float endOf(const Span& span, bool from) {
    const float end = from ? span.from : span.to;
    return std::isfinite(end) ? end : (from ? 0.0F : kFar);
}

CriterionType distanceBand(const char* id, const char* label, PassKind kind, const char* help) {
    using S = BandSettings;
    return CriterionBuilder<S>(id, label)
        .help(help)
        .span(&S::span, "span", "Between", Unit::Metre, {0.0F, kFar, 100.0F},
              "The distances to include; leave an end out to keep it open.")
        .number(&S::soft, "soft", "Soft", Unit::Metre, {0.0F, kFar, 20.0F},
                "The distance over which each end fades.")
        .reads(kind, "the distances of the band")
        .summary([](const S& s) { return spanText(s.span, Unit::Metre, "beyond", "nearer than"); })
        .lane(DepthLane::Shape::Curve,
              [](const S& s, float metres) { return Band(s.span, s.soft).at(metres); })
        .preset("Far", {{"span", Span{.from = 20.0F}}, {"soft", 5.0F}})
        .point([kind](const S& s, const WorkingFrame& frame) {
            return bandOfDistances(s, frame, kind);
        })
        .build();
}

/// The two ends of a band as handles.
void addEnds(CriterionType& type) {
    for (const bool from : {true, false})
        type.handles.push_back({from ? "from" : "to", from ? "from" : "to", HandleKind::Distance,
                                [from](const Settings& s, const ShownFrame&) -> HandleValue {
                                    return endOf(s.get<Span>("span"), from);
                                },
                                [from](Settings& s, const HandleValue& to, const ShownFrame&) {
                                    Span span = s.get<Span>("span");
                                    const float metres = std::max(0.0F, std::get<float>(to));
                                    if (from)
                                        span.from = std::min(metres, span.to);
                                    else
                                        span.to = std::max(metres, span.from);
                                    s.set("span", span);
                                },
                                [from](const Settings& s) {
                                    const Span& span = s.get<Span>("span");
                                    return std::isfinite(from ? span.from : span.to);
                                }});
}

struct AxisSettings {
    enum class Axis { X, Y, Z } axis = Axis::Y;
    Span span;
    float soft = 0.0F;
};

template <typename S> MaskFunction bandOfPosition(const S& s, const WorkingFrame& frame, int axis) {
    const Band band(s.span, s.soft);
    return maskOfSurfaces(frame, [band, axis, position = frame.pass(PassKind::Position)](
                                     int x, int y) { return band.at(position(x, y, axis)); });
}

}  // namespace

CriterionType depthCriterion() {
    CriterionType type =
        distanceBand("depth", "Depth", PassKind::Depth, "By distance along the view.");
    addEnds(type);
    return type;
}

CriterionType distanceCriterion() {
    CriterionType type =
        distanceBand("distance", "Distance", PassKind::Distance, "By distance from the camera.");
    addEnds(type);
    return type;
}

CriterionType heightCriterion() {
    using S = BandSettings;
    return CriterionBuilder<S>("height", "Height")
        .help("By height in the scene.")
        .span(&S::span, "span", "Between", Unit::Metre, {-kFar, kFar, 20.0F},
              "The world heights to include; leave an end out to keep it open.")
        .number(&S::soft, "soft", "Soft", Unit::Metre, {0.0F, kFar, 5.0F},
                "The distance over which each end fades.")
        .reads(PassKind::Position, "heights")
        .summary([](const S& s) { return spanText(s.span, Unit::Metre, "above", "below"); })
        .preset("Low", {{"span", Span{.to = 1.0F}}, {"soft", 0.5F}})
        .point([](const S& s, const WorkingFrame& frame) { return bandOfPosition(s, frame, 1); })
        .build();
}

CriterionType axisCriterion() {
    using S = AxisSettings;
    return CriterionBuilder<S>("axis", "Axis")
        .help("By position along one of the world's axes.")
        .choice(&S::axis, "axis", "Axis", {{"x", "X"}, {"y", "Y"}, {"z", "Z"}},
                "The axis to measure along.")
        .span(&S::span, "span", "Between", Unit::Metre, {-kFar, kFar, 50.0F},
              "The positions to include; leave an end out to keep it open.")
        .number(&S::soft, "soft", "Soft", Unit::Metre, {0.0F, kFar, 10.0F},
                "The distance over which each end fades.")
        .reads(PassKind::Position, "places in the scene")
        .summary([](const S& s) {
            static constexpr const char* kNames[] = {"x ", "y ", "z "};
            return kNames[static_cast<std::size_t>(s.axis)] +
                   spanText(s.span, Unit::Metre, "above", "below");
        })
        .preset("Right half", {{"axis", std::string("x")}, {"span", Span{.from = 0.0F}}})
        .point([](const S& s, const WorkingFrame& frame) {
            return bandOfPosition(s, frame, static_cast<int>(s.axis));
        })
        .build();
}

}  // namespace noctis
