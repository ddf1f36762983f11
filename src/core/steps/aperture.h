#pragma once

#include <cstdint>
#include <vector>

namespace noctis {

/// The outline of a lens's opening.
struct ApertureShape {
    int blades = 0;  ///< fewer than 3: round
    float rotationDegrees = 0.0F;
    float roundness = 0.0F;  ///< 0 straight blades, 1 round

    bool operator==(const ApertureShape&) const = default;
};

/// One row of a blurred point: whole pixels from left to right, and the parts of the pixels just
/// beyond.
struct ApertureSpan {
    std::int16_t left = 0;
    std::int16_t right = -1;  ///< left > right: no whole pixel
    float leftPart = 0.0F;
    float rightPart = 0.0F;
};

/// A point blurred to one radius: its rows from -reach to +reach. All parts times weight sum to 1. Its variance, over
/// whole pixels, is that of the shape itself: r^2/4 along an axis for a disc, from 0 up.
struct ApertureKernel {
    int reach = 0;
    float weight = 1.0F;
    std::vector<ApertureSpan> rows;
};

/// Kernels of one shape for radii from 0 to a largest one, finely stepped.
class ApertureKernels {
public:
    ApertureKernels(const ApertureShape& shape, float largestRadius);

    /// The index of the kernel nearest to a radius in pixels, 0 <= radius.
    [[nodiscard]] int indexOf(float radius) const noexcept;
    [[nodiscard]] const ApertureKernel& at(int index) const noexcept {
        return m_kernels[static_cast<std::size_t>(index)];
    }

private:
    std::vector<ApertureKernel> m_kernels;
};

}  // namespace noctis
