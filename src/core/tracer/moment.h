#pragma once

#include "core/scene/scene.h"

#include <optional>

namespace noctis {

/// A frame before or after the one that is traced: where everything is then.
struct Moment {
    Camera camera;
    std::vector<M44f> instances;  ///< toWorld, one each; empty: as in the scene
};

inline std::optional<Camera> cameraAt(const std::optional<Moment>& moment) {
    return moment ? std::optional(moment->camera) : std::nullopt;
}

/// The scene's view that is asked for, if it stands as the scene has it; none if it was moved by hand,
/// for then it stays where it was put.
std::optional<std::size_t> ownView(const Scene& scene, const View& asked);

/// Where everything is at a time; own is the view that moves, see ownView.
Moment momentAt(const Scene& scene, const View& asked, std::optional<std::size_t> own,
                double seconds);

/// Whether everything stands as it does at time 0.
bool standsAtStart(const Scene& scene);

}  // namespace noctis
