#include "core/scene/animation.h"

#include "core/scene/scene.h"
#include "core/scene/traceable.h"

#include <algorithm>
#include <cmath>

#include <Imath/ImathMatrixAlgo.h>

namespace noctis {

namespace {

V3f between(const V3f& a, const V3f& b, float t) { return a + (b - a) * t; }
Imath::Quatf between(const Imath::Quatf& a, const Imath::Quatf& b, float t) {
    return Imath::slerpShortestArc(a, b, t);
}

template <typename T> T valueAt(const Keys<T>& keys, double seconds, const T& resting) {
    if (keys.empty())
        return resting;
    const auto after = std::upper_bound(keys.begin(), keys.end(), seconds,
                                        [](double t, const auto& key) { return t < key.first; });
    if (after == keys.begin())
        return keys.front().second;
    if (after == keys.end())
        return keys.back().second;
    const auto before = std::prev(after);
    const double t = (seconds - before->first) / (after->first - before->first);
    return between(before->second, after->second, static_cast<float>(t));
}

M44f placeAt(const Animation::Node& node, const Animation& animation, double seconds) {
    if (node.keys < 0)
        return node.toParent;
    V3f scale(1.0F);
    V3f shear(0.0F);
    M44f rigid = node.toParent;
    if (!Imath::extractAndRemoveScalingAndShear(rigid, scale, shear, false))
        return node.toParent;
    const NodeKeys& keys = animation.keys[static_cast<std::size_t>(node.keys)];
    const V3f s = valueAt(keys.scale, seconds, scale);
    const Imath::Quatf r = valueAt(keys.rotation, seconds, Imath::extractQuat(rigid).normalized());
    const V3f t = valueAt(keys.translation, seconds, rigid.translation());
    M44f scaling;
    scaling.setScale(s);
    M44f moving;
    moving.setTranslation(t);
    return scaling * r.normalized().toMatrix44() * moving;
}

}  // namespace

int lastFrame(const Scene& scene, double framesPerSecond) {
    if (!scene.animation)
        return 1;
    constexpr double kLast = 10e6;  // of a file that says nonsense
    return 1 + static_cast<int>(
                   std::lround(std::clamp(scene.animation->seconds * framesPerSecond, 0.0, kLast)));
}

void poseAt(Scene& scene, double seconds) {
    if (!scene.animation)
        return;
    const Animation& animation = *scene.animation;
    std::vector<M44f> toWorld;
    for (const Animation::Node& node : animation.nodes) {
        const M44f place = placeAt(node, animation, seconds);
        toWorld.push_back(node.parent < 0 ? place
                                          : place * toWorld[static_cast<std::size_t>(node.parent)]);
    }
    const auto of = [&](int node) { return toWorld[static_cast<std::size_t>(node)]; };
    // What is nowhere at that time stays.
    for (std::size_t i = 0; i < animation.nodeOfInstance.size(); ++i)
        if (const M44f& place = of(animation.nodeOfInstance[i]); isFinite(place))
            scene.instances[i].toWorld = place;
    for (std::size_t i = 0; i < animation.nodeOfView.size(); ++i) {
        if (animation.nodeOfView[i] < 0)
            continue;
        M44f camera = animation.viewInNode[i] * of(animation.nodeOfView[i]);
        V3f scale;
        V3f shear;
        if (Imath::extractAndRemoveScalingAndShear(camera, scale, shear, false)) {
            scene.views[i].camera.cameraToWorld = camera;
            (void)makeTraceable(scene.views[i].camera);
        }
    }
    for (std::size_t i = 0; i < animation.nodeOfLight.size(); ++i) {
        const M44f m = of(animation.nodeOfLight[i]);
        scene.lights[i].position = animation.lightPositionInNode[i] * m;
        m.multDirMatrix(animation.lightDirectionInNode[i], scene.lights[i].direction);
        scene.lights[i].direction.normalize();
        (void)makeTraceable(scene.lights[i]);
    }
}

}  // namespace noctis
