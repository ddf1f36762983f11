#pragma once

#include "app/session/session.h"

#include <optional>
#include <string>

namespace noctis {

/// A place of the scene that is seen.
struct SeenPlace {
    V3f position{0.0F};
    float depth = 0.0F;     ///< m, planar
    float distance = 0.0F;  ///< m, radial
    std::string object;
};

/// What a ray meets first; none if it leaves the scene.
std::optional<SeenPlace> placeAlong(const LoadedScene& scene, const CameraRay& ray);

}  // namespace noctis
