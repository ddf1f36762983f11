#include "core/dispatch/job_frames.h"

#include "core/dispatch/file_names.h"
#include "core/image/error.h"
#include "core/passes/frame_name.h"

#include <cstdint>

#include <fmt/format.h>

namespace noctis {

namespace {

/// The view whose passes the project has.
std::string ownView(const Project& project) { return project.view ? project.view->name : ""; }

std::vector<JobPiece> piecesOfView(const Job& job, const Project& project,
                                   const std::string& view) {
    const Project own = projectOfView(project, view);
    const FrameFiles files = frameFilesOf(own);
    const Sequence timing = timingOf(own, files);
    NameValues values;
    values.project = job.project.stem().string();
    values.view = view.empty() ? ownView(project) : view;
    // Those of a frame are known when it is read.
    values.pass = job.kind == JobKind::Passes ? "{pass}" : "beauty";
    values.numbered = job.frames.has_value();
    const auto fileOf = [&](int frame) {
        values.frame = frame;
        return namedFile(job.to, values);
    };
    std::vector<JobPiece> pieces;
    if (!job.frames) {
        const int number = files.named;
        pieces.push_back(
            {view, {number, timing.secondsAt(number), files.at(number), fileOf(number)}});
        return pieces;
    }
    for (FrameToFinish& frame :
         framesToFinish(files, timing, *job.frames, job.settings.bridge, fileOf))
        pieces.push_back({view, std::move(frame)});
    return pieces;
}

}  // namespace

Sequence timingOf(const Project& project, const FrameFiles& files) {
    Sequence timing;
    timing.rate = project.framesPerSecond;
    if (files.isSequence())
        timing.first = files.first;
    return project.sequence.value_or(timing);
}

std::vector<FrameToFinish>
framesToFinish(const FrameFiles& files, const Sequence& timing, const FrameRange& range,
               bool bridge, const std::function<std::filesystem::path(int frame)>& fileOf) {
    std::vector<FrameToFinish> frames;
    for (const int number : framesFrom(range.first, range.last)) {
        FrameToFinish& frame = frames.emplace_back(
            FrameToFinish{number, timing.secondsAt(number), files.at(number), fileOf(number)});
        const std::optional<int> nearest = bridge ? files.standIn(number) : std::nullopt;
        if (nearest && *nearest != number) {
            frame.standIn = nearest;
            frame.passes = files.at(*nearest);
        }
    }
    return frames;
}

std::string JobPiece::key() const { return fmt::format("{}/{}", view, frame.number); }

Project projectOfView(const Project& project, const std::string& view) {
    if (view.empty() || view == ownView(project))
        return project;
    const auto files = project.viewFiles.find(view);
    if (files == project.viewFiles.end())
        throw Error(ErrorCode::UnknownName,
                    fmt::format("the project has no passes of a view {}; render them first", view));
    Project own = project;
    own.passFiles = files->second;
    own.viewFiles.clear();
    own.sequence.reset();
    return own;
}

std::vector<JobPiece> piecesOf(const Job& job, const Project& project, const JobShare& share) {
    std::vector<JobPiece> all;
    const std::vector<std::string> views =
        job.views.empty() ? std::vector<std::string>{{}} : job.views;
    for (const std::string& view : views)
        for (JobPiece& piece : piecesOfView(job, project, view))
            all.push_back(std::move(piece));
    // Neighbours stay together: each share reads a stretch of its folder.
    const auto count = static_cast<std::int64_t>(all.size());
    const auto begin = count * (share.part - 1) / share.parts;
    const auto end = count * share.part / share.parts;
    return {std::make_move_iterator(all.begin() + begin),
            std::make_move_iterator(all.begin() + end)};
}

}  // namespace noctis
