#include "core/relief/relief_input.h"

#include "core/image/error.h"
#include "core/passes/pass_attributes.h"
#include "core/relief/height_file.h"
#include "core/scene/import.h"
#include "core/tracer/render.h"

#include <algorithm>
#include <numeric>

#include <fmt/format.h>

namespace noctis {

namespace fs = std::filesystem;

FrameSize frameSizeOf(const ReliefInput& input) {
    return input.passes.empty() ? FrameSize{input.stored.width(), input.stored.height()}
                                : FrameSize{input.passes.width, input.passes.height};
}

ReliefInput readReliefInput(const std::vector<fs::path>& files, const Readings& readings) {
    if (files.empty())
        throw Error(ErrorCode::BadSetting, "no file to make heights from");
    const fs::path& first = files.front();
    const FileInfo info = readFileInfo(first);
    requireCells(info.width, info.height);  // before its pixels take the memory
    ReliefInput input;
    input.passes = readPasses(files, readings);
    if (info.channels.size() <= 4) {
        std::vector<int> all(info.channels.size());
        std::iota(all.begin(), all.end(), 0);
        input.stored = readFileChannels(info, all);
        input.storedType = info.channels.front().type;
    }
    input.source = first.filename().string();
    return input;
}

ReliefInput traceReliefInput(const Scene& scene, const Accelerator& accelerator, const View& view,
                             int width, int height, const RunContext& run) {
    requireCells(width, height);
    RenderRequest request;
    request.view = view;
    request.width = width;
    request.height = height;
    for (const PassKind kind :
         {PassKind::Depth, PassKind::Position, PassKind::Normal, PassKind::Coverage})
        request.passes.push_back(passRequest(kind));
    ReliefInput input;
    input.passes = renderPasses(scene, accelerator, request, run);
    input.source = fmt::format("view {}", view.name);
    return input;
}

ReliefInput reliefInputOf(const PassSet& passes, std::string source) {
    ReliefInput input;
    input.passes = passes;
    input.source = std::move(source);
    return input;
}

bool isSceneFile(const fs::path& path) {
    const std::string ending = lower(path.extension().string());
    const auto& endings = readableSceneEndings();
    return std::find(endings.begin(), endings.end(), ending) != endings.end();
}

ReliefInput gatherReliefInput(const ReliefFrom& from, const ReliefSurroundings& surroundings,
                              const RunContext& run) {
    if (!from.files.empty() && isSceneFile(from.files.front())) {
        const Scene scene = importScene(from.files.front());
        const View view = from.view.empty() ? scene.views.front() : viewNamed(scene, from.view);
        const Accelerator accelerator(scene);
        ReliefInput input =
            traceReliefInput(scene, accelerator, view, from.width, from.height, run);
        input.source = fmt::format("{} of {}", view.name, from.files.front().filename().string());
        return input;
    }
    if (!from.files.empty())
        return readReliefInput(from.files);
    if (from.view.empty()) {
        if (surroundings.frame == nullptr || surroundings.frame->empty())
            throw Error(ErrorCode::MissingPass,
                        "there are no passes yet; render some, or open files");
        return reliefInputOf(*surroundings.frame, surroundings.frame->view.empty()
                                                      ? std::string("the picture")
                                                      : surroundings.frame->view);
    }
    if (surroundings.scene == nullptr || surroundings.accelerator == nullptr)
        throw Error(ErrorCode::MissingPass, "the scene isn't loaded (yet)");
    for (const View& view : surroundings.views)
        if (view.name == from.view)
            return traceReliefInput(*surroundings.scene, *surroundings.accelerator, view,
                                    from.width, from.height, run);
    throw Error(ErrorCode::UnknownName, fmt::format("there is no view {}", from.view));
}

std::optional<HeightField> writtenHeights(const ReliefInput& input) {
    const Pass* heights = input.passes.find(PassKind::Height);
    if (heights == nullptr || heights->file.empty())
        return std::nullopt;
    return heightFieldOf(*heights);
}

}  // namespace noctis
