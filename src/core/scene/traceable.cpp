#include "core/scene/traceable.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace noctis {

namespace {

constexpr float kLeastAngle = 1e-4F;  // radians
constexpr float kWidestAngle = 3.13F;
constexpr float kBrightestHalf = 65504.0F;

bool change(float& value, float to) {
    const bool differs = !(value == to);
    value = to;
    return differs;
}

bool within(float& value, float least, float most, float otherwise) {
    return change(value, std::isfinite(value) ? std::clamp(value, least, most) : otherwise);
}

bool within(V3f& v) {
    bool changed = false;
    for (int i = 0; i < 3; ++i)
        changed = within(v[i], -kFarthest, kFarthest, 0.0F) || changed;
    return changed;
}

bool positive(LinearRgb& colour) {
    bool changed = false;
    for (float* part : {&colour.r, &colour.g, &colour.b})
        changed = within(*part, 0.0F, std::numeric_limits<float>::max(), 0.0F) || changed;
    return changed;
}

bool hasAxes(const M44f& m) {
    const V3f x(m[0][0], m[0][1], m[0][2]);
    const V3f y(m[1][0], m[1][1], m[1][2]);
    const V3f z(m[2][0], m[2][1], m[2][2]);
    const float volume = std::abs(x.cross(y).dot(z));
    return isFinite(x) && isFinite(y) && isFinite(z) && std::isfinite(volume) && volume > 1e-12F;
}

bool finitePanorama(Image& image) {
    float brightest = kBrightestHalf;
    bool changed = false;
    for (int c = 0; c < image.channels(); ++c)
        for (int y = 0; y < image.height(); ++y)
            for (int x = 0; x < image.width(); ++x) {
                const float value = image(x, y, c);
                changed = changed || !std::isfinite(value) || value < 0.0F;
                if (std::isfinite(value))
                    brightest = std::max(brightest, value);
            }
    if (!changed)
        return false;
    for (int c = 0; c < image.channels(); ++c) {
        float* plane = image.editPlane(c);
        for (int y = 0; y < image.height(); ++y)
            for (int x = 0; x < image.width(); ++x) {
                float& value = plane[image.rowStride() * y + x];
                value = value > 0.0F ? std::min(value, brightest) : 0.0F;
            }
    }
    return true;
}

}  // namespace

bool isFinite(const V3f& v) noexcept {
    return std::isfinite(v.x) && std::isfinite(v.y) && std::isfinite(v.z);
}

bool isFinite(const M44f& m) noexcept {
    return std::all_of(m.getValue(), m.getValue() + 16, [](float v) { return std::isfinite(v); });
}

bool makeTraceable(Camera& camera) {
    M44f& m = camera.cameraToWorld;
    V3f place = m.translation();
    bool changed = within(place);
    if (!hasAxes(m)) {
        m = M44f();
        changed = true;
    }
    for (int i = 0; i < 3; ++i)
        m[3][i] = place[i];
    changed =
        within(camera.yfovRadians, kLeastAngle, kWidestAngle, Camera().yfovRadians) || changed;
    changed = within(camera.orthographicHeight, 0.0F, kFarthest, 1.0F) || changed;
    return changed;
}

bool makeTraceable(Sky& sky) {
    bool changed = false;
    for (LinearRgb* colour : {&sky.zenith, &sky.horizon, &sky.ground})
        changed = positive(*colour) || changed;
    changed = within(sky.strength, 0.0F, kFarthest, 1.0F) || changed;
    return finitePanorama(sky.panorama) || changed;
}

bool makeTraceable(Light& light) {
    bool changed = positive(light.power);
    changed = within(light.position) || changed;
    if (!isFinite(light.direction) ||
        (light.kind != LightKind::Point && light.direction.length2() == 0.0F)) {
        light.direction = Light().direction;
        changed = true;
    }
    changed = within(light.radius, 0.0F, kFarthest, 0.0F) || changed;
    changed = within(light.angleRadians, 0.0F, kWidestAngle, Light().angleRadians) || changed;
    changed = within(light.innerRadians, 0.0F, kWidestAngle, Light().innerRadians) || changed;
    return within(light.outerRadians, 0.0F, kWidestAngle, Light().outerRadians) || changed;
}

}  // namespace noctis
