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

/// The files that a render of one frame writes.
std::vector<std::filesystem::path> filesOfRender(const std::filesystem::path& path,
                                                 const RenderRequest& request, PassLayout layout);

/// Errors   Error(BadSetting) if one of the outputs belongs to the scene or is a panorama of the request.
void requireFreeToRender(const Scene& scene, const RenderRequest& request,
                         const std::vector<std::filesystem::path>& outputs);

struct RenderedFile {
    bool whole = false;                 ///< all that was asked for is written
    int files = 0;                      ///< how many were written
    std::vector<std::string> warnings;  ///< the passes', each with its pass
};

/// Renders passes into a file, or into one a pass.
/// Exact    the file is that of writePasses of renderPasses, bit for bit.
/// Result   when stopped, a single file isn't written; of one a pass, those are that were done.
/// Errors   as renderPasses and writePasses. What may be replaced is up to requireFreeToRender.
RenderedFile renderToFile(const Scene& scene, const Accelerator& accelerator,
                          const RenderRequest& request, const std::filesystem::path& path,
                          const RenderFileOptions& options = {}, const RunContext& run = {},
                          const RenderObserver& observer = {});

}  // namespace noctis
