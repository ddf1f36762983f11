#pragma once

#include "core/steps/blur_surfaces.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace noctis {

// How blur_surfaces.cpp finds, along one line of a picture, where surfaces end behind others. For it alone.

inline constexpr std::int8_t kNoLayer = 127;
/// Radii this near to each other blur as one.
inline constexpr float kSameRadius = 0.35F;

/// What a sweep along a row or column finds for a pixel.
struct Found {
    std::int16_t distance = 0;  ///< to the edge behind which a farther surface goes on; 0: none
    std::int16_t source = 0;    ///< pixels back to where that surface shows
    /// Farther layers of the very surface, which goes on in them.
    std::array<std::int8_t, 2> seams{kNoLayer, kNoLayer};

    [[nodiscard]] bool empty() const noexcept { return distance == 0 && seams[0] == kNoLayer; }
};

/// Whether a line is one surface in one layer, so that no sweep finds anything in it.
inline bool isPlain(const float* radii, const std::int8_t* layers, int count) noexcept {
    bool plain = true;
    for (int i = 1; i < count; ++i)
        plain &= layers[i] == layers[i - 1] && std::abs(radii[i] - radii[i - 1]) <= kSameRadius;
    return plain;
}

inline bool nearlySame(float difference, float a, float b) noexcept {
    return std::abs(difference) <= kSameRadius + 0.04F * std::max(std::abs(a), std::abs(b));
}

/// Whether two surfaces meet between b and c, of four radii in a line.
inline bool isEdge(float a, float b, float c, float d) noexcept {
    const float step = c - b;
    return !nearlySame(step, b, c) && !nearlySame(step - (b - a), b, c) &&
           !nearlySame(step - (d - c), b, c);
}

/// A surface that ended where a nearer one began.
struct Ended {
    int edge;      ///< the first place of the nearer
    float radius;  ///< of the last place of the farther
    int run;       ///< for how many places it had been seen
};

struct Seam {
    int start;
    float reach;
    std::int8_t layer;
};

/// Goes along a line from its first place to its last.
class Sweep {
public:
    Sweep(const float* radii, const std::int8_t* layers, int count)
        : m_radii(radii), m_layers(layers), m_count(count) {}

    template <typename Take> void run(const Take& take) {
        for (int i = 0; i < m_count; ++i) {
            if (i > 0)
                step(i);
            take(i, found(i));
        }
    }

private:
    [[nodiscard]] float radius(int i) const noexcept {
        return m_radii[std::clamp(i, 0, m_count - 1)];
    }

    void step(int i) noexcept {
        const float now = m_radii[i];
        const float last = m_radii[i - 1];
        const bool quiet = nearlySame(now - last, last, now);
        if (quiet || !isEdge(radius(i - 2), last, now, radius(i + 1))) {
            ++m_run;
            crossLayers(i);
        } else {
            m_seams = 0;
            if (now < last) {
                if (m_depth < m_ended.size())
                    m_ended[m_depth++] = {i, last, m_run};
                else {
                    std::move(m_ended.begin() + 1, m_ended.end(), m_ended.begin());
                    m_ended.back() = {i, last, m_run};
                }
            }
            m_run = 1;
        }
        while (m_depth > 0 && m_ended[m_depth - 1].radius <= now)
            --m_depth;
    }

    void crossLayers(int i) noexcept {
        const std::int8_t now = m_layers[i];
        const std::int8_t last = m_layers[i - 1];
        if (now == last)
            return;
        if (now < last) {
            if (m_seams == m_open.size())
                std::move(m_open.begin() + 1, m_open.end(), m_open.begin());
            else
                ++m_seams;
            m_open[m_seams - 1] = {i, 2.0F * std::abs(m_radii[i]) + 2.0F, last};
            return;
        }
        while (m_seams > 0 && m_open[m_seams - 1].layer <= now)
            --m_seams;
    }

    [[nodiscard]] Found found(int i) const noexcept {
        Found out;
        if (m_depth > 0) {
            const Ended& ended = m_ended[m_depth - 1];
            const int distance = i - ended.edge + 1;
            if (static_cast<float>(distance) <=
                    std::abs(m_radii[i]) + std::abs(ended.radius) + 2.0F &&
                layerOf(ended.radius) > m_layers[i]) {
                out.distance = static_cast<std::int16_t>(distance);
                // Its last place may be mixed with the nearer surface.
                const int back = std::min(distance, ended.run - 1);
                out.source = static_cast<std::int16_t>(i - (ended.edge - 1 - back));
            }
        }
        std::size_t filled = 0;
        for (std::size_t s = 0; s < m_seams; ++s)
            if (static_cast<float>(i - m_open[s].start) <= m_open[s].reach)
                out.seams[filled++] = m_open[s].layer;
        return out;
    }

    const float* m_radii;
    const std::int8_t* m_layers;
    int m_count;
    int m_run = 1;
    std::array<Ended, 8> m_ended{};
    std::size_t m_depth = 0;
    std::array<Seam, 2> m_open{};
    std::size_t m_seams = 0;
};

}  // namespace noctis
