#include "core/tracer/render_file.h"

#include "core/image/image_file.h"
#include "core/image/safe_write.h"
#include "core/passes/pass_file_writer.h"
#include "core/scene/scene_files.h"
#include "core/settings/value_type.h"

#include <algorithm>
#include <chrono>

#include <fmt/format.h>

namespace noctis {

namespace {

bool isOfLight(PassKind kind) {
    return kind == PassKind::Beauty || (isMadeWithBeauty(kind) && kind != PassKind::BehindColour);
}

const PassRequest* beautyOf(const RenderRequest& request) {
    for (const PassRequest& pass : request.passes)
        if (pass.kind == PassKind::Beauty)
            return &pass;
    return nullptr;
}

/// Passes that are rendered together: all, or those of light, and each other one alone.
std::vector<std::vector<PassRequest>> groupsOf(const RenderRequest& request, std::size_t memory) {
    if (bytesOf(request) <= memory)
        return {request.passes};
    std::vector<PassRequest> light;
    std::vector<std::vector<PassRequest>> groups;
    for (const PassRequest& pass : request.passes) {
        const bool isAlpha = pass.kind == PassKind::Coverage && beautyOf(request) != nullptr;
        if (isOfLight(pass.kind) || isAlpha)
            light.push_back(pass);
        else
            groups.push_back({pass});
    }
    if (!light.empty())
        groups.push_back(std::move(light));
    return groups;
}

std::string namesOf(const std::vector<PassRequest>& passes) {
    std::string names;
    for (const PassRequest& pass : passes)
        names += (names.empty() ? "" : ", ") + pass.name();
    return names;
}

}  // namespace

std::size_t bytesOf(const RenderRequest& request) {
    std::size_t channels = 0;
    for (const PassRequest& pass : request.passes)
        channels += dataChannels(pass).size();
    return channels * sizeof(float) * static_cast<std::size_t>(request.width) *
           static_cast<std::size_t>(request.height);
}

std::vector<std::filesystem::path> filesOfRender(const std::filesystem::path& path,
                                                 const RenderRequest& request, PassLayout layout) {
    if (layout != PassLayout::FolderPerPass)
        return {path};
    std::vector<std::filesystem::path> files;
    for (const PassRequest& pass : request.passes)
        files.push_back(fileOfPass(path, pass.name()));
    return files;
}

void requireFreeToRender(const Scene& scene, const RenderRequest& request,
                         const std::vector<std::filesystem::path>& outputs) {
    std::vector<std::filesystem::path> inputs;
    if (!scene.file.empty())
        inputs = filesOfScene(scene.file, outputs);
    addFilesOf(request.light, inputs);
    for (const PassRequest& pass : request.passes)
        addFilesOf(pass.settings, inputs);
    requireNoInput(outputs, inputs);
}

RenderedFile renderToFile(const Scene& scene, const Accelerator& accelerator,
                          const RenderRequest& request, const std::filesystem::path& path,
                          const RenderFileOptions& options, const RunContext& run,
                          const RenderObserver& observer) {
    if (options.packing.layout != PassLayout::FolderPerPass)
        requireImageTarget(path);
    const std::vector<std::vector<PassRequest>> groups = groupsOf(request, options.memory);
    PassFileWriter writer(path, options.packing);
    RenderedFile rendered;
    std::vector<std::string>& warnings = rendered.warnings;
    const bool folders = options.packing.layout == PassLayout::FolderPerPass;
    RenderRequest part = request;
    if (const PassRequest* beauty = beautyOf(request))
        part.light = beauty->settings;
    for (std::size_t g = 0; g < groups.size(); ++g) {
        part.passes = groups[g];
        const auto began = std::chrono::steady_clock::now();
        const PassSet set =
            renderPasses(scene, accelerator, part, partOf(run, g, groups.size()), observer);
        if (run.stopped())
            return rendered;
        if (groups.size() == 1)
            writePasses(path, set, options.packing);
        else
            writer.add(set);
        if (folders)
            rendered.files += static_cast<int>(set.passes.size());
        for (const std::string& warning : set.warnings)
            if (std::find(warnings.begin(), warnings.end(), warning) == warnings.end())
                warnings.push_back(warning);
        for (const Pass& pass : set.passes)
            for (const std::string& warning : pass.warnings)
                warnings.push_back(fmt::format("{}: {}", pass.name, warning));
        if (options.timed)
            options.timed(
                namesOf(groups[g]),
                std::chrono::duration<double>(std::chrono::steady_clock::now() - began).count());
    }
    if (groups.size() > 1) {
        std::vector<std::string> order;
        for (const PassRequest& pass : request.passes)
            order.push_back(pass.name());
        writer.finish(order);
    }
    rendered.whole = true;
    if (!folders)
        rendered.files = 1;
    return rendered;
}

}  // namespace noctis
