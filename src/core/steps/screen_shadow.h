#pragma once

#include "core/image/camera.h"
#include "core/image/image.h"
#include "core/image/run_context.h"
#include "core/passes/scene_light.h"

namespace noctis {

struct ScreenShadowSettings {
    float length = 1.0F;     ///< m; what is farther off casts nothing
    float thickness = 0.3F;  ///< m; how deep each seen thing is taken to be
    float softness = 0.5F;   ///< degrees, half of how wide the light is seen
};

/// What a shadow is marched through.
struct SeenGeometry {
    Camera camera;
    Image depth;        ///< planar, m; +inf where nothing was hit
    Image normals;      ///< in the world, unit
    Image behindDepth;  ///< a second surface that casts; may be empty
};

/// How much of a light each pixel sees, 0 to 1, by marching towards it through what the picture shows.
/// 1 where nothing was hit and where a surface faces away. What lies outside the picture casts nothing,
/// and shadows fade towards its border.
/// Shape    W x H x 1.
/// Threads  same bits for any thread count; stops early when run.stop is requested.
/// Source   rays through a depth buffer, as McGuire and Mara 2014, Efficient GPU Screen-Space Ray
///          Tracing; soft ones share 32 directions among blocks of 4 x 4 pixels, averaged over each
///          block's size within a surface (interleaved sampling, Keller and Heidrich 2001).
Image screenShadow(const SeenGeometry& seen, const SceneLight& light,
                   const ScreenShadowSettings& settings, const RunContext& run = {});

}  // namespace noctis
