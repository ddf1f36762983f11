#include "core/scene/import_animation.h"

#include "core/scene/traceable.h"

#include <algorithm>
#include <cmath>

#include <assimp/anim.h>
#include <assimp/scene.h>

namespace noctis {

namespace {

/// Where a file gives no speed of its ticks. Source: Assimp's documentation of mTicksPerSecond.
constexpr double kUsualTicks = 25.0;

V3f valueOf(const aiVectorKey& key) { return {key.mValue.x, key.mValue.y, key.mValue.z}; }
Imath::Quatf valueOf(const aiQuatKey& key) {
    return {key.mValue.w, key.mValue.x, key.mValue.y, key.mValue.z};
}

bool usable(const V3f& v) { return isFinite(v); }
bool usable(const Imath::Quatf& q) { return isFinite(q.v) && std::isfinite(q.r) && (q ^ q) > 0.0F; }

/// How many are left out, as no time or place.
template <typename Key, typename T>
std::size_t addKeys(const Key* from, unsigned count, double ticks, Keys<T>& to) {
    for (unsigned i = 0; i < count; ++i)
        if (std::isfinite(from[i].mTime / ticks) && usable(valueOf(from[i])))
            to.emplace_back(from[i].mTime / ticks, valueOf(from[i]));
    std::stable_sort(to.begin(), to.end(),
                     [](const auto& a, const auto& b) { return a.first < b.first; });
    return count - to.size();
}

}  // namespace

std::size_t importKeys(const aiScene& from, const std::map<std::string, int>& nodes,
                       Animation& animation) {
    std::size_t left = 0;
    for (unsigned a = 0; a < from.mNumAnimations; ++a) {
        const aiAnimation& moves = *from.mAnimations[a];
        const double ticks = moves.mTicksPerSecond > 0.0 ? moves.mTicksPerSecond : kUsualTicks;
        for (unsigned c = 0; c < moves.mNumChannels; ++c) {
            const aiNodeAnim& channel = *moves.mChannels[c];
            const auto node = nodes.find(channel.mNodeName.C_Str());
            if (node == nodes.end())
                continue;
            NodeKeys keys;
            left +=
                addKeys(channel.mPositionKeys, channel.mNumPositionKeys, ticks, keys.translation);
            left += addKeys(channel.mRotationKeys, channel.mNumRotationKeys, ticks, keys.rotation);
            left += addKeys(channel.mScalingKeys, channel.mNumScalingKeys, ticks, keys.scale);
            const auto last = [&](const auto& list) {
                if (!list.empty())
                    animation.seconds = std::max(animation.seconds, list.back().first);
            };
            last(keys.translation);
            last(keys.rotation);
            last(keys.scale);
            animation.nodes[static_cast<std::size_t>(node->second)].keys =
                static_cast<int>(animation.keys.size());
            animation.keys.push_back(std::move(keys));
        }
    }
    return left;
}

}  // namespace noctis
