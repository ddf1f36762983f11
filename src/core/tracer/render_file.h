#pragma once

#include "core/passes/pass_file.h"
#include "core/tracer/render.h"

#include <filesystem>
#include <functional>
#include <string>
#include <vector>

namespace noctis {

struct RenderFileOptions {
    PassFileOptions packing;
    /// Bytes of passes that may be in memory at once; beyond it they are rendered some at a time. Those of
    /// light come of the same paths and stay together whatever they take.
    std::size_t memory = std::size_t{1} << 30U;
    /// Called for each pass, or for those made together, with the seconds they took.
    std::function<void(const std::string& passes, double seconds)> timed;
};

/// Bytes that the passes of a request take in memory.
std::size_t bytesOf(const RenderRequest& request);

/// Renders passes into a file.
/// Exact    the file is that of writePasses of renderPasses, bit for bit.
/// Result   the passes' warnings, each with its pass. When stopped, nothing is written.
/// Errors   as renderPasses and writePasses.
std::vector<std::string>
renderToFile(const Scene& scene, const Accelerator& accelerator, const RenderRequest& request,
             const std::filesystem::path& path, const RenderFileOptions& options = {},
             const RunContext& run = {}, const RenderObserver& observer = {});

}  // namespace noctis
