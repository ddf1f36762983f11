#include "core/image/camera_move.h"

namespace noctis {

namespace {

M44f rotationAbout(const V3f& axis, float radians) {
    M44f m;
    m.setAxisAngle(axis, radians);
    return m;
}

M44f shiftBy(const V3f& way) {
    M44f m;
    m.setTranslation(way);
    return m;
}

}  // namespace

Camera orbited(const Camera& camera, const V3f& pivot, float turn, float tilt) {
    const M44f& now = camera.cameraToWorld;
    const V3f right(now[0][0], now[0][1], now[0][2]);
    Camera moved = camera;
    moved.cameraToWorld = now * shiftBy(-pivot) * rotationAbout(right, tilt) *
                          rotationAbout(V3f(0, 1, 0), turn) * shiftBy(pivot);
    return moved;
}

Camera panned(const Camera& camera, float right, float up) {
    Camera moved = camera;
    moved.cameraToWorld = shiftBy({right, up, 0.0F}) * camera.cameraToWorld;
    return moved;
}

Camera dollied(const Camera& camera, float forwards, float narrowing) {
    Camera moved = camera;
    if (camera.orthographic())
        moved.orthographicHeight *= 1.0F - narrowing;
    else
        moved.cameraToWorld = shiftBy({0.0F, 0.0F, -forwards}) * camera.cameraToWorld;
    return moved;
}

}  // namespace noctis
