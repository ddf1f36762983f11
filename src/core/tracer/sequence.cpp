#include "core/tracer/sequence.h"

#include "core/image/error.h"
#include "core/passes/frame_name.h"
#include "core/scene/animation.h"
#include "core/tracer/render_file.h"

#include <algorithm>

#include <fmt/format.h>

namespace noctis {

namespace {

/// Whether all that a frame would write is there.
bool isThere(const std::filesystem::path& file, const RenderRequest& request, PassLayout layout) {
    const std::vector<std::filesystem::path> files = filesOfRender(file, request, layout);
    return std::all_of(files.begin(), files.end(), [](const std::filesystem::path& each) {
        std::error_code unknown;
        return std::filesystem::is_regular_file(each, unknown);
    });
}

/// Before any of the frames is rendered, as one may be what a later one is made from.
void requireFree(const Scene& scene, const RenderRequest& request, PassLayout layout,
                 const std::filesystem::path& pattern, const std::vector<int>& frames) {
    std::vector<std::filesystem::path> outputs;
    for (const int frame : frames)
        for (std::filesystem::path& file :
             filesOfRender(fileOfFrame(pattern, frame), request, layout))
            outputs.push_back(std::move(file));
    requireFreeToRender(scene, request, outputs);
}

void add(SequenceReport& report, const RenderedFile& rendered) {
    report.files += rendered.files;
    for (const std::string& warning : rendered.warnings)
        if (std::find(report.warnings.begin(), report.warnings.end(), warning) ==
            report.warnings.end())
            report.warnings.push_back(warning);
}

}  // namespace

SequenceReport renderViews(const Scene& scene, const Accelerator& accelerator,
                           const RenderRequest& request, const std::vector<View>& views,
                           const std::filesystem::path& pattern, const PassFileOptions& packing,
                           const RunContext& run, const RenderObserver& observer) {
    SequenceReport report;
    if (views.empty())
        return report;
    requireFree(scene, request, packing.layout, pattern,
                framesFrom(1, static_cast<int>(views.size())));
    for (const View& view : views) {
        RenderRequest now = request;
        now.view = view;
        const RunContext within =
            partOf(run, static_cast<std::size_t>(report.written), views.size());
        RenderFileOptions options;
        options.packing = packing;
        const RenderedFile rendered =
            renderToFile(scene, accelerator, now, fileOfFrame(pattern, report.written + 1), options,
                         within, observer);
        add(report, rendered);
        if (!rendered.whole)
            break;
        ++report.written;
    }
    return report;
}

RenderRequest requestAtFrame(Scene& scene, const RenderRequest& request,
                             const std::optional<std::size_t>& own, int frame,
                             double framesPerSecond) {
    const double here = secondsOfFrame(frame, framesPerSecond);
    const double step = 1.0 / framesPerSecond;
    RenderRequest now = request;
    now.before = momentAt(scene, request.view, own, here - step);
    now.after = momentAt(scene, request.view, own, here + step);
    poseAt(scene, here);
    if (own)
        now.view.camera = scene.views[*own].camera;
    return now;
}

SequenceReport renderSequence(Scene& scene, const RenderRequest& request,
                              const SequenceOptions& options, const RunContext& run) {
    const std::vector<int> frames = framesFrom(options.first, options.last);
    requireFree(scene, request, options.packing.layout, options.pattern, frames);
    SequenceReport report;
    const std::optional<std::size_t> own = ownView(scene, request.view);
    for (std::size_t done = 0; done < frames.size() && !run.stopped(); ++done) {
        const int frame = frames[done];
        const std::filesystem::path file = fileOfFrame(options.pattern, frame);
        if (options.resume && isThere(file, request, options.packing.layout)) {
            ++report.skipped;
            continue;
        }
        try {
            const RenderRequest now =
                requestAtFrame(scene, request, own, frame, options.framesPerSecond);
            const Accelerator accelerator(scene);
            const RunContext within = partOf(run, done, frames.size());
            RenderFileOptions how;
            how.packing = options.packing;
            const RenderedFile rendered = renderToFile(scene, accelerator, now, file, how, within);
            add(report, rendered);
            if (!rendered.whole)
                break;
            ++report.written;
        } catch (const std::exception& error) {
            report.failures.push_back(fmt::format("frame {}: {}", frame, error.what()));
        }
        run.report(static_cast<float>(done + 1) / static_cast<float>(frames.size()));
    }
    return report;
}

}  // namespace noctis
