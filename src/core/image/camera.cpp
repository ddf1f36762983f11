#include "core/image/camera.h"

#include <cmath>

namespace noctis {

CameraRay cameraRay(const Camera& camera, float x, float y, int width, int height) {
    return FrameRays(camera, width, height).through(x, y);
}

FrameRays::FrameRays(const Camera& camera, int width, int height)
    : m_camera(camera), m_width(static_cast<float>(width)), m_height(static_cast<float>(height)),
      m_half(camera.orthographic() ? 0.5F * camera.orthographicHeight
                                   : std::tan(0.5F * camera.yfovRadians)) {}

CameraRay FrameRays::through(float x, float y) const {
    const float u = (2.0F * x - m_width) / m_height;
    const float v = (m_height - 2.0F * y) / m_height;
    CameraRay ray;
    if (m_camera.orthographic()) {
        ray.origin = V3f(u * m_half, v * m_half, 0.0F) * m_camera.cameraToWorld;
        m_camera.cameraToWorld.multDirMatrix(V3f(0.0F, 0.0F, -1.0F), ray.direction);
        ray.direction.normalize();
        return ray;
    }
    V3f local(u * m_half, v * m_half, -1.0F);
    local.normalize();
    ray.origin = m_camera.position();
    m_camera.cameraToWorld.multDirMatrix(local, ray.direction);
    ray.planarPerDistance = -local.z;
    return ray;
}

RowOfRays FrameRays::row(int x, int y) const {
    const float middle = static_cast<float>(y) + 0.5F;
    const CameraRay first = through(static_cast<float>(x) + 0.5F, middle);
    const CameraRay second = through(static_cast<float>(x) + 1.5F, middle);
    const V3f way = first.direction / first.planarPerDistance;
    return {first.origin, second.origin - first.origin, way,
            second.direction / second.planarPerDistance - way};
}

V3f project(const Camera& camera, const V3f& world, int width, int height) {
    const auto w = static_cast<float>(width);
    const auto h = static_cast<float>(height);
    const V3f local = world * camera.cameraToWorld.inverse();
    const float depth = -local.z;
    const float half = camera.orthographic() ? 0.5F * camera.orthographicHeight
                                             : depth * std::tan(0.5F * camera.yfovRadians);
    return {0.5F * (w + local.x / half * h), 0.5F * (h - local.y / half * h), depth};
}

float xfovOf(const Camera& camera, float aspect) {
    return 2.0F * std::atan(std::tan(0.5F * camera.yfovRadians) * aspect);
}

float yfovFromXfov(float xfovRadians, float aspect) {
    return 2.0F * std::atan(std::tan(0.5F * xfovRadians) / aspect);
}

float focalLengthOf(const Camera& camera, float sensorMillimetres, float aspect) {
    return 0.5F * sensorMillimetres / (aspect * std::tan(0.5F * camera.yfovRadians));
}

float yfovFromLens(float focalMillimetres, float sensorMillimetres, float aspect) {
    return 2.0F * std::atan(0.5F * sensorMillimetres / (aspect * focalMillimetres));
}

M44f worldToNdc(const Camera& camera, float aspect) {
    const float n = camera.nearDistance;
    const float f = camera.farDistance;
    M44f projection;
    if (camera.orthographic()) {
        const float top = 0.5F * camera.orthographicHeight;
        projection = M44f(1.0F / (top * aspect), 0, 0, 0, 0, 1.0F / top, 0, 0, 0, 0,
                          -2.0F / (f - n), 0, 0, 0, -(f + n) / (f - n), 1);
    } else {
        const float scale = 1.0F / std::tan(0.5F * camera.yfovRadians);
        projection = M44f(scale / aspect, 0, 0, 0, 0, scale, 0, 0, 0, 0, -(f + n) / (f - n), -1, 0,
                          0, -2.0F * f * n / (f - n), 0);
    }
    return camera.cameraToWorld.inverse() * projection;
}

Camera cameraFromMatrices(const M44f& worldToCamera, const M44f& worldToNdc) {
    Camera camera;
    camera.cameraToWorld = worldToCamera.inverse();
    const M44f projection = camera.cameraToWorld * worldToNdc;
    const float scale = projection[1][1];
    if (std::abs(projection[2][3]) < 1e-6F)
        camera.orthographicHeight = 2.0F / scale;
    else
        camera.yfovRadians = 2.0F * std::atan(1.0F / scale);
    return camera;
}

Camera assumedCamera(float yfovRadians) {
    Camera camera;
    camera.yfovRadians = yfovRadians;
    return camera;
}

Camera lookingAt(const V3f& eye, const V3f& target, float yfovRadians) {
    const V3f back = (eye - target).normalized();
    V3f right = V3f(0, 1, 0).cross(back);
    if (right.length() < 1e-5F)
        right = V3f(1, 0, 0);
    right.normalize();
    const V3f up = back.cross(right);
    Camera camera;
    camera.yfovRadians = yfovRadians;
    camera.cameraToWorld = M44f(right.x, right.y, right.z, 0, up.x, up.y, up.z, 0, back.x, back.y,
                                back.z, 0, eye.x, eye.y, eye.z, 1);
    return camera;
}

}  // namespace noctis
