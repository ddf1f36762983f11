#include "core/dispatch/job_frames.h"

#include "core/dispatch/file_names.h"
#include "core/image/error.h"
#include "core/passes/frame_name.h"
#include "core/scene/animation.h"

#include <algorithm>
#include <cstdint>

#include <fmt/format.h>

namespace noctis {

namespace fs = std::filesystem;

namespace {

/// The view whose passes the project has.
std::string ownView(const Project& project) { return project.view ? project.view->name : ""; }

bool hasFiles(const Project& project, const std::string& view) {
    return view.empty() || view == ownView(project) ? !project.passFiles.empty()
                                                    : project.viewFiles.contains(view);
}

/// What the names of views begin with, as "heron" of "heron 1" and "heron 2".
std::string commonNameOf(const std::vector<std::string>& views) {
    std::string common = views.front();
    for (const std::string& view : views) {
        const auto differs = std::ranges::mismatch(common, view);
        common.erase(differs.in1, common.end());
    }
    const auto isPlain = [](char c) {
        return c != ' ' && c != '-' && c != '_' && c != ',' && c != '.';
    };
    while (!common.empty() && !isPlain(common.back()))
        common.pop_back();
    return common.empty() ? "views" : common;
}

std::vector<JobPiece> piecesOfView(const Job& job, const Project& project, const std::string& view,
                                   NameValues values) {
    std::vector<JobPiece> pieces;
    // Each set has a folder, unless the name says where it goes.
    const fs::path to = values.set.empty() || hasPlaceholder(job.to, "set")
                            ? job.to
                            : job.to.parent_path() / "{set}" / job.to.filename();
    const auto fileOf = [&](int frame) {
        if (job.frames)
            values.frame = frame;
        return namedFile(to, values);
    };
    if (rendersAll(job.settings) ||
        (job.settings.render == JobRender::Missing && !hasFiles(project, view))) {
        const FrameRange range = job.frames.value_or(FrameRange{1, 1});
        for (const int number : framesFrom(range.first, range.last))
            pieces.push_back({.view = view,
                              .frame = {number,
                                        secondsOfFrame(number, project.framesPerSecond),
                                        {},
                                        fileOf(number)},
                              .item = values.set,
                              .rendered = true});
        return pieces;
    }
    const Project own = projectOfView(project, view);
    const FrameFiles files = frameFilesOf(own);
    const Sequence timing = timingOf(own, files);
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

std::vector<JobPiece> piecesOfReliefs(const Job& job, const Project& project, NameValues values) {
    std::vector<JobPiece> pieces;
    const FrameFiles files = frameFilesOf(project);
    for (const Relief& relief : project.reliefs) {
        const std::vector<std::string>& ids = job.settings.relief.ids;
        if (!ids.empty() && std::ranges::find(ids, relief.id) == ids.end())
            continue;
        values.pass = relief.name.empty() ? relief.id : relief.name;
        values.frame = files.named;
        pieces.push_back(
            {.view = {},
             .frame = {files.named, 0.0, files.at(files.named), namedFile(job.to, values)},
             .item = relief.id});
    }
    return pieces;
}

std::vector<JobPiece> allPiecesOf(const Job& job, const Project& project) {
    NameValues values;
    values.project = job.project.stem().string();
    // Those of a frame are known when it is read.
    values.pass = job.kind == JobKind::Passes ? "{pass}" : "beauty";
    values.numbered =
        job.frames && job.frames->last > job.frames->first && job.kind != JobKind::Sheet;
    if (job.kind == JobKind::Relief)
        return piecesOfReliefs(job, project, values);
    const std::vector<std::string> views =
        job.views.empty() ? std::vector<std::string>{{}} : job.views;
    std::vector<ObjectSet> sets = job.settings.sets;
    if (sets.empty())
        sets.emplace_back();
    std::vector<JobPiece> all;
    for (const ObjectSet& set : sets) {
        values.frame = 0;
        for (const std::string& view : views) {
            values.set = set.name;
            ++values.frame;  // of one frame each, the views are counted
            values.view = job.kind == JobKind::Sheet && views.size() > 1 ? commonNameOf(views)
                          : view.empty()                                 ? ownView(project)
                                                                         : view;
            for (JobPiece& piece : piecesOfView(job, project, view, values))
                all.push_back(std::move(piece));
        }
    }
    return all;
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

std::string JobPiece::key() const {
    return item.empty() ? fmt::format("{}/{}", view, frame.number)
                        : fmt::format("{}/{}/{}", item, view, frame.number);
}

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
    std::vector<JobPiece> all = allPiecesOf(job, project);
    // Neighbours stay together: each share reads a stretch of its folder.
    const auto count = static_cast<std::int64_t>(all.size());
    const auto begin = count * (share.part - 1) / share.parts;
    const auto end = count * share.part / share.parts;
    return {std::make_move_iterator(all.begin() + begin),
            std::make_move_iterator(all.begin() + end)};
}

}  // namespace noctis
