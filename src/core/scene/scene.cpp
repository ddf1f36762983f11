#include "core/scene/scene.h"

#include "core/image/error.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>
#include <fmt/ranges.h>

namespace noctis {

std::size_t triangleCount(const Scene& scene) {
    std::size_t count = 0;
    for (const Instance& instance : scene.instances)
        count += scene.meshes[static_cast<std::size_t>(instance.mesh)].triangles.size();
    return count;
}

Box3f boundsOf(const Scene& scene) {
    Box3f bounds;
    for (const Instance& instance : scene.instances)
        for (const V3f& position : scene.meshes[static_cast<std::size_t>(instance.mesh)].positions)
            bounds.extendBy(position * instance.toWorld);
    return bounds;
}

View framingView(const Box3f& bounds, float aspect) {
    constexpr float kYfov = 0.6F;
    constexpr float kMargin = 1.08F;
    if (bounds.isEmpty())
        return {"framing", assumedCamera()};
    const V3f centre = bounds.center();
    const float radius = std::max(0.5F * bounds.size().length(), 1e-4F);
    const float narrow = std::min(kYfov, 2.0F * std::atan(std::tan(0.5F * kYfov) * aspect));
    const V3f from = V3f(0.35F, 0.30F, 1.0F).normalized();
    View view{"framing", lookingAt(centre + from * (radius * kMargin / std::sin(0.5F * narrow)),
                                   centre, kYfov)};
    view.camera.nearDistance = radius * 1e-3F;
    view.camera.farDistance = radius * 100.0F;
    return view;
}

const View& viewNamed(const Scene& scene, const std::string& name) {
    const auto found = std::find_if(scene.views.begin(), scene.views.end(),
                                    [&](const View& view) { return view.name == name; });
    if (found != scene.views.end())
        return *found;
    std::vector<std::string> names;
    for (const View& view : scene.views)
        names.push_back(view.name);
    throw Error(ErrorCode::UnknownName,
                fmt::format("there is no view {}; there are {}", name, fmt::join(names, ", ")));
}

}  // namespace noctis
