#pragma once

#include "core/dispatch/job.h"
#include "core/dispatch/job_frames.h"
#include "core/relief/relief_input.h"
#include "core/tracer/render.h"

#include <functional>
#include <memory>
#include <string>

namespace noctis {

/// Where a job's frames have their passes from: files, or renders of the project's scene, which is read when the first of
/// them is wanted. Both references outlive this.
class JobInputs {
public:
    using Warn = std::function<void(const std::string& sentence)>;

    JobInputs(const Job& job, const Project& project);
    ~JobInputs();
    JobInputs(const JobInputs&) = delete;
    JobInputs& operator=(const JobInputs&) = delete;

    /// The passes of a piece; empty if it was stopped.
    /// Errors   those of reading passes, importing the scene and rendering.
    PassSet passesOf(const JobPiece& piece, const Warn& warn, const RunContext& run);
    /// Renders a piece straight into a file, which takes less memory.
    /// Returns  whether the file is whole.
    /// Errors   those of importing the scene, rendering and writing.
    bool renderInto(const std::filesystem::path& file, const JobPiece& piece, const Warn& warn,
                    const RunContext& run);
    /// What height maps are made from, with the project's own passes as the frame, which has to outlive it.
    ReliefSurroundings surroundings(const PassSet& frame, const RunContext& run);

private:
    struct Loaded;
    /// None if it was stopped.
    Loaded* loaded(const RunContext& run);
    /// The request for a piece, and the scene as it stands then; none if it was stopped.
    std::optional<RenderRequest> requestOf(const JobPiece& piece, const RunContext& run);

    const Job& m_job;
    const Project& m_project;
    std::unique_ptr<Loaded> m_loaded;
};

}  // namespace noctis
