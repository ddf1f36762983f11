#pragma once

#include "core/image/angle.h"
#include "core/image/camera.h"

#include <cmath>

namespace noctis {

/// Two unit vectors that make a right-handed frame with a unit normal.
/// Source: Duff et al. 2017, Building an Orthonormal Basis, Revisited.
struct TangentFrame {
    V3f tangent;
    V3f bitangent;
    V3f normal;

    explicit TangentFrame(const V3f& n) noexcept : normal(n) {
        const float sign = std::copysign(1.0F, n.z);
        const float a = -1.0F / (sign + n.z);
        const float b = n.x * n.y * a;
        tangent = {1.0F + sign * n.x * n.x * a, sign * b, -sign * n.x};
        bitangent = {b, sign + n.y * n.y * a, -n.y};
    }
    [[nodiscard]] V3f toWorld(const V3f& v) const noexcept {
        return tangent * v.x + bitangent * v.y + normal * v.z;
    }
    [[nodiscard]] V3f toLocal(const V3f& v) const noexcept {
        return {v.dot(tangent), v.dot(bitangent), v.dot(normal)};
    }
};

/// Uniform on the unit disc, area-preserving. Source: Shirley and Chiu 1997.
[[nodiscard]] inline V2f discFromSquare(float u, float v) noexcept {
    const float a = 2.0F * u - 1.0F;
    const float b = 2.0F * v - 1.0F;
    if (a == 0.0F && b == 0.0F)
        return {0.0F, 0.0F};
    const bool wide = std::abs(a) > std::abs(b);
    const float r = wide ? a : b;
    const float phi = wide ? kPi / 4.0F * (b / a) : kPi / 2.0F - kPi / 4.0F * (a / b);
    return {r * std::cos(phi), r * std::sin(phi)};
}

/// Uniform in a cone about +Z.
[[nodiscard]] inline V3f coneFromSquare(float u, float v, float cosine) noexcept {
    const float z = 1.0F - u * (1.0F - cosine);
    const float r = std::sqrt(std::fmax(0.0F, 1.0F - z * z));
    return {r * std::cos(2.0F * kPi * v), r * std::sin(2.0F * kPi * v), z};
}

}  // namespace noctis
