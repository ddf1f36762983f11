#pragma once

#include "core/image/camera.h"
#include "core/image/image.h"
#include "core/image/run_context.h"
#include "core/passes/scene_light.h"

namespace noctis {

struct AirShadowSettings {
    float density = 0.02F;   ///< 1/m
    float scatter = 0.4F;    ///< Henyey and Greenstein's g
    float size = 0.01F;      ///< m, of the lamp
    float reach = 0.0F;      ///< m from the camera; 0: endless
    float thickness = 0.3F;  ///< m; how deep each seen thing is taken to be
    float softness = 0.5F;   ///< degrees, half of how wide the light is seen from the camera
};

/// How much of the light that air scatters along each pixel's ray arrives there in spite of what the picture shows,
/// 0 to 1. A lamp's housing, which is closer to it than the thickness (0.3 m at most), cuts nothing. What lies outside the picture casts nothing.
/// Shape    distance: W x H x 1, radial, m, +inf where nothing was hit; behind: of a second surface that casts, may be
///          empty; the result is W x H x 1.
/// Threads  same bits for any number; stops early when run.stop is requested.
/// Source   each plane through the eye and the light (or along its direction) is a problem of its own in two dimensions
///          (epipolar sampling: Engelhardt and Dachsbacher 2010). For each plane a row says how far the light gets by its
///          angle at the lamp; a pixel's ray crosses these angles in order, each a step of its integral, so that there is
///          neither noise nor banding.
Image airShadow(const Image& distance, const Image& behind, const Camera& camera,
                const SceneLight& light, const AirShadowSettings& settings,
                const RunContext& run = {});

}  // namespace noctis
