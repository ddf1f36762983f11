#include "core/project/render_request.h"

#include "core/scene/traceable.h"

namespace noctis {

RenderRequest renderRequestOf(const Project& project, const View& view) {
    RenderRequest request;
    request.view = view;
    (void)makeTraceable(request.view.camera);
    request.width = project.width;
    request.height = project.height;
    request.passes = project.passes;
    if (const PassRequest* beauty = passAsked(project, "beauty"))
        request.light = beauty->settings;
    request.crop = cropOf(project);
    request.moved = project.moved;
    request.framesPerSecond = project.framesPerSecond;
    return request;
}

}  // namespace noctis
