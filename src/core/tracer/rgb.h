#pragma once

#include "core/image/colour.h"

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
[[nodiscard]] inline float largest(const LinearRgb& c) noexcept {
    return std::max({c.r, c.g, c.b});
}

}  // namespace noctis
