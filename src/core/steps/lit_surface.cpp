#include "core/steps/lit_surface.h"

namespace noctis {

V3f axisOf(const Camera& camera, int axis) {
    const M44f& m = camera.cameraToWorld;
    return V3f(m[axis][0], m[axis][1], m[axis][2]).normalized();
}

SceneLight lightNamed(const WorkingFrame& frame, const std::string& name, const SceneLight& own) {
    return name.empty() ? own : frame.context().light(name);
}

}  // namespace noctis
