#pragma once

#include <cstddef>
#include <optional>
#include <string_view>
#include <vector>

namespace noctis {

/// How a step's result is combined with its input.
enum class Blend {
    Normal,
    Add,
    Subtract,
    Multiply,
    Divide,
    Screen,
    Overlay,
    SoftLight,
    Lighten,
    Darken,
    Difference,
};

struct BlendInfo {
    Blend blend;
    std::string_view id;
    std::string_view label;
};

const std::vector<BlendInfo>& blends();
std::string_view blendId(Blend blend);
std::optional<Blend> blendNamed(std::string_view id);

/// after = before + (blend(before, after) - before) * amount * mask, in place. No mask: 1 everywhere.
/// Range    scene-linear values of any size: screen, overlay and soft light act as usual from 0 to
/// 1,
///          and never darken what is brighter.
/// Exact    Normal with amount 1 leaves after as it is, bit for bit, where the mask is 1, and before where it
///          is 0.
void blendRow(Blend blend, float amount, const float* mask, const float* before, float* after,
              std::size_t count) noexcept;

}  // namespace noctis
