#pragma once

#include "core/dispatch/finished_frame.h"
#include "core/dispatch/job.h"
#include "core/project/frame_files.h"

#include <functional>
#include <string>
#include <vector>

namespace noctis {

/// When the frames of a project are, as the window has it: its numbered files begin with their first.
Sequence timingOf(const Project& project, const FrameFiles& files);

/// The frames of a range, each with its passes. bridge: a frame that is missing gets those of the nearest.
/// Errors   as framesFrom.
std::vector<FrameToFinish>
framesToFinish(const FrameFiles& files, const Sequence& timing, const FrameRange& range,
               bool bridge, const std::function<std::filesystem::path(int frame)>& fileOf);

/// One frame of one view of a job, of one of its sets of objects; or one of its height maps.
struct JobPiece {
    std::string view{};
    FrameToFinish frame{};
    std::string item{};     ///< the set's name, or the height map's id
    bool rendered = false;  ///< its passes are rendered; no file has them
    /// Names it in a job's record.
    [[nodiscard]] std::string key() const;
};

/// The project as one of its views has it: with that view's pass files.
/// Errors   Error(UnknownName) for a view without passes.
Project projectOfView(const Project& project, const std::string& view);

/// All pieces of a job, view by view and frame by frame, or a share of them.
/// Errors   as projectOfView, framesFrom and namedFile.
std::vector<JobPiece> piecesOf(const Job& job, const Project& project, const JobShare& share = {});

}  // namespace noctis
