#include "cli/commands.h"
#include "cli/progress.h"
#include "core/image/error.h"
#include "core/image/safe_write.h"
#include "core/passes/pass_file.h"
#include "core/scene/import.h"
#include "core/settings/counted.h"
#include "core/tracer/render_file.h"
#include "core/tracer/sequence.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <memory>
#include <optional>
#include <tuple>

#include <fmt/format.h>

namespace noctis {

namespace {

struct RenderOptions {
    std::string scene;
    std::string out;
    std::string view;
    std::string size = "1280x720";
    std::string passes = "beauty,depth,normal,occlusion";
    int samples = 0;
    std::vector<std::string> settings;
    std::string frames;
    double fps = 24.0;
    bool resume = false;
    std::string about;
    Turnaround turnaround;
    int threads = 0;
    unsigned seed = 0;
    std::string lens = "pinhole";
    float fNumber = 2.0F;
    float focus = 5.0F;
    float focalLength = 0.0F;
    float sensor = 36.0F;
    bool onePart = false;
    bool folders = false;
    bool times = false;
    bool lossy = false;
    bool halfColour = false;
    bool halfNormals = false;
};

std::vector<std::string> namesIn(const std::string& list) {
    std::vector<std::string> names;
    for (std::size_t at = 0; at <= list.size();) {
        const std::size_t end = std::min(list.find(',', at), list.size());
        names.push_back(list.substr(at, end - at));
        at = end + 1;
    }
    return names;
}

/// Checked before the scene is read: a wrong name should not cost that time.
void requireKinds(const std::vector<std::string>& names) {
    for (const std::string& name : names)
        if (const auto known = passNamed(name); !known || !canRender(known->kind))
            throw Error(ErrorCode::UnknownName, fmt::format("no pass {} can be rendered", name));
}

/// Fills in what is rendered. Beauty's settings also shape the passes that are made with it, whether
/// or not it is among them.
void setPasses(RenderRequest& request, const RenderOptions& options, const Scene& scene) {
    request.passes = passRequests(namesIn(options.passes), scene);
    const auto isBeauty = [](const PassRequest& r) { return r.kind == PassKind::Beauty; };
    const bool wanted = std::any_of(request.passes.begin(), request.passes.end(), isBeauty);
    if (!wanted)
        request.passes.push_back(passRequest(PassKind::Beauty));
    if (options.samples > 0)
        for (PassRequest& pass : request.passes)
            if (pass.kind == PassKind::Beauty || pass.kind == PassKind::Occlusion ||
                pass.kind == PassKind::Bent || pass.kind == PassKind::Shadow ||
                pass.kind == PassKind::GroundShadow)
                pass.settings.set("samples", static_cast<float>(options.samples));
    for (const std::string& setting : options.settings)
        applyPassSetting(request.passes, setting);
    if (!wanted) {
        request.light = request.passes.back().settings;
        request.passes.pop_back();
    }
}

/// The focal length that gives the view's own angle on this sensor, unless another is given.
float focalLengthOf(const RenderOptions& options, const RenderRequest& request) {
    if (options.focalLength > 0.0F)
        return options.focalLength;
    return focalLengthOf(request.view.camera, options.sensor,
                         static_cast<float>(request.width) / static_cast<float>(request.height));
}

void renderFrames(const RenderOptions& options, const RenderRequest& request, Scene& scene,
                  const PassFileOptions& packing, const CommandContext& context) {
    const auto [first, last] = twoNumbers(options.frames, '-', "--frames");
    SequenceOptions sequence;
    sequence.first = first;
    sequence.last = last;
    sequence.framesPerSecond = options.fps;
    sequence.pattern = options.out;
    sequence.packing = packing;
    sequence.resume = options.resume;
    SequenceReport report;
    {
        Progress progress(context.err, "rendering");
        report = renderSequence(
            scene, request, sequence,
            {.stop = context.stop, .progress = [&](float done) { progress.report(done); }});
    }
    context.written += report.files;
    if (report.skipped > 0)
        fmt::print(context.err, "kept {} that already existed\n",
                   counted(static_cast<std::size_t>(report.skipped), "frame"));
    for (const auto* sentences : {&report.warnings, &report.failures})
        for (const std::string& sentence : *sentences)
            fmt::print(context.err, "warning: {}\n", sentence);
    if (!report.failures.empty() && !context.stop.stop_requested())
        throw Error(ErrorCode::FileAccess,
                    fmt::format("{} of {} frames failed; the others were written",
                                report.failures.size(), std::int64_t{last} - first + 1));
}

void renderTurnaround(const RenderOptions& options, const RenderRequest& request,
                      const Scene& scene, const PassFileOptions& packing,
                      const CommandContext& context) {
    std::vector<std::string> unknown;
    const std::vector<bool> instances = instancesNamed(scene, options.about, &unknown);
    if (!unknown.empty())
        throw Error(ErrorCode::UnknownName,
                    fmt::format("there is no object, group or material {}", unknown.front()));
    const float aspect = static_cast<float>(request.width) / static_cast<float>(request.height);
    const std::vector<View> views =
        turnaroundViews(options.about, boundsOf(scene, instances), aspect, options.turnaround);
    const Accelerator accelerator(scene);
    Progress progress(context.err, "rendering");
    context.written +=
        renderViews(scene, accelerator, request, views, options.out, packing,
                    {.stop = context.stop, .progress = [&](float done) { progress.report(done); }})
            .files;
}

void render(const RenderOptions& options, const CommandContext& context) {
    std::string ending = std::filesystem::path(options.out).extension().string();
    std::transform(ending.begin(), ending.end(), ending.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    if (ending != ".exr")
        throw Error(ErrorCode::BadSetting,
                    fmt::format("{}: render writes EXR, which holds every pass in metres; use "
                                "finish for a picture, or relief for a height map",
                                options.out));
    if (options.lens != "traced" && options.lens != "pinhole")
        throw Error(ErrorCode::BadSetting, "--lens must be traced or pinhole");
    RenderRequest request;
    std::tie(request.width, request.height) = twoNumbers(options.size, 'x', "--size");
    if (request.width < 1 || request.height < 1 || request.width > kMaximumSide ||
        request.height > kMaximumSide)
        throw Error(ErrorCode::BadSetting,
                    fmt::format("--size {} can't be rendered; each side must be 1 to {}",
                                options.size, kMaximumSide));
    requireKinds(namesIn(options.passes));
    request.seed = options.seed;
    request.framesPerSecond = options.fps;
    Scene scene = importScene(options.scene, context.stop);
    if (context.stop.stop_requested())
        return;
    for (const std::string& warning : scene.warnings)
        fmt::print(context.err, "warning: {}\n", warning);
    setPasses(request, options, scene);
    request.view = options.view.empty() ? scene.views.front() : viewNamed(scene, options.view);
    if (options.lens == "traced")
        request.lens =
            TracedLens::ofFNumber(options.fNumber, focalLengthOf(options, request), options.focus);
    const ThreadLimit limit(options.threads);
    const PassFileOptions packing{.layout = options.onePart   ? PassLayout::OnePart
                                            : options.folders ? PassLayout::FolderPerPass
                                                              : PassLayout::PartPerPass,
                                  .colour =
                                      options.lossy ? Compression::LossyColour : Compression::Zip,
                                  .halfColour = options.halfColour,
                                  .halfNormals = options.halfNormals};
    if (!options.about.empty()) {
        renderTurnaround(options, request, scene, packing, context);
        return;
    }
    if (!options.frames.empty()) {
        renderFrames(options, request, scene, packing, context);
        return;
    }
    requireFreeToRender(scene, request, filesOfRender(options.out, request, packing.layout));
    const Accelerator accelerator(scene);
    RenderFileOptions how;
    how.packing = packing;
    if (options.times) {
        how.memory = 0;  // one at a time
        how.timed = [&](const std::string& passes, double seconds) {
            fmt::print(context.err, "{:8.2f} s  {}\n", seconds, passes);
        };
    }
    RenderedFile rendered;
    {
        Progress progress(context.err, "rendering");
        rendered = renderToFile(
            scene, accelerator, request, options.out, how,
            {.stop = context.stop, .progress = [&](float done) { progress.report(done); }});
    }
    context.written += rendered.files;
    for (const std::string& warning : rendered.warnings)
        fmt::print(context.err, "warning: {}\n", warning);
}

}  // namespace

void addRenderCommand(CLI::App& app, Command& chosen) {
    const auto o = std::make_shared<RenderOptions>();
    CLI::App* command = app.add_subcommand("render", "Render passes of a scene");
    command->add_option("SCENE", o->scene, "The scene file")->required();
    command
        ->add_option("-o,--out", o->out,
                     "The EXR file to write; with --frames, #### stands for the number")
        ->required();
    command->add_option("--view", o->view, "A view of the scene; the first one if left out");
    command->add_option("--size", o->size, "Frame size as WxH");
    command->add_option("--passes", o->passes, "Passes, separated by commas");
    command->add_option("--samples", o->samples, "Samples of beauty and occlusion")
        ->check(CLI::PositiveNumber);
    command->add_option("--set", o->settings, "A setting of a pass: pass.setting=value")
        ->allow_extra_args(true);
    command->add_option("--frames", o->frames, "A range of frames, A-B, of an animated scene");
    command->add_option("--fps", o->fps, "Frames per second of an animated scene")
        ->check(CLI::PositiveNumber);
    command->add_flag("--resume", o->resume, "Keep frames that already exist");
    command->add_option("--turnaround", o->about,
                        "Views from all sides of an object, group or material; --view is not used");
    command->add_option("--count", o->turnaround.count, "How many views a turnaround has")
        ->check(CLI::Range(1, 360));
    command->add_option("--start", o->turnaround.startDegrees,
                        "Direction of the first view, degrees");
    command->add_option("--elevation", o->turnaround.elevationDegrees,
                        "Elevation of the views, degrees");
    command->add_flag("--parallel", o->turnaround.orthographic, "Render without perspective");
    command->add_flag("--times", o->times, "Render each pass separately and print its time");
    command->add_option("--threads", o->threads, "How many cores to use; all if left out")
        ->check(CLI::NonNegativeNumber);
    command->add_option("--seed", o->seed, "Seed of the noise");
    command->add_option("--lens", o->lens, "traced: through a thin lens; pinhole: all sharp");
    command->add_option("--f-number", o->fNumber, "Aperture of the traced lens")
        ->check(CLI::PositiveNumber);
    command->add_option("--focus", o->focus, "Focus distance, m")->check(CLI::PositiveNumber);
    command
        ->add_option("--focal-length", o->focalLength,
                     "Focal length, mm; the view's own if left out")
        ->check(CLI::PositiveNumber);
    command->add_option("--sensor", o->sensor, "Sensor width, mm")->check(CLI::PositiveNumber);
    CLI::Option* onePart = command->add_flag("--one-part", o->onePart,
                                             "Write one layered part instead of one part per pass");
    command
        ->add_flag(
            "--folders", o->folders,
            "Write one file per pass, each in a folder named after the pass beside the target")
        ->excludes(onePart);
    command->add_flag("--half-colour", o->halfColour, "Pack colours smaller, within 5e-4");
    command->add_flag("--half-normals", o->halfNormals, "Pack normals smaller, within 5e-4");
    command->add_flag("--lossy-colour", o->lossy, "Pack beauty smaller; data passes stay exact");
    command->callback(
        [&chosen, o] { chosen = [o](const CommandContext& context) { render(*o, context); }; });
}

}  // namespace noctis
