#include "cli/commands.h"
#include "cli/framing_options.h"
#include "cli/progress.h"
#include "core/dispatch/finished_frame.h"
#include "core/dispatch/job_frames.h"
#include "core/image/error.h"
#include "core/image/safe_write.h"
#include "core/passes/frame_name.h"
#include "core/project/frame_files.h"
#include "core/project/project_file.h"
#include "core/recipe/recipe_json.h"
#include "core/steps/registry.h"

#include <algorithm>
#include <charconv>
#include <memory>
#include <optional>
#include <set>

#include <fmt/format.h>

namespace noctis {

namespace {

/// One frame that is done sooner shows no progress.
constexpr std::chrono::milliseconds kQuietFor{2000};

struct FinishOptions {
    std::string project;
    std::string recipe;
    std::vector<std::string> passes;
    std::string out;
    std::string frames;
    std::string scale = "1/1";
    std::string view;
    std::string matte;
    std::vector<std::string> reads;
    std::optional<double> rate;   ///< frames per second; unset: the project's
    std::optional<float> amount;  ///< unset: the recipe's own
    FramingTexts framing;
    std::string letterbox;
    int bits = 0;
    bool dither = false;
    bool straightAlpha = false;
    bool bridge = false;  ///< missing frames are made from the nearest
};

int factorOf(const std::string& scale) {
    int factor = 0;
    const char* end = scale.data() + scale.size();
    if (!scale.starts_with("1/") || std::from_chars(scale.data() + 2, end, factor).ptr != end ||
        factor < 1 || factor > 64)
        throw Error(ErrorCode::BadSetting, "--scale must be 1/N with N from 1 to 64");
    return factor;
}

FinishHow howOf(const FinishOptions& options) {
    FinishHow how;
    how.factor = factorOf(options.scale);
    how.matte = options.matte;
    how.reads = options.reads;
    how.storage.bits = options.bits;
    how.storage.straightAlpha = options.straightAlpha;
    how.storage.dither = options.dither;
    how.storage.framing = framingOf(options.framing);
    if (!options.letterbox.empty())
        how.storage.framing.letterbox = letterboxFromText(options.letterbox);
    return how;
}

Project projectOf(const FinishOptions& options) {
    if (options.project.empty() == options.recipe.empty())
        throw Error(ErrorCode::BadSetting, "finish needs a project, or --recipe with --passes");
    if (!options.project.empty())
        return openProject(options.project, stepCatalogue());
    if (options.passes.empty())
        throw Error(ErrorCode::BadSetting, "--recipe needs --passes with the files it works on");
    Project project;
    project.viewTransform = ViewTransform::Plain;
    try {
        const std::filesystem::path folder =
            std::filesystem::absolute(options.recipe).parent_path();
        project.recipe = recipeFromText(readTextFile(options.recipe), stepCatalogue(), folder);
    } catch (const Error& error) {
        if (error.code() == ErrorCode::FileAccess)
            throw;
        // A recipe that can't be used is bad input, whatever is wrong within it.
        throw Error(ErrorCode::BadFile, fmt::format("{}: {}", options.recipe, error.what()));
    }
    project.passFiles.assign(options.passes.begin(), options.passes.end());
    return project;
}

/// Where the passes of each frame are: of a project as its window shows them; with --passes, files whose name has a run
/// of # are one a frame, and the others stay the same.
FrameFiles filesOf(const FinishOptions& options, const Project& project) {
    FrameFiles files = frameFilesOf(project);
    if (options.project.empty())
        for (std::size_t i = 0; i < files.files.size(); ++i)
            files.numbered[i] = files.files[i].filename().string().find('#') != std::string::npos;
    return files;
}

/// A still begins at frame 1, whatever range is asked for: what flickers there does so in any other range.
Sequence timingOf(const FinishOptions& options, const Project& project, const FrameFiles& files) {
    Sequence timing;
    if (options.project.empty())
        timing.rate = project.framesPerSecond;
    else
        timing = timingOf(project, files);
    timing.rate = options.rate.value_or(timing.rate);
    return timing;
}

std::vector<FrameToFinish> framesOf(const FinishOptions& options, const Project& project) {
    const FrameFiles files = filesOf(options, project);
    const Sequence timing = timingOf(options, project, files);
    if (options.frames.empty()) {
        const bool numbered = project.sequence || !options.project.empty();
        const int number = numbered ? files.named : 1;
        return {{number, timing.secondsAt(number), numbered ? files.at(number) : project.passFiles,
                 options.out}};
    }
    const auto [first, last] = twoNumbers(options.frames, '-', "--frames");
    return framesToFinish(files, timing, {first, last}, options.bridge,
                          [&](int frame) { return fileOfFrame(options.out, frame); });
}

/// Of all frames before the first is written: it may be what a later one is made from.
void requireFree(const FinishOptions& options, const Project& project,
                 const std::vector<FrameToFinish>& frames) {
    std::vector<std::filesystem::path> inputs{options.project, options.recipe};
    std::vector<std::filesystem::path> outputs;
    for (const FrameToFinish& frame : frames) {
        inputs.insert(inputs.end(), frame.passes.begin(), frame.passes.end());
        outputs.push_back(frame.out);
    }
    requireExportable(outputs, project, options.bits, std::move(inputs));
}

void finishOne(const Project& project, const FrameToFinish& frame, const FinishHow& how,
               const CommandContext& context, const RunContext& run) {
    if (const std::optional<Image> picture = finishedPicture(project, frame, how, run)) {
        writeFinished(project, frame, how, *picture);
        ++context.written;
    }
}

void finishFrames(const Project& project, const std::vector<FrameToFinish>& frames,
                  const FinishHow& how, const CommandContext& context, const RunContext& run) {
    int failures = 0;
    for (std::size_t i = 0; i < frames.size() && !context.stop.stop_requested(); ++i) {
        const RunContext part = partOf(run, i, frames.size());
        try {
            finishOne(project, frames[i], how, context, part);
        } catch (const Error& error) {
            ++failures;
            fmt::print(context.err, "warning: frame {}: {}\n", frames[i].number, error.what());
        }
        part.report(1.0F);
    }
    if (failures > 0 && !context.stop.stop_requested())
        throw Error(ErrorCode::FileAccess,
                    fmt::format("{} of {} frames failed; the others were written", failures,
                                frames.size()));
}

void finish(const FinishOptions& options, const CommandContext& context) {
    FinishHow how = howOf(options);
    if (options.amount && !(*options.amount >= 0.0F && *options.amount <= 1.0F))
        throw Error(ErrorCode::BadSetting, "--amount must be a number from 0 to 1");
    Project project = projectOf(options);
    project.recipe.amount = options.amount.value_or(project.recipe.amount);
    if (options.rate && !(*options.rate >= kSlowest && *options.rate <= kFastest))
        throw Error(ErrorCode::BadSetting,
                    fmt::format("--rate must be a number from {:g} to {:g}", kSlowest, kFastest));
    requireUsable(project.recipe);
    const std::vector<FrameToFinish> frames = framesOf(options, project);
    requireFree(options, project, frames);
    if (!options.view.empty())
        project.viewTransform = viewTransformNamed(options.view);
    Progress progress(context.err, "finishing",
                      options.frames.empty() ? kQuietFor : std::chrono::milliseconds());
    const RunContext run{.stop = context.stop,
                         .progress = [&](float done) { progress.report(done); }};
    std::set<std::string> noticed;
    how.warn = [&](const std::string& sentence) {
        // What holds for a whole sequence is said once.
        if (noticed.insert(sentence).second)
            fmt::print(context.err, "warning: {}\n", sentence);
    };
    if (options.frames.empty())
        finishOne(project, frames.front(), how, context, run);
    else
        finishFrames(project, frames, how, context, run);
}

}  // namespace

void addFinishCommand(CLI::App& app, Command& chosen) {
    const auto o = std::make_shared<FinishOptions>();
    CLI::App* command =
        app.add_subcommand("finish", "Run a recipe on passes and write the picture");
    command->add_option("PROJECT", o->project, "A project");
    command->add_option("--recipe", o->recipe, "A recipe file");
    command->add_option("--passes", o->passes, "The pass files it works on");
    command->add_option("-o,--out", o->out, "The picture to write: .exr, .tif or .png")->required();
    command->add_option(
        "--frames", o->frames,
        "A range of frames, A-B; #### in the names of passes and picture stands for the number");
    command->add_flag("--bridge", o->bridge,
                      "Make a frame whose pass files are missing from those of the nearest frame");
    command->add_option("--rate", o->rate,
                        "Frames per second, for what moves in time; the project's if left out");
    command->add_option("--scale", o->scale, "1/N of the size");
    addFramingOptions(*command, o->framing);
    command->add_option("--letterbox", o->letterbox,
                        "Leave this width over height between black bars, as 2.39 or 16:9");
    command->add_flag("--dither", o->dither, "Keep soft ramps free of bands in 8 bits");
    command->add_option("--view", o->view,
                        "View transform of 8- and 16-bit files: plain or soft_shoulder");
    command->add_option("--bits", o->bits, "8, 16 or 32 (float); the format's default if left out")
        ->check(CLI::IsMember({8, 16, 32}));
    command->add_option("--amount", o->amount,
                        "Mix the result with the source picture: 0 is the source, 1 the result");
    command->add_option("--matte", o->matte,
                        "Write where the step of this id works, as white on black");
    addReadOption(*command, o->reads);
    command->add_flag("--straight-alpha", o->straightAlpha, "Write straight alpha to EXR and TIFF");
    command->callback(
        [&chosen, o] { chosen = [o](const CommandContext& context) { finish(*o, context); }; });
}

}  // namespace noctis
