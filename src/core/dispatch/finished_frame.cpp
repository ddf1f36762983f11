#include "core/dispatch/finished_frame.h"

#include "core/image/error.h"
#include "core/steps/registry.h"

#include <fmt/format.h>

namespace noctis {

void requireUsable(const Recipe& recipe) {
    for (const auto& [id, problem] : problemsOf(recipe, stepCatalogue()))
        throw Error(ErrorCode::BadFile,
                    fmt::format("step {} can't run: {}; switch it off, or open it in the version "
                                "of Noctis that wrote it",
                                titleOf(*recipe.find(id), stepCatalogue()), problem));
}

std::optional<Image> finishedPicture(const Project& project, const PassSet& passes,
                                     const FrameToFinish& frame, const FinishHow& how,
                                     const RunContext& run) {
    Evaluator evaluator(stepCatalogue());
    evaluator.setPasses(passes);
    EvaluateOptions options;
    options.factor = how.factor;
    options.time = {frame.number, frame.seconds};
    options.notice = [&](const std::string& id, const std::string& text) {
        if (how.warn)
            how.warn(
                fmt::format("{}: {}", titleOf(*project.recipe.find(id), stepCatalogue()), text));
    };
    Image picture = how.matte.empty() ? evaluator.evaluate(project.recipe, options, run)
                                      : evaluator.where(project.recipe, how.matte, options, run);
    if (run.stopped())
        return std::nullopt;
    return picture;
}

std::optional<Image> finishedPicture(const Project& project, const FrameToFinish& frame,
                                     const FinishHow& how, const RunContext& run) {
    const auto warn = [&](const std::string& sentence) {
        if (how.warn)
            how.warn(sentence);
    };
    if (frame.standIn)
        warn(fmt::format("frame {} is missing; frame {} stands in for it", frame.number,
                         *frame.standIn));
    Readings readings = project.readings;
    const PassSet set = readPassesAs(frame.passes, readings, how.reads);
    for (const std::string& warning : set.warnings)
        warn(warning);
    if (run.stopped())
        return std::nullopt;
    return finishedPicture(project, set, frame, how, run);
}

void writeFinished(const Project& project, const FrameToFinish& frame, const FinishHow& how,
                   const Image& picture) {
    if (how.matte.empty())
        exportPicture(frame.out, picture, project, how.storage, how.factor);
    else
        exportMatte(frame.out, picture, how.storage, how.factor);
}

}  // namespace noctis
