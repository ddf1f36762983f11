#include "core/tracer/pass_warnings.h"

#include <algorithm>
#include <set>

#include <fmt/format.h>
#include <fmt/ranges.h>

namespace noctis {

namespace {

constexpr int kAcross = 96;
constexpr float kRounding = 1e-5F;  ///< m, what posing a scene anew may take
constexpr std::size_t kNamed = 3;

std::string textIn(const PassRequest& request, const char* id) {
    const Value* value = request.settings.find(id);
    return value == nullptr ? std::string() : std::get<std::string>(*value);
}

/// Instances that any ray of a coarse grid meets first.
std::set<std::size_t> visibleInstances(const Accelerator& everything, const TracedFrame& frame) {
    std::set<std::size_t> visible;
    const int down = std::max(1, kAcross * frame.height / frame.width);
    for (int y = 0; y < down; ++y)
        for (int x = 0; x < kAcross; ++x) {
            const CameraRay ray = cameraRay(frame.camera, static_cast<float>(x) + 0.5F,
                                            static_cast<float>(y) + 0.5F, kAcross, down);
            const Hit hit = everything.intersect(ray.origin, ray.direction, 0.0F, kNothingHit);
            if (hit.any())
                visible.insert(static_cast<std::size_t>(hit.instance));
        }
    return visible;
}

std::string listed(const std::set<std::string>& names) {
    std::vector<std::string> some(names.begin(), names.end());
    some.resize(std::min(some.size(), kNamed));
    return fmt::format("{} visible {}: {}{}", names.size(),
                       names.size() == 1 ? "object" : "objects", fmt::join(some, ", "),
                       names.size() > kNamed ? " and others" : "");
}

class Warnings {
public:
    Warnings(const Accelerator& everything, const TracedFrame& frame)
        : m_everything(everything), m_frame(frame) {}

    /// Visible objects that are none of these; sentence has {} where they are named.
    void addLeftOut(const std::string& names, const char* sentence) {
        if (names.empty())
            return;
        const Scene& scene = m_everything.scene();
        std::vector<std::string> unknown;
        const std::vector<bool> kept = instancesNamed(scene, names, &unknown);
        for (const std::string& name : unknown)
            add(fmt::format("There is no object, group or material {}.", name));
        std::set<std::string> leftOut;
        for (const std::size_t instance : visibleInstances(m_everything, m_frame))
            if (!kept[instance])
                leftOut.insert(
                    scene.objects[static_cast<std::size_t>(scene.instances[instance].object)]);
        if (!leftOut.empty())
            add(fmt::format(fmt::runtime(sentence), listed(leftOut)));
    }

    void addEmpty(const PassRequest& request) {
        const auto& meshes = m_everything.scene().meshes;
        const bool textured = std::any_of(meshes.begin(), meshes.end(),
                                          [](const Mesh& mesh) { return !mesh.texture.empty(); });
        if (request.kind == PassKind::Uv && !textured)
            add("No object has texture coordinates, so the pass is empty; unwrap the objects.");
        if (request.kind == PassKind::Normal && !textured &&
            normalSettings(request.settings).space == NormalSettings::Space::Tangent)
            add("No object has texture coordinates, so the tangent space is the surface's own.");
        if (request.kind == PassKind::Vectors && !movesTo(m_frame.before) &&
            !movesTo(m_frame.after))
            add("Nothing in this view moves, so the pass is 0 everywhere; give an object or the "
                "camera keys.");
    }

    std::vector<std::string> found;

private:
    /// Whether anything is elsewhere at that moment.
    [[nodiscard]] bool movesTo(const Moment* moment) const {
        if (moment == nullptr)
            return false;
        const auto& now = m_everything.scene().instances;
        bool stands = moment->camera.cameraToWorld.equalWithAbsError(m_frame.camera.cameraToWorld,
                                                                     kRounding) &&
                      moment->camera.yfovRadians == m_frame.camera.yfovRadians;
        for (std::size_t i = 0; i < moment->instances.size() && stands; ++i)
            stands = moment->instances[i].equalWithAbsError(now[i].toWorld, kRounding);
        return !stands;
    }

    void add(std::string sentence) {
        if (std::find(found.begin(), found.end(), sentence) == found.end())
            found.push_back(std::move(sentence));
    }

    const Accelerator& m_everything;
    const TracedFrame& m_frame;
};

}  // namespace

std::vector<std::string> passWarnings(const PassRequest& request, const Settings& light,
                                      const Accelerator& everything, const TracedFrame& frame) {
    Warnings warnings(everything, frame);
    warnings.addEmpty(request);
    PassRequest source = request;
    if (isMadeWithBeauty(request.kind))
        source = {PassKind::Beauty, light, {}};
    warnings.addLeftOut(textIn(source, "only"), "Leaves out {}.");
    warnings.addLeftOut(textIn(source, "on"), "Leaves out {}.");
    warnings.addLeftOut(textIn(source, "of"), "Nothing is cast by {}.");
    return std::move(warnings.found);
}

}  // namespace noctis
