#pragma once

#include "core/image/camera.h"
#include "core/passes/pass.h"
#include "core/passes/scene_light.h"

namespace noctis {

/// Three places along the depth, m: a mist is 0 where it begins, 0.5 where it is half, 1 where it is full.
/// Exact    t^p, t = clamp((depth - begins)/(full - begins), 0, 1), p so that it is 0.5 at half.
struct MistSettings {
    float begins = 5.0F;
    float half = 55.0F;
    float full = 105.0F;
};

/// All passes of one frame, of one size.
struct PassSet {
    int width = 0;
    int height = 0;
    std::optional<Camera> camera;                    ///< unset where no file has one
    float assumedYfovRadians = kAssumedYfovRadians;  ///< used where no file has a camera
    std::optional<Camera> cameraBefore;              ///< of the frame before, where it is known
    std::optional<Camera> cameraAfter;               ///< and of the one after
    MistSettings mist;                               ///< a mist that is derived has these
    std::string view;
    NamedLights lights;  ///< of the scene, where a file lists them
    std::vector<Pass> passes;
    std::vector<std::string> warnings;

    [[nodiscard]] const Pass* find(PassKind kind) const noexcept;
    [[nodiscard]] const Pass* find(std::string_view name) const noexcept;
    [[nodiscard]] Pass* find(std::string_view name) noexcept;
    [[nodiscard]] bool empty() const noexcept { return passes.empty(); }
    [[nodiscard]] Camera cameraOrAssumed() const {
        return camera.value_or(assumedCamera(assumedYfovRadians));
    }

    /// Adds a pass, or replaces the one of that name. The first one sets the size.
    /// Errors   Error(ShapeMismatch) for another size.
    void put(Pass pass);
};

/// The whole set at 1/factor of its size.
PassSet shrink(const PassSet& set, int factor);

/// A pass of that kind, derived from the others where it was not measured: distance from depth or position,
/// depth from distance, position from depth or distance, mist from depth, normals from position. Without a
/// camera, one is assumed and the pass's warnings say so.
/// Errors   Error(MissingPass), naming what is needed.
Pass resolvePass(const PassSet& set, PassKind kind);

/// Whether it is there or derivable; computes nothing.
bool canResolve(const PassSet& set, PassKind kind);

/// As resolvePass, but empty instead of an error.
std::optional<Pass> tryResolvePass(const PassSet& set, PassKind kind);

/// The power p above; 1 if half doesn't lie between the other two.
float mistPower(const MistSettings& settings) noexcept;
/// 0 for a depth that is not a number.
float mistAt(float depth, const MistSettings& settings) noexcept;
/// The mist pass of a depth pass.
Pass mistFromDepth(const Pass& depth, const MistSettings& settings);

}  // namespace noctis
