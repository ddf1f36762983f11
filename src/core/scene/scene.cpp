#include "core/scene/scene.h"

#include "core/image/error.h"

#include <algorithm>
#include <array>
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

std::vector<bool> thingsOf(const Scene& scene) {
    constexpr float kFarLarger = 12.0F;
    constexpr float kMost = 0.9F;
    constexpr float kFarOff = 3.0F;
    std::vector<float> sizes;
    std::array<std::vector<float>, 3> centres;
    for (const Instance& instance : scene.instances) {
        Box3f box;
        for (const V3f& p : scene.meshes[static_cast<std::size_t>(instance.mesh)].positions)
            box.extendBy(p * instance.toWorld);
        sizes.push_back(box.isEmpty() ? 0.0F : box.size().length());
        for (unsigned i = 0; i < 3; ++i)
            centres[i].push_back(box.isEmpty() ? 0.0F : box.center()[static_cast<int>(i)]);
    }
    const auto quantile = [](std::vector<float> values, float part) {
        if (values.empty())
            return 0.0F;
        const auto at =
            values.begin() + static_cast<std::ptrdiff_t>(part * static_cast<float>(values.size()));
        std::nth_element(values.begin(), at, values.end());
        return *at;
    };
    const V3f middle(quantile(centres[0], 0.5F), quantile(centres[1], 0.5F),
                     quantile(centres[2], 0.5F));
    std::vector<float> away;
    for (std::size_t i = 0; i < sizes.size(); ++i)
        away.push_back((V3f(centres[0][i], centres[1][i], centres[2][i]) - middle).length());
    const float largest = kFarLarger * quantile(sizes, 0.5F);
    const float farthest = std::max(kFarOff * quantile(away, kMost), largest);
    std::vector<bool> things;
    for (std::size_t i = 0; i < sizes.size(); ++i)
        things.push_back(sizes[i] <= largest && away[i] <= farthest);
    return things;
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
    // Nearer, until the first corner of its box meets the frame: a thing is seldom a ball.
    const M44f toCamera = view.camera.cameraToWorld.inverse();
    const float up = std::tan(0.5F * kYfov);
    float nearer = kNothingHit;
    for (int i = 0; i < 8; ++i) {
        const V3f corner = V3f((i & 1) != 0 ? bounds.max.x : bounds.min.x,
                               (i & 2) != 0 ? bounds.max.y : bounds.min.y,
                               (i & 4) != 0 ? bounds.max.z : bounds.min.z) *
                           toCamera;
        const float wanted =
            kMargin * std::max(std::abs(corner.y) / up, std::abs(corner.x) / (up * aspect));
        nearer = std::min(nearer, -corner.z - wanted);
    }
    view.camera = lookingAt(view.camera.position() - from * std::max(nearer, 0.0F), centre, kYfov);
    view.camera.nearDistance = radius * 1e-3F;
    view.camera.farDistance = radius * 100.0F;
    return view;
}

namespace {

void addOnce(std::vector<std::string>& names, const std::string& name) {
    if (std::find(names.begin(), names.end(), name) == names.end())
        names.push_back(name);
}

const Material& materialOf(const Scene& scene, const Instance& instance) {
    const Mesh& mesh = scene.meshes[static_cast<std::size_t>(instance.mesh)];
    return scene.materials[static_cast<std::size_t>(mesh.material)];
}

}  // namespace

std::vector<std::string> lightGroups(const Scene& scene) {
    std::vector<std::string> groups;
    for (const Light& light : scene.lights)
        addOnce(groups, light.group.empty() ? light.name : light.group);
    for (const Instance& instance : scene.instances)
        if (const Material& material = materialOf(scene, instance); material.emits())
            addOnce(groups, material.lightGroup.empty() ? material.name : material.lightGroup);
    addOnce(groups, scene.sky ? scene.sky->group : Sky{}.group);
    return groups;
}

std::vector<std::string> lightNames(const Scene& scene) {
    std::vector<std::string> names;
    for (const Light& light : scene.lights)
        addOnce(names, light.name);
    for (const Instance& instance : scene.instances)
        if (materialOf(scene, instance).emits())
            addOnce(names, scene.objects[static_cast<std::size_t>(instance.object)]);
    addOnce(names, "environment");
    return names;
}

std::vector<bool> instancesNamed(const Scene& scene, const std::string& names,
                                 std::vector<std::string>* unknown) {
    std::vector<std::string> wanted;
    std::vector<std::string> unwanted;
    for (std::size_t at = 0; at < names.size();) {
        const std::size_t end = std::min(names.find(',', at), names.size());
        std::string name = names.substr(at, end - at);
        at = end + 1;
        name.erase(0, name.find_first_not_of(' '));
        name.erase(name.find_last_not_of(' ') + 1);
        if (name.size() > 1 && name.front() == '-')
            unwanted.push_back(name.substr(1));
        else if (!name.empty())
            wanted.push_back(name);
    }
    std::vector<std::string> met;
    const auto isOneOf = [&](const std::vector<std::string>& list, const Instance& instance) {
        const auto object = static_cast<std::size_t>(instance.object);
        const std::string* own[] = {&scene.objects[object],
                                    object < scene.groups.size() ? &scene.groups[object] : nullptr,
                                    &materialOf(scene, instance).name};
        bool is = false;
        for (const std::string* name : own)
            if (name != nullptr && std::find(list.begin(), list.end(), *name) != list.end()) {
                addOnce(met, *name);
                is = true;
            }
        return is;
    };
    std::vector<bool> takesPart;
    for (const Instance& instance : scene.instances) {
        const bool in = wanted.empty() || isOneOf(wanted, instance);
        takesPart.push_back(!isOneOf(unwanted, instance) && in);
    }
    if (unknown != nullptr)
        for (const auto* list : {&wanted, &unwanted})
            for (const std::string& name : *list)
                if (std::find(met.begin(), met.end(), name) == met.end())
                    addOnce(*unknown, name);
    return takesPart;
}

Box3f boundsOf(const Scene& scene, const std::vector<bool>& instances) {
    Box3f bounds;
    for (std::size_t i = 0; i < scene.instances.size(); ++i)
        if (instances[i])
            for (const V3f& position :
                 scene.meshes[static_cast<std::size_t>(scene.instances[i].mesh)].positions)
                bounds.extendBy(position * scene.instances[i].toWorld);
    return bounds;
}

std::vector<View> turnaroundViews(const std::string& name, const Box3f& bounds, float aspect,
                                  const Turnaround& turnaround) {
    constexpr float kDegree = 3.14159265F / 180.0F;
    constexpr float kYfov = 0.45F;
    constexpr float kMargin = 1.1F;
    const V3f centre = bounds.center();
    const float radius = std::max(0.5F * bounds.size().length(), 1e-4F);
    const float narrow = std::min(kYfov, 2.0F * std::atan(std::tan(0.5F * kYfov) * aspect));
    const float away = radius * kMargin / std::sin(0.5F * narrow);
    const float up = std::clamp(turnaround.elevationDegrees, -89.0F, 89.0F) * kDegree;
    std::vector<View> views;
    for (int i = 0; i < turnaround.count; ++i) {
        const float turn = (turnaround.startDegrees +
                            360.0F * static_cast<float>(i) / static_cast<float>(turnaround.count)) *
                           kDegree;
        const V3f from(std::sin(turn) * std::cos(up), std::sin(up), std::cos(turn) * std::cos(up));
        View view{fmt::format("{} {}/{}", name, i + 1, turnaround.count),
                  lookingAt(centre + from * away, centre, kYfov)};
        if (turnaround.orthographic)
            view.camera.orthographicHeight = 2.0F * radius * kMargin / std::min(1.0F, aspect);
        view.camera.nearDistance = away * 1e-3F;
        view.camera.farDistance = away * 100.0F;
        views.push_back(view);
    }
    return views;
}

View viewFromAbove(const std::string& name, const Box3f& bounds, float aspect) {
    constexpr float kMargin = 1.04F;
    const V3f centre = bounds.center();
    const V3f size = bounds.size();
    const float above = std::max({size.x, size.y, size.z, 0.1F});
    View view{name, {}};
    view.camera.yfovRadians = 0.5F;
    view.camera.cameraToWorld =
        M44f(1, 0, 0, 0, 0, 0, -1, 0, 0, 1, 0, 0, centre.x, bounds.max.y + above, centre.z, 1);
    view.camera.orthographicHeight = kMargin * std::max({size.z, size.x / aspect, 1e-3F});
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
