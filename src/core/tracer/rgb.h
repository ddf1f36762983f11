#pragma once

#include "core/image/image.h"

#include <algorithm>

namespace noctis {

[[nodiscard]] inline LinearRgb operator+(const LinearRgb& a, const LinearRgb& b) noexcept {
    return {a.r + b.r, a.g + b.g, a.b + b.b};
}
[[nodiscard]] inline LinearRgb operator*(const LinearRgb& a, const LinearRgb& b) noexcept {
    return {a.r * b.r, a.g * b.g, a.b * b.b};
}
[[nodiscard]] inline LinearRgb operator*(const LinearRgb& a, float f) noexcept {
    return {a.r * f, a.g * f, a.b * f};
}
[[nodiscard]] inline LinearRgb mix(const LinearRgb& a, const LinearRgb& b, float t) noexcept {
    return a * (1.0F - t) + b * t;
}
/// Source: ITU-R BT.709.
[[nodiscard]] inline float luminance(const LinearRgb& c) noexcept {
    return 0.2126F * c.r + 0.7152F * c.g + 0.0722F * c.b;
}
[[nodiscard]] inline float largest(const LinearRgb& c) noexcept {
    return std::max({c.r, c.g, c.b});
}

}  // namespace noctis
