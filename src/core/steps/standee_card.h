#pragma once

#include "core/image/image.h"
#include "core/recipe/frame_context.h"
#include "core/steps/standee.h"

#include <array>
#include <cstdint>
#include <vector>

namespace noctis {

/// What stands: R G B A, associated, its first row its top; from (0, 0) at its top left to (1, 1).
class StandeeCard {
public:
    static constexpr int kSide = 4;  ///< samples across and down a pixel

    /// What a part of it holds everywhere.
    enum class Filling {
        Nothing,
        Solid,  ///< a text's colour, fully covered
        Mixed,
    };

    /// later: frames of a sequence. Errors: Error(FileAccess, BadFile) for a picture or font that can't be read.
    StandeeCard(const StandeeSettings& settings, const FrameContext& context, float pixelsHigh,
                int later = 0);

    [[nodiscard]] bool empty() const { return m_image.empty(); }
    /// Width by height.
    [[nodiscard]] float aspect() const;
    /// Makes it small enough that no detail falls between two samples; called once, before it is sampled.
    void fit(float pixelsHigh);

    [[nodiscard]] std::array<float, 4> at(float u, float v) const noexcept;
    [[nodiscard]] std::array<float, 4> solid() const noexcept {
        return {m_tint.r, m_tint.g, m_tint.b, 1.0F};
    }
    [[nodiscard]] Filling filling(float u0, float u1, float v0, float v1) const noexcept;

private:
    [[nodiscard]] Filling fillingOfBlock(int column, int row) const;
    /// Bilinear; u and v from 0 to 1.
    [[nodiscard]] float sample(const float* plane, float u, float v) const noexcept;

    Image m_image;                       ///< a text is one channel
    std::vector<const float*> m_planes;  ///< its channels
    LinearRgb m_tint;
    int m_columns = 0;
    std::vector<Filling> m_blocks;
};

}  // namespace noctis
