#pragma once

#include "core/image/run_context.h"
#include "core/relief/height_field.h"

namespace noctis {

/// A plane of the scene: a point of it and the way heights are counted.
struct ScenePlane {
    V3f point{0.0F};
    V3f normal{0.0F, 1.0F, 0.0F};
};

/// The plane most of what was seen lies about, facing the viewer.
/// Source   least squares over points, three times with what is far off left out.
ScenePlane fittedPlane(const Image& position, const Image& depth, const V3f& viewer);

/// Axes on a plane: up the picture is -Z on level ground, and as near to +Y as can be elsewhere.
HeightPlane axesOn(const ScenePlane& plane);

/// How far apart the pixels' points lie on what faces the viewer, m: the median.
float pixelSpacing(const Image& position, const Image& depth);

struct LaySettings {
    ScenePlane plane;
    float metresPerPixel = 0.01F;
    float within = 0.0F;  ///< m from the camera; farther points are left out; 0: none are
};

/// Heights over a plane, of what a view in perspective saw: the pixels' points are joined to triangles
/// where no edge lies between them, and each cell has the highest triangle above it.
///
/// Shape    position: X Y Z; depth: Z. The field's size follows from what was seen and metresPerPixel.
/// Range    depth not finite: nothing was hit there.
/// Errors   Error(BadFile) where nothing was hit, Error(TooLarge).
/// Threads  same bits for any number.
HeightField layOnPlane(const Image& position, const Image& depth, const V3f& viewer,
                       const LaySettings& settings, const RunContext& run = {});

}  // namespace noctis
