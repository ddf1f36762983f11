#include "core/tracer/sequence.h"

#include "core/image/error.h"
#include "core/passes/frame_name.h"
#include "core/scene/animation.h"

#include <algorithm>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr int kMostFrames = 100'000;

/// Where the camera is in the scene's pose, if it is one of the scene's own; as asked otherwise.
Camera cameraOf(const Scene& scene, const View& asked) {
    const auto own = std::find_if(scene.views.begin(), scene.views.end(),
                                  [&](const View& view) { return view.name == asked.name; });
    return own == scene.views.end() ? asked.camera : own->camera;
}

Moment momentAt(Scene& scene, const View& view, double seconds) {
    poseAt(scene, seconds);
    Moment moment{cameraOf(scene, view), {}};
    for (const Instance& instance : scene.instances)
        moment.instances.push_back(instance.toWorld);
    return moment;
}

}  // namespace

SequenceReport renderSequence(Scene& scene, const RenderRequest& request,
                              const SequenceOptions& options, const RunContext& run) {
    if (options.last < options.first || options.last - options.first >= kMostFrames)
        throw Error(ErrorCode::BadSetting,
                    fmt::format("frames {}-{} are no range that can be rendered", options.first,
                                options.last));
    SequenceReport report;
    const int count = options.last - options.first + 1;
    for (int frame = options.first; frame <= options.last && !run.stopped(); ++frame) {
        const int done = frame - options.first;
        const std::filesystem::path file = fileOfFrame(options.pattern, frame);
        if (options.resume && std::filesystem::exists(file)) {
            ++report.skipped;
            continue;
        }
        try {
            const auto at = [&](int f) { return secondsOfFrame(f, options.framesPerSecond); };
            RenderRequest now = request;
            now.before = momentAt(scene, request.view, at(frame - 1));
            now.after = momentAt(scene, request.view, at(frame + 1));
            poseAt(scene, at(frame));
            now.view.camera = cameraOf(scene, request.view);
            const Accelerator accelerator(scene);
            const PassSet set = renderPasses(scene, accelerator, now,
                                             {.stop = run.stop, .progress = [&](float part) {
                                                  run.report((static_cast<float>(done) + part) /
                                                             static_cast<float>(count));
                                              }});
            if (run.stopped())
                break;
            writePasses(file, set, options.packing);
            ++report.written;
        } catch (const std::exception& error) {
            report.failures.push_back(fmt::format("frame {}: {}", frame, error.what()));
        }
        run.report(static_cast<float>(done + 1) / static_cast<float>(count));
    }
    return report;
}

}  // namespace noctis
