#include "core/dispatch/finished_frame.h"
#include "core/dispatch/job_frames.h"
#include "core/dispatch/job_record.h"
#include "core/dispatch/job_run.h"
#include "core/image/safe_write.h"
#include "core/project/project_file.h"
#include "core/recipe/recipe_json.h"
#include "core/steps/registry.h"
#include "harness.h"

#include <QTemporaryDir>

#include <fmt/format.h>

namespace bench {

namespace {

using namespace noctis;
namespace fs = std::filesystem;

constexpr int kFrames = 50;

}  // namespace

/// Frames of 1080p by a job, beside finishing and writing them one after the other.
void dispatch(const Demo& demo, const Filter& wanted, std::vector<Row>& rows) {
    const std::string name = "dispatch, job of 50 frames";
    if (!wanted(name))
        return;
    const QTemporaryDir kept;
    const fs::path folder = kept.path().toStdString();
    for (const char* pass : {"beauty", "depth"}) {
        // As large as a frame of film; the names are links to one file.
        PassSet set = readPasses({demo.folder / fmt::format("{}.exr", pass)});
        Framing framing;
        framing.width = 1920;
        framing.height = 1080;
        writePasses(folder / fmt::format("{}.exr", pass), framedPasses(set, framing));
        for (int frame = 1; frame <= kFrames; ++frame)
            fs::create_symlink(folder / fmt::format("{}.exr", pass),
                               folder / fmt::format("{}.{:04}.exr", pass, frame));
    }
    Project project;
    project.passFiles = {folder / "beauty.0001.exr", folder / "depth.0001.exr"};
    project.recipe = recipeFromText(
        R"({"format":"noctis-recipe","version":2,"steps":[{"step":"fog"}]})", stepCatalogue());
    saveProject(project, folder / "film.noctis", stepCatalogue());
    Job job;
    job.id = "film";
    job.project = folder / "film.noctis";
    job.frames = FrameRange{1, kFrames};
    job.to = folder / "job/film.####.exr";
    const auto runOnce = [&] {
        fs::remove_all(folder / "job");
        fs::remove(recordFileOf(folder / "job.json", 1, 1));
        return runJob(job, {}, recordFileOf(folder / "job.json", 1, 1), {}, {});
    };
    const FinishHow how;
    rows.push_back(run({.name = name,
                        .check =
                            [&] {
                                return runOnce().written == kFrames ? std::string()
                                                                    : "not all frames are written";
                            },
                        .ours = [&] { runOnce(); },
                        .reference =
                            [&] {
                                fs::create_directories(folder / "bare");
                                for (const JobPiece& piece : piecesOf(job, project)) {
                                    FrameToFinish frame = piece.frame;
                                    frame.out = folder / "bare" / frame.out.filename();
                                    const auto picture = finishedPicture(project, frame, how, {});
                                    writeFinished(project, frame, how, *picture);
                                }
                            },
                        .target = 1.03,
                        .note = "1920x1080, fog",
                        .rounds = 3}));
}

}  // namespace bench
