#include "app/instruments/measured_frame.h"

#include "core/image/resample.h"
#include "core/passes/world_normals.h"

#include <algorithm>

namespace noctis {

namespace {

constexpr int kCoarseWidth = 320;

}  // namespace

MeasuredFrame measuredFrame(const PassSet& overview, FrameTime time) {
    MeasuredFrame frame;
    frame.time = time;
    frame.shown = {overview.cameraOrAssumed(), std::max(overview.width, 1),
                   std::max(overview.height, 1)};
    frame.lights = overview.lights;
    frame.depth = tryResolvePass(overview, PassKind::Depth);
    if (frame.depth)
        frame.coarseDepth =
            shrinkByCentre(frame.depth->image, std::max(1, overview.width / kCoarseWidth));
    if (const auto normals = tryResolvePass(overview, PassKind::Normal))
        frame.worldNormals = inWorld(*normals, frame.shown.camera);
    return frame;
}

}  // namespace noctis
