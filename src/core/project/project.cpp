#include "core/project/project.h"

#include "core/scene/scene_files.h"
#include "core/settings/value_type.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace noctis {

namespace fs = std::filesystem;

const PassRequest* passAsked(const Project& project, std::string_view name) {
    const auto found = std::find_if(project.passes.begin(), project.passes.end(),
                                    [&](const PassRequest& pass) { return pass.name() == name; });
    return found == project.passes.end() ? nullptr : &*found;
}

PassRequest& askPass(Project& project, const PassName& pass) {
    const std::string name = nameOf(pass);
    for (PassRequest& there : project.passes)
        if (there.name() == name)
            return there;
    return project.passes.emplace_back(passRequest(pass.kind, pass.subject));
}

std::vector<PassRequest> usualPasses() {
    std::vector<PassRequest> passes;
    for (const PassKind kind : {PassKind::Beauty, PassKind::Depth, PassKind::Occlusion,
                                PassKind::Normal, PassKind::Position, PassKind::Objects})
        passes.push_back(passRequest(kind));
    return passes;
}

const Relief* reliefOf(const Project& project, std::string_view id) {
    for (const Relief& relief : project.reliefs)
        if (relief.id == id)
            return &relief;
    return nullptr;
}

Relief* reliefOf(Project& project, std::string_view id) {
    return const_cast<Relief*>(reliefOf(std::as_const(project), id));
}

Project newProject() {
    Project project;
    project.passes = usualPasses();
    return project;
}

std::optional<Tile> cropOf(const Project& project) {
    const auto& c = project.crop;
    const auto side = [](float part, int size) {
        return std::clamp(static_cast<int>(std::lround(part * static_cast<float>(size))), 0, size);
    };
    const Tile tile{side(c[0], project.width), side(c[1], project.height),
                    side(c[2], project.width), side(c[3], project.height)};
    if (tile == Tile{0, 0, project.width, project.height} || tile.x1 <= tile.x0 ||
        tile.y1 <= tile.y0)
        return std::nullopt;
    return tile;
}

std::vector<fs::path> inputsOf(const Project& project, const std::vector<fs::path>& outputs) {
    std::vector<fs::path> inputs = project.passFiles;
    const auto add = [&](const std::vector<fs::path>& files) {
        inputs.insert(inputs.end(), files.begin(), files.end());
    };
    for (const auto& [view, files] : project.viewFiles)
        add(files);
    if (!project.scene.empty())
        add(filesOfScene(project.scene, outputs));
    for (const PassRequest& pass : project.passes)
        addFilesOf(pass.settings, inputs);
    add(filesOf(project.recipe));
    for (const Relief& relief : project.reliefs)
        add(filesOf(relief));
    return inputs;
}

}  // namespace noctis
