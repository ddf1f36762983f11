#pragma once

#include "core/image/tiles.h"
#include "core/tracer/accelerator.h"

#include <vector>

namespace noctis {

/// A ray that waits to be traced with others.
struct PacketRay {
    V3f origin;
    V3f direction;
    float to = kNothingHit;
    float from = 0.0F;
};

/// What each ray meets first; sixteen go together, which is some times as fast as one by one where
/// neighbours run alike.
/// hits: one a ray. normals: none, or one a ray; unit, of the triangle that is met, towards the ray's origin.
void intersectAll(const Accelerator& accelerator, const PacketRay* rays, std::size_t count,
                  Hit* hits, V3f* normals = nullptr) noexcept;
/// Whether anything is met before a ray's end.
/// blocked: one a ray, 0 or 1.
void occludedAll(const Accelerator& accelerator, const PacketRay* rays, std::size_t count,
                 unsigned char* blocked) noexcept;

/// Which pixels of a picture have their own ray.
enum class Traced {
    Every,
    Second,  ///< as the white squares of a chessboard: where x + y is even
};
[[nodiscard]] constexpr bool isTraced(Traced traced, int x, int y) noexcept {
    return traced == Traced::Every || (x + y) % 2 == 0;
}

/// The rays through a tile's pixel centres, square by square, so that those of a packet run alike.
struct TileRays {
    std::vector<PacketRay> rays;
    std::vector<int> pixels;    ///< which pixel of the tile each belongs to, counted row by row
    std::vector<float> planar;  ///< see CameraRay::planarPerDistance
};
void raysOfTile(const Camera& camera, int width, int height, const Tile& tile, Traced traced,
                TileRays& out);

}  // namespace noctis
