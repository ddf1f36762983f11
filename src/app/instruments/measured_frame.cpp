#include "app/instruments/measured_frame.h"

#include "core/image/resample.h"
#include "core/passes/statistics.h"
#include "core/passes/world_normals.h"

#include <algorithm>

namespace noctis {

namespace {

constexpr int kCoarseWidth = 320;

}  // namespace

MeasuredFrame measuredFrame(const PassSet& overview, FrameTime time) {
    MeasuredFrame frame;
    frame.time = time;
    frame.shown.camera = overview.cameraOrAssumed();
    frame.shown.width = std::max(overview.width, 1);
    frame.shown.height = std::max(overview.height, 1);
    frame.lights = overview.lights;
    frame.depth = tryResolvePass(overview, PassKind::Depth);
    if (frame.depth) {
        frame.coarseDepth =
            shrinkByCentre(frame.depth->image, std::max(1, overview.width / kCoarseWidth));
        const Statistics range = statisticsOf(frame.coarseDepth, 0);
        frame.shown.nearest = std::max(range.minimum, 0.0F);
        frame.shown.farthest = std::max(range.maximum, 0.0F);
    }
    if (const auto normals = tryResolvePass(overview, PassKind::Normal))
        frame.worldNormals = inWorld(*normals, frame.shown.camera);
    return frame;
}

}  // namespace noctis
