#pragma once

#include "core/tracer/render.h"

#include <string>
#include <vector>

namespace noctis::test {

struct Rendering {
    int width = 48;
    int height = 48;
    std::vector<std::string> settings{};
    int threads = 0;
    std::uint32_t seed = 0;
};

/// Passes of a scene by their names.
inline PassSet rendered(const Scene& scene, const Accelerator& accelerator, const View& view,
                        const std::vector<std::string>& names, const Rendering& how = {}) {
    RenderRequest request;
    request.view = view;
    request.width = how.width;
    request.height = how.height;
    request.seed = how.seed;
    request.passes = passRequests(names, scene);
    for (const std::string& setting : how.settings)
        applyPassSetting(request.passes, setting);
    const ThreadLimit limit(how.threads);
    return renderPasses(scene, accelerator, request);
}
inline PassSet rendered(const Scene& scene, const View& view, const std::vector<std::string>& names,
                        const Rendering& how = {}) {
    return rendered(scene, Accelerator(scene), view, names, how);
}

inline View looking(const V3f& eye, const V3f& target, float yfov = 0.7F) {
    return {"test", lookingAt(eye, target, yfov)};
}

inline const Image& imageOf(const PassSet& set, const std::string& name) {
    return set.find(std::string_view(name))->image;
}

}  // namespace noctis::test
