#pragma once

#include "core/image/camera.h"
#include "core/image/image.h"

#include <map>
#include <string>
#include <string_view>
#include <vector>

#include <nlohmann/json_fwd.hpp>

namespace noctis {

enum class SceneLightKind { Sun, Point, Spot, Area, Dome };

/// A light as steps use it: from the frame's scene, or made by the artist.
struct SceneLight {
    SceneLightKind kind = SceneLightKind::Sun;
    std::string group{};             ///< the group whose pass it is part of; empty: its own name
    V3f towards{0.4F, 0.7F, 0.6F};   ///< from the scene to the light, any length but 0
    V3f position{0.0F, 2.0F, 0.0F};  ///< m; point, spot and the middle of an area
    LinearRgb colour{1.0F, 1.0F, 1.0F};
    float strength =
        1.0F;             ///< sun: irradiance; point, spot: radiant intensity; area, dome: radiance
    float inner = 20.0F;  ///< degrees from a spot's axis up to which it is full
    float outer = 35.0F;  ///< and beyond which there is nothing
    float size = 1.0F;    ///< m, the side of an area's square
    bool operator==(const SceneLight&) const = default;
};

using NamedLights = std::map<std::string, SceneLight>;

/// "sun", "point", ...
std::string_view lightKindId(SceneLightKind kind);

nlohmann::json lightsToJson(const NamedLights& lights);
/// Errors   Error(BadSetting), naming the light and what is wrong with it.
NamedLights lightsFromJson(const nlohmann::json& json);

/// For an attribute of a file: compact JSON; lights that can't be read are left out.
std::string lightsToText(const NamedLights& lights);
NamedLights lightsFromText(const std::string& text);

}  // namespace noctis
