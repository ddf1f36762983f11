#pragma once

namespace noctis {

/// A grade along a run of pixels; what is neutral is left out.
struct GradeRow {
    float gain;
    bool balances;
    float balance[3][3];  ///< out[i] = sum of balance[i][j] in[j]
    bool ranges;
    float black;
    float perRange;
    float power;  ///< of gamma
    float contrast;
    float pivot;
    float saturation;
};

/// r, g, b: changed in place; alpha: what they are associated with, may be none.
void gradeRow(const GradeRow& grade, const float* alpha, float* r, float* g, float* b,
              int count) noexcept;

}  // namespace noctis
