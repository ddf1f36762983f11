#pragma once

#include "core/dispatch/job_inputs.h"

#include <filesystem>
#include <functional>
#include <memory>
#include <string>
#include <vector>

namespace noctis {

/// What a writer works with; all of it outlives the writer.
struct JobContext {
    const Job& job;
    const Project& project;
    JobInputs& inputs;
    std::filesystem::path record;  ///< of the job; what is kept for later lies beside it
    JobInputs::Warn warn;
    /// Shows what was made of a piece; may be empty.
    std::function<void(const Image& picture)> show;
};

/// A file couldn't be written: the next one couldn't be either.
struct JobHalt {
    std::string reason;
};

/// Writes a kind of job: begins, takes its pieces one by one, and ends.
class JobWriter {
public:
    virtual ~JobWriter() = default;
    /// Errors   what would make every piece fail.
    virtual void begin(const std::vector<JobPiece>& pieces) = 0;
    /// Returns  the files it wrote; none if it was stopped.
    /// Errors   of this piece; JobHalt.
    virtual std::vector<std::filesystem::path> take(const JobPiece& piece,
                                                    const RunContext& run) = 0;
    /// All pieces of the job are there, those of other shares, too.
    /// Returns  the files it wrote, if the job has some that are of no piece.
    virtual std::vector<std::filesystem::path> end(const std::vector<JobPiece>& /*pieces*/) {
        return {};
    }
};

/// The one for the job's kind.
std::unique_ptr<JobWriter> jobWriter(const JobContext& context);

/// Runs what writes; what keeps it from writing becomes a JobHalt.
void writing(const std::function<void()>& write);

/// A picture as small as a queue shows it, sRGB-encoded, R G B.
Image jobPicture(const Image& encoded);

// passes_writer.cpp, for previews, too
/// The passes a job writes of a frame; no names: all. Errors: Error(MissingPass).
PassSet chosenPasses(const PassSet& set, const std::vector<std::string>& names);
PassStorage storageOf(const JobSettings& settings, const Pass& pass);
/// Where a pass of a frame goes, whose name is out.
std::filesystem::path fileOfPassIn(const JobSettings& settings, const std::filesystem::path& out,
                                   const std::string& pass);

// finished_writer.cpp
std::unique_ptr<JobWriter> finishedWriter(const JobContext& context);
// passes_writer.cpp
std::unique_ptr<JobWriter> passesWriter(const JobContext& context);
// sheet_writer.cpp
std::unique_ptr<JobWriter> sheetWriter(const JobContext& context);
// relief_writer.cpp
std::unique_ptr<JobWriter> reliefWriter(const JobContext& context);

}  // namespace noctis
