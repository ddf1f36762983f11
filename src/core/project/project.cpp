#include "core/project/project.h"

#include <tuple>

namespace noctis {

namespace {

auto tied(const Project& p) {
    return std::tie(p.scene, p.passFiles, p.view, p.views, p.width, p.height, p.aspectLocked,
                    p.passes, p.readings, p.recipe, p.exposure, p.viewTransform);
}

}  // namespace

bool Project::operator==(const Project& other) const { return tied(*this) == tied(other); }

std::vector<PassRequest> usualPasses() {
    std::vector<PassRequest> passes;
    for (const PassKind kind : {PassKind::Beauty, PassKind::Depth, PassKind::Occlusion,
                                PassKind::Normal, PassKind::Position, PassKind::Objects})
        passes.push_back(passRequest(kind));
    return passes;
}

Project newProject() {
    Project project;
    project.passes = usualPasses();
    return project;
}

}  // namespace noctis
