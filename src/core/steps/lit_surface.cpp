#include "core/steps/lit_surface.h"

#include "core/image/tiles.h"

namespace noctis {

namespace {

constexpr int kBandHeight = 32;

}  // namespace

V3f axisOf(const Camera& camera, int axis) {
    const M44f& m = camera.cameraToWorld;
    return V3f(m[axis][0], m[axis][1], m[axis][2]).normalized();
}

Image worldNormals(const WorkingFrame& frame) {
    Image normals = frame.pass(PassKind::Normal);
    const Pass* measured = frame.context().measured({PassKind::Normal, {}});
    if (measured == nullptr || measured->space != "camera" || normals.channels() < 3)
        return normals;
    const M44f turn = frame.context().camera().cameraToWorld;
    Image turned = Image::unset(normals.width(), normals.height(), {"X", "Y", "Z"});
    float* to[3] = {turned.editPlane(0), turned.editPlane(1), turned.editPlane(2)};
    forEachBand(normals.height(), kBandHeight, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < normals.width(); ++x) {
                V3f world;
                turn.multDirMatrix(V3f(normals(x, y, 0), normals(x, y, 1), normals(x, y, 2)),
                                   world);
                for (int c = 0; c < 3; ++c)
                    to[c][turned.rowStride() * y + x] = world[c];
            }
    });
    return turned;
}

SceneLight lightNamed(const WorkingFrame& frame, const std::string& name, const SceneLight& own) {
    return name.empty() ? own : frame.context().light(name);
}

}  // namespace noctis
