#include "core/image/curve_table.h"

namespace noctis {

CurveTable::CurveTable(double (*curve)(double)) : m_atZero(static_cast<float>(curve(0.0))) {
    const auto first = std::bit_cast<std::uint32_t>(kLeast);
    const auto last = std::bit_cast<std::uint32_t>(kMost);
    for (std::uint32_t bits = first; bits <= last; bits += 1U << kShift)
        m_values.push_back(
            static_cast<float>(curve(static_cast<double>(std::bit_cast<float>(bits)))));
}

}  // namespace noctis
