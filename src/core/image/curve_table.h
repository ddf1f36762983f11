#pragma once

#include <bit>
#include <cstdint>
#include <vector>

namespace noctis {

/// A curve over non-negative values, as a table: 256 places an octave from 2^-20 to 2^12, straight between them
/// and down to 0. Reading it takes a fraction of the time of a logarithm or a power.
/// Exact    within 3e-6 of its height for curves as smooth as powers and logarithms are.
class CurveTable {
public:
    explicit CurveTable(double (*curve)(double));

    /// Values below 0 and NaN read as 0; values beyond the table read as its end.
    [[nodiscard]] float at(float x) const noexcept {
        if (!(x >= kLeast))
            return x > 0.0F ? m_atZero + (m_values.front() - m_atZero) * (x / kLeast) : m_atZero;
        if (x >= kMost)
            return m_values.back();
        const std::uint32_t place =
            std::bit_cast<std::uint32_t>(x) - std::bit_cast<std::uint32_t>(kLeast);
        const float* const value = &m_values[place >> kShift];
        const auto part =
            static_cast<float>(place & ((1U << kShift) - 1U)) * (1.0F / (1U << kShift));
        return value[0] + (value[1] - value[0]) * part;
    }

private:
    static constexpr float kLeast = 0x1p-20F;
    static constexpr float kMost = 0x1p12F;
    static constexpr unsigned kShift = 15;  ///< bits of a float within one of the 256 places

    float m_atZero;
    std::vector<float> m_values;
};

}  // namespace noctis
