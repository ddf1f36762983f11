#include "core/passes/world_normals.h"

#include "core/image/tiles.h"

namespace noctis {

namespace {}  // namespace

V3f normalInWorld(const Pass& normals, const Camera& camera, int x, int y) {
    const Image& from = normals.image;
    if (from.channels() < 3)
        return V3f(0.0F);
    const V3f stored(from(x, y, 0), from(x, y, 1), from(x, y, 2));
    if (normals.space != "camera")
        return stored;
    V3f world;
    camera.cameraToWorld.multDirMatrix(stored, world);
    return world;
}

Image inWorld(const Pass& normals, const Camera& camera) {
    const Image& from = normals.image;
    if (normals.space != "camera" || from.channels() < 3)
        return from;
    Image turned = Image::unset(from.width(), from.height(), {"X", "Y", "Z"});
    float* to[3] = {turned.editPlane(0), turned.editPlane(1), turned.editPlane(2)};
    forEachBand(from.height(), kBandHeight, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < from.width(); ++x) {
                const V3f world = normalInWorld(normals, camera, x, y);
                for (int c = 0; c < 3; ++c)
                    to[c][turned.rowStride() * y + x] = world[c];
            }
    });
    return turned;
}

}  // namespace noctis
