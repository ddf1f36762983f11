#include "core/criteria/masking.h"

#include <fmt/format.h>

namespace noctis {

Hits::Hits(const WorkingFrame& frame)
    : m_depth(frame.passIfThere({PassKind::Depth, {}})),
      m_coverage(frame.passIfThere({PassKind::Coverage, {}})) {
    if (m_depth.empty() && m_coverage.empty())
        m_position = frame.passIfThere({PassKind::Position, {}});
}

bool Hits::at(int x, int y) const noexcept {
    if (!m_depth.empty())
        return std::isfinite(m_depth(x, y, 0));
    if (!m_coverage.empty())
        return m_coverage(x, y, 0) > 0.0F;
    return m_position.empty() || m_position(x, y, 0) != 0.0F || m_position(x, y, 1) != 0.0F ||
           m_position(x, y, 2) != 0.0F;
}

void Hits::cover(const MaskRow& row, float background) const noexcept {
    if (m_coverage.empty())
        return;
    const float* coverage = m_coverage.row(0, row.y) + row.x;
    for (int i = 0; i < row.count; ++i) {
        const float share = coverage[i] >= 0.0F ? std::min(coverage[i], 1.0F) : 0.0F;
        row.mask[i] = background + (row.mask[i] - background) * share;
    }
}

std::string spanText(const Span& span, Unit unit, const char* over, const char* under) {
    const bool from = std::isfinite(span.from);
    const bool to = std::isfinite(span.to);
    if (from && to)
        return fmt::format("{} to {}", formatNumber(span.from, unit), formatNumber(span.to, unit));
    if (from)
        return fmt::format("{} {}", over, formatNumber(span.from, unit));
    return to ? fmt::format("{} {}", under, formatNumber(span.to, unit)) : "all";
}

}  // namespace noctis
