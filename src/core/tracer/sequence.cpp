#include "core/tracer/sequence.h"

#include "core/image/error.h"
#include "core/passes/frame_name.h"
#include "core/scene/animation.h"
#include "core/tracer/render_file.h"

#include <algorithm>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr int kMostFrames = 100'000;

/// Whether all that a frame would write is there.
bool isThere(const std::filesystem::path& file, const RenderRequest& request, PassLayout layout) {
    if (layout != PassLayout::FolderPerPass)
        return std::filesystem::is_regular_file(file);
    return std::all_of(request.passes.begin(), request.passes.end(), [&](const PassRequest& pass) {
        return std::filesystem::is_regular_file(fileOfPass(file, pass.name()));
    });
}

}  // namespace

int renderViews(const Scene& scene, const Accelerator& accelerator, const RenderRequest& request,
                const std::vector<View>& views, const std::filesystem::path& pattern,
                const PassFileOptions& packing, const RunContext& run,
                const RenderObserver& observer) {
    int written = 0;
    for (const View& view : views) {
        RenderRequest now = request;
        now.view = view;
        const RunContext within = partOf(run, static_cast<std::size_t>(written), views.size());
        RenderFileOptions options;
        options.packing = packing;
        renderToFile(scene, accelerator, now, fileOfFrame(pattern, written + 1), options, within,
                     observer);
        if (run.stopped())
            break;
        ++written;
    }
    return written;
}

SequenceReport renderSequence(Scene& scene, const RenderRequest& request,
                              const SequenceOptions& options, const RunContext& run) {
    if (options.last < options.first || options.last - options.first >= kMostFrames)
        throw Error(ErrorCode::BadSetting, fmt::format("frames {}-{} can't be rendered as a range",
                                                       options.first, options.last));
    SequenceReport report;
    const std::optional<std::size_t> own = ownView(scene, request.view);
    const int count = options.last - options.first + 1;
    for (int frame = options.first; frame <= options.last && !run.stopped(); ++frame) {
        const int done = frame - options.first;
        const std::filesystem::path file = fileOfFrame(options.pattern, frame);
        if (options.resume && isThere(file, request, options.packing.layout)) {
            ++report.skipped;
            continue;
        }
        try {
            const auto at = [&](int f) { return secondsOfFrame(f, options.framesPerSecond); };
            RenderRequest now = request;
            now.before = momentAt(scene, request.view, own, at(frame - 1));
            now.after = momentAt(scene, request.view, own, at(frame + 1));
            poseAt(scene, at(frame));
            if (own)
                now.view.camera = scene.views[*own].camera;
            const Accelerator accelerator(scene);
            const RunContext within =
                partOf(run, static_cast<std::size_t>(done), static_cast<std::size_t>(count));
            RenderFileOptions how;
            how.packing = options.packing;
            renderToFile(scene, accelerator, now, file, how, within);
            if (run.stopped())
                break;
            ++report.written;
        } catch (const std::exception& error) {
            report.failures.push_back(fmt::format("frame {}: {}", frame, error.what()));
        }
        run.report(static_cast<float>(done + 1) / static_cast<float>(count));
    }
    return report;
}

}  // namespace noctis
