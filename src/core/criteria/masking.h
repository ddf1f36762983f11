#pragma once

#include "core/criteria/band_row.h"
#include "core/recipe/criterion_type.h"

#include <algorithm>
#include <cmath>
#include <tuple>

namespace noctis {

// Shared by criteria: how edges rise, and what an edge against the background covers.

/// 0 well below an edge, 1 well above it, rising straight over soft about it; without soft, the edge itself
/// counts as in.
class Edge {
public:
    Edge(float at, float soft)
        : m_at(at), m_perUnit(1.0F / std::max(soft, 1e-12F)), m_bias(soft > 0.0F ? 0.5F : 1.0F) {}
    [[nodiscard]] float over(float value) const noexcept {
        return std::clamp((value - m_at) * m_perUnit + m_bias, 0.0F, 1.0F);
    }
    [[nodiscard]] float under(float value) const noexcept {
        return std::clamp((m_at - value) * m_perUnit + m_bias, 0.0F, 1.0F);
    }

private:
    float m_at;
    float m_perUnit;
    float m_bias;
};

/// 1 between the ends of a span; an open end has no edge. NaN gives 0.
class Band {
public:
    Band(const Span& span, float soft) {
        const float perUnit = 1.0F / std::max(soft, 1e-12F);
        const float bias = soft > 0.0F ? 0.5F : 1.0F;
        if (std::isfinite(span.from))
            std::tie(m_row.from, m_row.fromPerUnit, m_row.fromBias) =
                std::tuple(span.from, perUnit, bias);
        if (std::isfinite(span.to))
            std::tie(m_row.to, m_row.toPerUnit, m_row.toBias) = std::tuple(span.to, perUnit, bias);
    }
    [[nodiscard]] float at(float value) const noexcept {
        float mask = 0.0F;
        bandRow(m_row, &value, &mask, 1);
        return mask;
    }
    void fill(const float* values, float* mask, int count) const noexcept {
        bandRow(m_row, values, mask, count);
    }

private:
    BandRow m_row{0.0F, 0.0F, 1.0F, 0.0F, 0.0F, 1.0F};
};

/// Which pixels hit something, and how much of each is covered by it.
class Hits {
public:
    explicit Hits(const WorkingFrame& frame);
    [[nodiscard]] bool at(int x, int y) const noexcept;
    /// Mixes a mask of surfaces with what it is on the background, by coverage.
    void cover(const MaskRow& row, float background) const noexcept;

private:
    Image m_depth;
    Image m_coverage;
    Image m_position;
};

/// A criterion of surfaces, 0 where nothing was hit: at(x, y) is 0..1, or NaN, which counts as 0.
template <typename At> MaskFunction maskOfSurfaces(const WorkingFrame& frame, const At& at) {
    return [hits = Hits(frame), at](const MaskRow& row) {
        for (int i = 0; i < row.count; ++i) {
            const float value = hits.at(row.x + i, row.y) ? at(row.x + i, row.y) : 0.0F;
            row.mask[i] = value >= 0.0F ? value : 0.0F;
        }
        hits.cover(row, 0.0F);
    };
}

/// The centre of a working pixel, in pixels of the full picture.
inline V2f fullPixel(const WorkingFrame& frame, int x, int y) noexcept {
    const auto factor = static_cast<float>(frame.context().factor());
    return {(static_cast<float>(x) + 0.5F) * factor, (static_cast<float>(y) + 0.5F) * factor};
}

/// "beyond 12 m", "nearer than 4 m", "2 m to 8 m".
std::string spanText(const Span& span, Unit unit, const char* over, const char* under);

}  // namespace noctis
