#pragma once

#include <numbers>

namespace noctis {

inline constexpr float kPi = std::numbers::pi_v<float>;
inline constexpr float kRadians = kPi / 180.0F;  ///< of a degree

}  // namespace noctis
