#include "core/tracer/moment.h"

#include "core/scene/animation.h"

namespace noctis {

namespace {

constexpr float kSamePlace = 1e-4F;  ///< m

/// What poseAt moves, without the surfaces.
Scene posed(const Scene& scene, double seconds) {
    Scene moving;
    moving.instances = scene.instances;
    moving.views = scene.views;
    moving.lights = scene.lights;
    moving.animation = scene.animation;
    poseAt(moving, seconds);
    return moving;
}

}  // namespace

std::optional<std::size_t> ownView(const Scene& scene, const View& asked) {
    for (std::size_t i = 0; i < scene.views.size(); ++i)
        if (scene.views[i] == asked)
            return i;
    return std::nullopt;
}

Moment momentAt(const Scene& scene, const View& asked, std::optional<std::size_t> own,
                double seconds) {
    const Scene then = posed(scene, seconds);
    Moment moment{own ? then.views[*own].camera : asked.camera, {}};
    for (const Instance& instance : then.instances)
        moment.instances.push_back(instance.toWorld);
    return moment;
}

bool standsAtStart(const Scene& scene) {
    const Scene start = posed(scene, 0.0);
    for (std::size_t i = 0; i < start.instances.size(); ++i)
        if (!start.instances[i].toWorld.equalWithAbsError(scene.instances[i].toWorld, kSamePlace))
            return false;
    for (std::size_t i = 0; i < start.views.size(); ++i)
        if (!start.views[i].camera.cameraToWorld.equalWithAbsError(
                scene.views[i].camera.cameraToWorld, kSamePlace))
            return false;
    return true;
}

}  // namespace noctis
