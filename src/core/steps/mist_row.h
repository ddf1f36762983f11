#pragma once

namespace noctis {

/// Mist along a run of pixels.
struct MistRow {
    bool isShare;  ///< the pass is how thick it is; otherwise depth in m
    float begins;
    float perMetre;
    float power;
    float tint[3];
};

/// r, g, b: changed in place; alpha: what they are associated with, may be none.
void mistRow(const MistRow& mist, const float* pass, const float* alpha, float* r, float* g,
             float* b, int count) noexcept;

}  // namespace noctis
