#pragma once

#include "core/image/tiles.h"
#include "core/passes/pass_set.h"
#include "core/scene/moved_places.h"
#include "core/scene/scene_change.h"
#include "core/tracer/pass_settings.h"

#include <string>

namespace noctis {

/// Keys of what a pass records besides its own settings: the scene's signature, lights that were moved, and
/// the crop, where the rest of the picture was made with other settings, or not at all.
constexpr const char* kSceneSetting = "scene";
constexpr const char* kMovedSetting = "moved_lights";
constexpr const char* kCropSetting = "crop";
/// How many samples lie in a pixel, as "7" or "8-64", where a limit ended it before all.
constexpr const char* kTracedSetting = "traced";
/// The name of a pass as it was before it was cleaned, where it is kept.
inline std::string noisyName(const std::string& pass) { return pass + ".raw"; }
/// A crop as such a setting.
std::string textOfCrop(const Tile& crop);

/// The moved lights that a pass shows; see textOfMovedLights.
std::string movedLightsOf(const PassRequest& request, const MovedPlaces& moved);

/// Whether two cameras see the same, but for rounding.
bool sameCamera(const Camera& a, const Camera& b);

/// A render request, to compare passes with.
struct WantedFrame {
    View view;
    int width = 0;
    int height = 0;
    std::vector<PassRequest> passes;
    std::string sceneSignature{};  ///< empty if there is none to compare with
    MovedPlaces moved{};
    std::optional<Tile> crop{};
};

/// Whether a pass of a frame still is what would be rendered now. Passes of another view are missing.
struct PassState {
    enum class Kind { Current, Stale, Missing } kind = Kind::Missing;
    std::string why;  ///< of a stale one, in a few words
    bool operator==(const PassState&) const = default;
};

/// Settings a pass was made without count as their defaults. Mist follows its settings live wherever
/// there is depth, and is never stale by them.
PassState passState(const PassSet& set, const PassRequest& request, const WantedFrame& wanted);
/// The same for all of wanted's passes, in their order.
std::vector<PassState> passStates(const PassSet& set, const WantedFrame& wanted);
/// The same for who asks often; known holds what was found of the scene.
std::vector<PassState> passStates(const PassSet& set, const WantedFrame& wanted,
                                  SceneComparisons& known);

}  // namespace noctis
