#include "core/criteria/criteria.h"
#include "core/criteria/masking.h"
#include "core/recipe/world_normals.h"

#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr float kFar = 1e6F;  ///< m
constexpr float kDegrees = 57.29577951F;

struct BallSettings {
    V3f centre{0.0F};
    float radius = 2.0F;  ///< m
    float soft = 0.0F;    ///< m
};

struct AroundSettings {
    V3f point{0.0F};
    Span span;
    float soft = 0.0F;  ///< m
};

struct BoxSettings {
    V3f min{-1.0F};
    V3f max{1.0F};
    float soft = 0.0F;  ///< m
};

struct FacingSettings {
    V3f direction{0.0F, 1.0F, 0.0F};  ///< the surface faces this way
    float angle = 45.0F;              ///< degrees, half the cone
    float soft = 10.0F;               ///< degrees
};

V3f at(const Image& image, int x, int y) {
    return {image(x, y, 0), image(x, y, 1), image(x, y, 2)};
}

}  // namespace

CriterionType sphereCriterion() {
    using S = BallSettings;
    return CriterionBuilder<S>("sphere", "Sphere")
        .help("What lies within a sphere in the scene.")
        .position(&S::centre, "centre", "Centre", "The sphere's centre in the world.")
        .number(&S::radius, "radius", "Radius", Unit::Metre, {0.0F, kFar, 20.0F},
                "The sphere's radius.")
        .number(&S::soft, "soft", "Soft", Unit::Metre, {0.0F, kFar, 10.0F},
                "The distance over which its surface fades.")
        .reads(PassKind::Position, "places in the scene")
        .summary([](const S& s) {
            return fmt::format("within {}", formatNumber(s.radius, Unit::Metre));
        })
        .handle(HandleKind::Point, "centre", "centre")
        .suited([](Settings& s, const Surroundings& around) {
            if (const float size = 0.2F * heightOfPicture(around); size > 0.0F) {
                s.set("centre", pointIn(around));
                s.set("radius", roundDigits(size));
                s.set("soft", roundDigits(0.3F * size));
            }
        })
        .preset("Soft", {{"radius", 3.0F}, {"soft", 2.0F}})
        .point([](const S& s, const WorkingFrame& frame) {
            return maskOfSurfaces(frame, [edge = Edge(s.radius, s.soft), centre = s.centre,
                                          position = frame.pass(PassKind::Position)](int x, int y) {
                return edge.under((at(position, x, y) - centre).length());
            });
        })
        .build();
}

CriterionType aroundCriterion() {
    using S = AroundSettings;
    return CriterionBuilder<S>("around", "Around")
        .help("By distance from a point of the scene.")
        .position(&S::point, "point", "Point", "The point that distances are measured from.")
        .span(&S::span, "span", "Between", Unit::Metre, {0.0F, kFar, 50.0F},
              "The distances to include; leave an end out to keep it open.")
        .number(&S::soft, "soft", "Soft", Unit::Metre, {0.0F, kFar, 10.0F},
                "The distance over which each end fades.")
        .reads(PassKind::Position, "places in the scene")
        .summary([](const S& s) {
            return spanText(s.span, Unit::Metre, "beyond", "within") + " of a point";
        })
        .handle(HandleKind::Point, "point", "point")
        .suited([](Settings& s, const Surroundings& around) {
            if (const float size = 0.2F * heightOfPicture(around); size > 0.0F) {
                s.set("point", pointIn(around));
                s.set("span", Span{.to = roundDigits(size)});
                s.set("soft", roundDigits(0.3F * size));
            }
        })
        .preset("A ring", {{"span", Span{.from = 4.0F, .to = 6.0F}}, {"soft", 1.0F}})
        .point([](const S& s, const WorkingFrame& frame) {
            return maskOfSurfaces(frame, [band = Band(s.span, s.soft), point = s.point,
                                          position = frame.pass(PassKind::Position)](int x, int y) {
                return band.at((at(position, x, y) - point).length());
            });
        })
        .build();
}

CriterionType boxCriterion() {
    using S = BoxSettings;
    return CriterionBuilder<S>("box", "Box")
        .help("What lies within a box along the world's axes.")
        .position(&S::min, "min", "Minimum corner", "The corner with the least x, y and z.")
        .position(&S::max, "max", "Maximum corner", "The corner with the greatest x, y and z.")
        .number(&S::soft, "soft", "Soft", Unit::Metre, {0.0F, kFar, 10.0F},
                "The distance over which each side fades.")
        .suited([](Settings& s, const Surroundings& around) {
            if (const float size = 0.2F * heightOfPicture(around); size > 0.0F) {
                s.set("min", pointIn(around) - V3f(size));
                s.set("max", pointIn(around) + V3f(size));
                s.set("soft", roundDigits(0.3F * size));
            }
        })
        .reads(PassKind::Position, "places in the scene")
        .summary([](const S& s) {
            const V3f size = s.max - s.min;
            return fmt::format("a box of {:.3g} × {:.3g} × {:.3g} m", size.x, size.y, size.z);
        })
        .handle(HandleKind::Point, "min", "minimum corner")
        .handle(HandleKind::Point, "max", "maximum corner")
        .boxFrom("min")
        .preset("Soft", {{"soft", 1.0F}})
        .point([](const S& s, const WorkingFrame& frame) {
            const Band bands[3] = {{{s.min.x, s.max.x}, s.soft},
                                   {{s.min.y, s.max.y}, s.soft},
                                   {{s.min.z, s.max.z}, s.soft}};
            return maskOfSurfaces(frame, [x0 = bands[0], y0 = bands[1], z0 = bands[2],
                                          position = frame.pass(PassKind::Position)](int x, int y) {
                const V3f p = at(position, x, y);
                return std::min({x0.at(p.x), y0.at(p.y), z0.at(p.z)});
            });
        })
        .build();
}

CriterionType facingCriterion() {
    using S = FacingSettings;
    return CriterionBuilder<S>("facing", "Facing")
        .help("By the direction a surface faces.")
        .direction(&S::direction, "direction", "Direction",
                   "The middle of the cone of directions, in the world; y is up.")
        .number(&S::angle, "angle", "Angle", Unit::Degree, {0.0F, 180.0F, 180.0F},
                "How far from it a surface may face: half the cone's angle.")
        .number(&S::soft, "soft", "Soft", Unit::Degree, {0.0F, 180.0F, 90.0F},
                "The angle over which the cone's edge fades.")
        .reads(PassKind::Normal, "directions")
        .summary([](const S& s) {
            return fmt::format("faces within {}", formatNumber(s.angle, Unit::Degree));
        })
        .handle(HandleKind::Direction, "direction", "direction")
        .cone("angle")
        .preset("Upwards", {{"direction", V3f(0.0F, 1.0F, 0.0F)}, {"angle", 40.0F}})
        .point([](const S& s, const WorkingFrame& frame) {
            return maskOfSurfaces(frame, [edge = Edge(s.angle, s.soft),
                                          towards = s.direction.normalized(),
                                          normals = worldNormals(frame)](int x, int y) {
                const V3f normal = at(normals, x, y);
                const float length = normal.length();
                if (!(length > 0.0F))
                    return 0.0F;
                const float cosine = std::clamp((normal ^ towards) / length, -1.0F, 1.0F);
                return edge.under(std::acos(cosine) * kDegrees);
            });
        })
        .build();
}

}  // namespace noctis
