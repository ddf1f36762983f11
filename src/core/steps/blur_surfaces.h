#pragma once

#include "core/image/image.h"
#include "core/image/run_context.h"

#include <cstdint>
#include <vector>

namespace noctis {

// A picture taken apart into pieces of surface, each with one blur radius, so that a lens that sees past
// the edge of a near thing finds what stands behind it.
//
// Radii are signed pixels, negative before the focus, and grow with distance; they are linear in 1/z, and
// so linear along any plane in the picture. That separates an edge from a steep slope.

/// Layers are numbered from the nearest (most negative) to the farthest; 0 is sharp. Each holds radii
/// within a factor of 1.4 (2 below 2 px).
int layerOf(float signedRadius) noexcept;
/// The least size of a radius in the layer, px.
float leastRadiusOf(int layer) noexcept;

/// Part of a pixel, or of what it hides.
struct SurfacePiece {
    float colour[3];
    float weight = 1.0F;  ///< part of the pixel that it covers, 0 to 1
    float radius = 0.0F;
    std::int32_t x = 0;
    int layer = 0;
};

struct BlurSurfaces {
    static constexpr std::int8_t kInPieces = 127;

    int width = 0;
    int height = 0;
    /// The layer of each pixel that is one whole piece; kInPieces for the others.
    std::vector<std::int8_t> whole;
    /// All other pieces, by row.
    std::vector<std::vector<SurfacePiece>> pieces;

    [[nodiscard]] const std::int8_t* wholeRow(int y) const noexcept {
        return whole.data() + static_cast<std::ptrdiff_t>(width) * y;
    }
    /// Whether any piece of the row is in the layer.
    [[nodiscard]] bool holds(int y, int layer) const noexcept {
        return ((layers[static_cast<std::size_t>(y)] >> (layer + kLayerBias)) & 1U) != 0;
    }
    static constexpr int kLayerBias = 31;
    std::vector<std::uint64_t> layers;  ///< those of each row, a bit each, from -kLayerBias on
};

/// What a picture's own pixels hide, where it was measured; both empty where it was not.
struct HiddenPieces {
    Image colour;  ///< R G B
    Image radius;  ///< signed
    /// The visible surfaces in the light of colour; empty where the picture is in the same.
    Image seenThen;
};

/// What of a picture's light is taken apart. The whole picture decides where surfaces are.
struct TakenLight {
    Image share{};        ///< R G B, 0..1; empty: all of it
    bool ofLight = true;  ///< the picture's light times share; or share itself
};

/// Takes a picture apart:
/// - a pixel at an edge, which shows part of two surfaces, becomes a piece of each;
/// - near an edge, the farther surface goes on behind the nearer: as measured, or else as the surface
///   just beside the edge, mirrored at it;
/// - where one surface goes over from a layer to a nearer one, it goes on a little in both.
BlurSurfaces surfacesOf(const Image& colour, const Image& radius, const HiddenPieces& hidden,
                        const RunContext& run, const TakenLight& taken = {});

}  // namespace noctis
