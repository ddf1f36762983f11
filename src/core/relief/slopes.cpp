#include "core/relief/slopes.h"

#include "core/image/tiles.h"

#include <limits>

namespace noctis {

Slopes slopesOfNormals(const Image& normals, const RunContext& run) {
    constexpr float kLeastFacing = 0.01F;  // 89.4 degrees
    const int w = normals.width();
    const int h = normals.height();
    Slopes slopes{Image::unset(w, h, {"Y"}), Image::unset(w, h, {"Y"})};
    float* right = slopes.right.editPlane(0);
    float* up = slopes.up.editPlane(0);
    forEachBand(h, 32, run, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < w; ++x) {
                const std::ptrdiff_t i = slopes.right.rowStride() * y + x;
                const float facing = normals(x, y, 2);
                right[i] = facing > kLeastFacing ? -normals(x, y, 0) / facing : kNotKnown;
                up[i] = facing > kLeastFacing ? -normals(x, y, 1) / facing : kNotKnown;
            }
    });
    return slopes;
}

}  // namespace noctis
