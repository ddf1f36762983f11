#include "core/criteria/criteria.h"
#include "core/criteria/masking.h"
#include "core/image/tiles.h"
#include "core/passes/pass_set.h"
#include "core/settings/counted.h"

#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr float kWide = 65536.0F;  ///< px

struct EllipseSettings {
    V2f centre{100.0F, 100.0F};
    V2f radii{80.0F, 60.0F};
    float soft = 20.0F;
};

struct RectangleSettings {
    V2f min{20.0F, 20.0F};
    V2f max{200.0F, 120.0F};
    float soft = 20.0F;
};

struct GradientSettings {
    V2f from{0.0F, 0.0F};
    V2f to{0.0F, 100.0F};
};

struct PolygonSettings {
    PlaceList points{{50.0F, 50.0F}, {200.0F, 50.0F}, {125.0F, 180.0F}};
    float soft = 20.0F;
};

struct StrokesSettings {
    Strokes strokes{};
};

/// px of the picture, from a new shape's middle to its edge.
float shapeSize(const Surroundings& around) {
    return std::max(8.0F, 0.2F * static_cast<float>(around.passes.height));
}

template <typename At> MaskFunction maskOfPlaces(const WorkingFrame& frame, const At& at) {
    const auto factor = static_cast<float>(frame.context().factor());
    return [at, factor](const MaskRow& row) {
        for (int i = 0; i < row.count; ++i)
            row.mask[i] = at(V2f((static_cast<float>(row.x + i) + 0.5F) * factor,
                                 (static_cast<float>(row.y) + 0.5F) * factor));
    };
}

/// px inside its edge, to first order; exact for a circle.
float insideEllipse(const V2f& p, const EllipseSettings& s) {
    const V2f way = p - s.centre;
    const V2f radii(std::max(s.radii.x, 1e-3F), std::max(s.radii.y, 1e-3F));
    const V2f q(way.x / radii.x, way.y / radii.y);
    const float r = q.length();
    if (r == 0.0F)
        return std::min(radii.x, radii.y);
    const float slope = V2f(q.x / radii.x, q.y / radii.y).length() / r;
    return (1.0F - r) / slope;
}

/// The place on a segment nearest to p: 0 at a, 1 at b.
float nearestOnSegment(const V2f& p, const V2f& a, const V2f& b) {
    const V2f way = b - a;
    const float length2 = way.length2();
    return length2 > 0.0F ? std::clamp(((p - a) ^ way) / length2, 0.0F, 1.0F) : 0.0F;
}

float distanceToSegment(const V2f& p, const V2f& a, const V2f& b) {
    return (p - a - (b - a) * nearestOnSegment(p, a, b)).length();
}

/// How far a place is within a stroke: 0 at its edge, 1 where it no longer fades.
float withinStroke(const V2f& p, const Stroke& stroke) {
    const float softness = std::clamp(stroke.softness, 0.0F, 1.0F);
    const auto pressure = [&](std::size_t i) {
        return stroke.pressures.empty() ? 1.0F : std::clamp(stroke.pressures[i], 0.0F, 1.0F);
    };
    float most = 0.0F;
    for (std::size_t i = 0; i < stroke.points.size(); ++i) {
        const std::size_t before = i > 0 ? i - 1 : 0;
        const V2f& a = stroke.points[before];
        const V2f& b = stroke.points[i];
        const float t = nearestOnSegment(p, a, b);
        const float radius =
            stroke.radius * (pressure(before) + t * (pressure(i) - pressure(before)));
        const float away = (p - a - (b - a) * t).length();
        most = std::max(most, (radius - away) / std::max(radius * softness, 1.0F));
    }
    return std::min(most, 1.0F);
}

/// px inside a closed outline, negative outside. Source: even-odd rule.
float insidePolygon(const V2f& p, const std::vector<V2f>& outline) {
    bool inside = false;
    float nearest = kWide;
    for (std::size_t i = 0, j = outline.size() - 1; i < outline.size(); j = i++) {
        const V2f& a = outline[i];
        const V2f& b = outline[j];
        nearest = std::min(nearest, distanceToSegment(p, a, b));
        if ((a.y > p.y) != (b.y > p.y) && p.x < (b.x - a.x) * (p.y - a.y) / (b.y - a.y) + a.x)
            inside = !inside;
    }
    return inside ? nearest : -nearest;
}

Image rasterised(const WorkingFrame& frame, const RunContext& run,
                 const std::function<float(const V2f&)>& at) {
    Image mask = Image::unset(frame.width(), frame.height(), {"Y"});
    float* to = mask.editPlane(0);
    forEachBand(mask.height(), kBandHeight, run, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < mask.width(); ++x)
                to[mask.rowStride() * y + x] = at(fullPixel(frame, x, y));
    });
    return mask;
}

/// Lays one stroke into a mask, within its bounds only.
void layStroke(Image& mask, const Stroke& stroke, const WorkingFrame& frame,
               const RunContext& run) {
    if (stroke.points.empty())
        return;
    V2f low = stroke.points.front();
    V2f high = low;
    for (const V2f& p : stroke.points) {
        low = {std::min(low.x, p.x), std::min(low.y, p.y)};
        high = {std::max(high.x, p.x), std::max(high.y, p.y)};
    }
    const auto factor = static_cast<float>(frame.context().factor());
    const auto pixel = [&](float full, int most) {
        return static_cast<int>(
            std::clamp(std::floor(full / factor), 0.0F, static_cast<float>(most)));
    };
    const int x0 = pixel(low.x - stroke.radius, mask.width());
    const int x1 = pixel(high.x + stroke.radius + factor, mask.width());
    const int y0 = pixel(low.y - stroke.radius, mask.height());
    const int y1 = pixel(high.y + stroke.radius + factor, mask.height());
    float* to = mask.editPlane(0);
    forEachBand(y1 - y0, kBandHeight, run, [&](int from, int until) {
        for (int y = y0 + from; y < y0 + until; ++y)
            for (int x = x0; x < x1; ++x) {
                const float t = withinStroke(fullPixel(frame, x, y), stroke);
                const float covered = t * t * (3.0F - 2.0F * t);
                float& value = to[mask.rowStride() * y + x];
                value = stroke.takesAway ? value * (1.0F - covered) : std::max(value, covered);
            }
    });
}

}  // namespace

CriterionType ellipseCriterion() {
    using S = EllipseSettings;
    return CriterionBuilder<S>("ellipse", "Ellipse")
        .help("An ellipse in the picture.")
        .place(&S::centre, "centre", "Centre", "Its centre, from the picture's top left corner.")
        .place(&S::radii, "radii", "Radii", "Half its width and half its height.")
        .number(&S::soft, "soft", "Soft", Unit::Pixel, {0.0F, kWide, 200.0F},
                "The distance over which its edge fades.")
        .summary([](const S&) { return std::string("an ellipse"); })
        .handle(HandleKind::Place, "centre", "centre")
        .suited([](Settings& s, const Surroundings& around) {
            const float size = shapeSize(around);
            s.set("centre", placeIn(around));
            s.set("radii", V2f(1.3F * size, size));
            s.set("soft", roundDigits(0.3F * size));
        })
        .preset("Soft", {{"soft", 80.0F}})
        .point([](const S& s, const WorkingFrame& frame) {
            return maskOfPlaces(frame, [s, edge = Edge(0.0F, s.soft)](const V2f& p) {
                return edge.over(insideEllipse(p, s));
            });
        })
        .build();
}

CriterionType rectangleCriterion() {
    using S = RectangleSettings;
    return CriterionBuilder<S>("rectangle", "Rectangle")
        .help("A rectangle in the picture.")
        .place(&S::min, "min", "Top left", "Its top left corner.")
        .place(&S::max, "max", "Bottom right", "Its bottom right corner.")
        .number(&S::soft, "soft", "Soft", Unit::Pixel, {0.0F, kWide, 200.0F},
                "The distance over which each side fades.")
        .summary([](const S&) { return std::string("a rectangle"); })
        .handle(HandleKind::Place, "min", "top left")
        .handle(HandleKind::Place, "max", "bottom right")
        .suited([](Settings& s, const Surroundings& around) {
            const V2f half(1.3F * shapeSize(around), shapeSize(around));
            s.set("min", placeIn(around) - half);
            s.set("max", placeIn(around) + half);
            s.set("soft", roundDigits(0.3F * half.y));
        })
        .preset("Soft", {{"soft", 80.0F}})
        .point([](const S& s, const WorkingFrame& frame) {
            const Band across({s.min.x, std::max(s.min.x, s.max.x)}, s.soft);
            const Band down({s.min.y, std::max(s.min.y, s.max.y)}, s.soft);
            return maskOfPlaces(frame, [across, down](const V2f& p) {
                return std::min(across.at(p.x), down.at(p.y));
            });
        })
        .build();
}

CriterionType gradientCriterion() {
    using S = GradientSettings;
    return CriterionBuilder<S>("gradient", "Gradient")
        .help("Fades from nothing at one point of the picture to everything at another.")
        .place(&S::from, "from", "From", "Where it begins: nothing up to there.")
        .place(&S::to, "to", "To", "Where it is full: everything from there on.")
        .summary([](const S&) { return std::string("a gradient"); })
        .handle(HandleKind::Place, "from", "from")
        .handle(HandleKind::Place, "to", "to")
        .suited([](Settings& s, const Surroundings& around) {
            const V2f half(0.0F, shapeSize(around));
            s.set("from", placeIn(around) - half);
            s.set("to", placeIn(around) + half);
        })
        .preset("Downwards", {{"from", V2f(0.0F, 0.0F)}, {"to", V2f(0.0F, 400.0F)}})
        .point([](const S& s, const WorkingFrame& frame) {
            const V2f way = s.to - s.from;
            const float perLength2 = way.length2() > 0.0F ? 1.0F / way.length2() : 0.0F;
            return maskOfPlaces(frame, [from = s.from, way, perLength2](const V2f& p) {
                return std::clamp(((p - from) ^ way) * perLength2, 0.0F, 1.0F);
            });
        })
        .build();
}

CriterionType polygonCriterion() {
    using S = PolygonSettings;
    return CriterionBuilder<S>("polygon", "Polygon")
        .help("An outline with straight sides in the picture.")
        .places(&S::points, "points", "Corners", "Its corners, in order.")
        .number(&S::soft, "soft", "Soft", Unit::Pixel, {0.0F, kWide, 200.0F},
                "The distance over which its sides fade.")
        .summary([](const S& s) { return counted(s.points.size(), "corner"); })
        .suited([](Settings& s, const Surroundings& around) {
            const V2f middle = placeIn(around);
            const float size = shapeSize(around);
            s.set("points", PlaceList{middle + V2f(-size, -size), middle + V2f(size, -size),
                                      middle + V2f(0.0F, size)});
            s.set("soft", roundDigits(0.3F * size));
        })
        .preset("Soft", {{"soft", 80.0F}})
        .area([](const S& s, const WorkingFrame& frame, const RunContext& run) {
            const Edge edge(0.0F, s.soft);
            return rasterised(frame, run, [&](const V2f& p) {
                return s.points.size() < 3 ? 0.0F : edge.over(insidePolygon(p, s.points));
            });
        })
        .build();
}

CriterionType strokesCriterion() {
    using S = StrokesSettings;
    return CriterionBuilder<S>("strokes", "Strokes")
        .help("What you paint with a brush.")
        .strokes(&S::strokes, "strokes", "Strokes", "The brush strokes, in order.")
        .summary([](const S& s) { return counted(s.strokes.list().size(), "stroke"); })
        .preset("None", {{"strokes", Strokes{}}})
        .area([](const S& s, const WorkingFrame& frame, const RunContext& run) {
            Image mask(frame.width(), frame.height(), {"Y"});
            for (const Stroke& stroke : s.strokes.list())
                layStroke(mask, stroke, frame, run);
            return mask;
        })
        .build();
}

}  // namespace noctis
