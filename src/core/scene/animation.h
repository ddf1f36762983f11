#pragma once

#include "core/image/camera.h"

#include <string>
#include <utility>
#include <vector>

#include <Imath/ImathQuat.h>

namespace noctis {

struct Scene;

/// Values at times in seconds, in order; empty if that part of a node doesn't move.
template <typename T> using Keys = std::vector<std::pair<double, T>>;

struct NodeKeys {
    Keys<V3f> translation;
    Keys<Imath::Quatf> rotation;
    Keys<V3f> scale;
};

/// The hierarchy and motion of a scene's nodes, independent of their current place.
struct Animation {
    struct Node {
        int parent = -1;  ///< before it in the list
        M44f toParent;    ///< where it rests
        int keys = -1;    ///< into keys
    };
    std::vector<Node> nodes;
    std::vector<NodeKeys> keys;
    double seconds = 0.0;  ///< time of the last key

    std::vector<int> nodeOfInstance;
    std::vector<int> nodeOfView;  ///< -1 for views that were made
    std::vector<int> nodeOfLight;
    std::vector<M44f> viewInNode;
    std::vector<V3f> lightPositionInNode;
    std::vector<V3f> lightDirectionInNode;
};

/// Frame 1 is at time 0.
[[nodiscard]] inline double secondsOfFrame(int frame, double framesPerSecond) {
    return (frame - 1) / framesPerSecond;
}

/// The last frame that has keys; 1 for a scene that does not move.
int lastFrame(const Scene& scene, double framesPerSecond);

/// Puts instances, views and lights where they are at a time. Between keys it goes straight, and turns
/// the short way; before the first and after the last key it rests.
void poseAt(Scene& scene, double seconds);

}  // namespace noctis
