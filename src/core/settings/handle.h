#pragma once

#include "core/image/camera.h"
#include "core/settings/parameter.h"

#include <functional>
#include <string>
#include <variant>
#include <vector>

namespace noctis {

enum class HandleKind {
    Distance,   ///< planar, m; on the Sounding
    Direction,  ///< in the world; on the Bearing
    Point,      ///< in the world, m; on the Plan and in the picture
    Place,      ///< px of the full picture; in the picture
    Lobe,       ///< a number from -1 to 1 that stands in a direction of the world; on the Bearing
};

using HandleValue = std::variant<float, V3f, V2f>;

/// The frame that something is shown on.
struct ShownFrame {
    Camera camera{};
    int width = 1920;
    int height = 1080;
    float nearest =
        0.0F;  ///< m, of what it shows, along the view; as farthest, 0 where that isn't known
    float farthest = 0.0F;
    bool operator==(const ShownFrame&) const = default;

    [[nodiscard]] float aspect() const noexcept {
        return static_cast<float>(width) / static_cast<float>(height);
    }
};

/// Something that can be dragged. Whatever has settings declares its handles (a step, a criterion of a Where,
/// the project); instruments show the kinds they support and know nothing else of their owners.
struct Handle {
    std::string id;  ///< unique in its declaration
    std::string label;
    HandleKind kind = HandleKind::Distance;
    std::function<HandleValue(const Settings&, const ShownFrame&)> at;
    /// Keeps every setting within its range.
    std::function<void(Settings&, const HandleValue&, const ShownFrame&)> moveTo;
    std::function<bool(const Settings&)> shown;  ///< unset: always
    /// Of a lobe: its direction.
    std::function<V3f(const Settings&, const ShownFrame&)> along{};
    /// Of a direction that is the middle of a cone, in degrees; unset: it is none.
    std::function<float(const Settings&)> halfAngle{};
    /// Of a point: a click on a surface sets it this part of the way from there to the viewer.
    float offSurface = 0.0F;
    /// A light's direction or place: it can be set by where its highlight falls.
    bool highlights = false;
    /// Of a point: the one at the opposite corner of a box along the world's axes; empty: it is none's corner.
    std::string opposite{};
};

/// How something that works by distance shows on the depth axis.
struct DepthLane {
    enum class Shape { Curve, Span } shape = Shape::Curve;
    /// What it is for: a focus is named and tinted as one, wherever it is shown.
    enum class Purpose { Other, Focus } purpose = Purpose::Other;
    /// Of these settings on that frame: 0..1 at a distance in m. Unset: it has no lane.
    std::function<std::function<float(float)>(const Settings&, const ShownFrame&)> strength;
};

}  // namespace noctis
