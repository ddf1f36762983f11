#pragma once

#include "core/settings/parameter.h"

#include <functional>
#include <string>
#include <vector>

namespace noctis {

/// Something on the depth axis that can be dragged.
struct DepthHandle {
    std::string label;
    std::function<float(const Settings&)> at;      ///< m
    std::function<void(Settings&, float)> moveTo;  ///< m
};

/// How something that works by distance shows on the depth axis.
struct DepthLane {
    enum class Shape { Curve, Span } shape = Shape::Curve;
    std::function<float(const Settings&, float)> strength;  ///< 0..1 at a distance in m
    std::vector<DepthHandle> handles;
};

}  // namespace noctis
