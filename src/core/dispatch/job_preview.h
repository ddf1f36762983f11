#pragma once

#include "core/dispatch/job_frames.h"
#include "core/dispatch/sheet.h"
#include "core/image/run_context.h"
#include "core/relief/relief_input.h"

#include <filesystem>
#include <functional>
#include <string>
#include <vector>

namespace noctis {

/// A file that a job will write.
struct JobFile {
    std::filesystem::path path;
    std::string pass{};     ///< the one it holds alone; empty: not a pass's
    std::size_t piece = 0;  ///< of piecesOf
    bool isPicture = true;  ///< otherwise it says something about the one before
};

/// The files a job will write, in their order.
/// passes   those of each frame, by name.
/// Errors   as piecesOf; of names and formats, as runJob.
std::vector<JobFile> filesOfJob(const Job& job, const std::vector<JobPiece>& pieces,
                                const std::vector<std::string>& passes);

/// What a file will hold.
struct JobPreview {
    Image values;   ///< as stored
    Image seen;     ///< the same to look at: sRGB-encoded R G B, straight, and A where there is one
    int width = 0;  ///< px of the file
    int height = 0;
    std::vector<SheetCell> cells{};      ///< of a sheet, px of the file
    std::vector<std::string> missing{};  ///< views of a sheet that have no passes yet
};

/// A finished picture.
JobPreview finishedPreview(const Job& job, const Project& project, const PassSet& passes,
                           const JobPiece& piece, const RunContext& run);
/// One of its passes.
/// Errors   Error(MissingPass).
JobPreview passPreview(const Job& job, const Project& project, const PassSet& passes,
                       const JobPiece& piece, const std::string& pass);
/// A sheet at a part of its size. passesOf: those of a piece; empty where there are none yet.
JobPreview sheetPreview(const Job& job, const Project& project, const std::vector<JobPiece>& pieces,
                        const std::function<PassSet(const JobPiece&)>& passesOf,
                        const RunContext& run);

/// A height map, what derives from it, or its solid from above.
JobPreview reliefPreview(const Job& job, const Project& project, const JobPiece& piece,
                         const ReliefSurroundings& around, const RunContext& run);

}  // namespace noctis
