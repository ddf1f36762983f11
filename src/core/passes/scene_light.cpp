#include "core/passes/scene_light.h"

#include "core/image/error.h"
#include "core/image/json_text.h"

#include <array>
#include <cmath>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

using Json = nlohmann::json;

namespace {

// In the order of SceneLightKind.
constexpr std::array<std::string_view, 5> kKinds{"sun", "point", "spot", "area", "dome"};

[[noreturn]] void bad(const std::string& name, const std::string& what) {
    throw Error(ErrorCode::BadSetting, fmt::format("the light {}: {}", name, what));
}

float numberIn(const Json& json, const char* key, float otherwise, const std::string& name) {
    if (!json.contains(key))
        return otherwise;
    if (!json[key].is_number() || !std::isfinite(json[key].get<float>()))
        bad(name, fmt::format("{} must be a finite number", key));
    return json[key].get<float>();
}

V3f vectorIn(const Json& json, const char* key, const V3f& otherwise, const std::string& name) {
    if (!json.contains(key))
        return otherwise;
    const Json& v = json[key];
    if (!v.is_array() || v.size() != 3 || !v[0].is_number() || !v[1].is_number() ||
        !v[2].is_number())
        bad(name, fmt::format("{} must be three numbers", key));
    const V3f out(v[0].get<float>(), v[1].get<float>(), v[2].get<float>());
    if (!std::isfinite(out.x) || !std::isfinite(out.y) || !std::isfinite(out.z))
        bad(name, fmt::format("{} must be three finite numbers", key));
    return out;
}

SceneLight lightFrom(const std::string& name, const Json& json) {
    if (!json.is_object())
        bad(name, "must be an object");
    SceneLight light;
    const Json kind = json.value("kind", Json("sun"));
    std::size_t index = 0;
    while (index < kKinds.size() && kind != kKinds[index])
        ++index;
    if (index == kKinds.size())
        bad(name, "kind must be sun, point, spot, area or dome");
    light.kind = static_cast<SceneLightKind>(index);
    if (json.contains("group") && json["group"].is_string())
        light.group = json["group"].get<std::string>();
    light.towards = vectorIn(json, "towards", light.towards, name);
    if (light.towards.length2() == 0.0F)
        bad(name, "towards must not be all 0");
    light.position = vectorIn(json, "position", light.position, name);
    const V3f colour = vectorIn(json, "colour", V3f(1.0F), name);
    light.colour = {colour.x, colour.y, colour.z};
    light.strength = numberIn(json, "strength", light.strength, name);
    light.inner = numberIn(json, "inner", light.inner, name);
    light.outer = numberIn(json, "outer", light.outer, name);
    light.size = numberIn(json, "size", light.size, name);
    return light;
}

}  // namespace

std::string_view lightKindId(SceneLightKind kind) { return kKinds[static_cast<std::size_t>(kind)]; }

Json lightsToJson(const NamedLights& lights) {
    Json json = Json::object();
    for (const auto& [name, light] : lights) {
        Json each{{"kind", lightKindId(light.kind)},
                  {"colour", {light.colour.r, light.colour.g, light.colour.b}},
                  {"strength", light.strength}};
        if (!light.group.empty())
            each["group"] = light.group;
        if (light.kind != SceneLightKind::Point)
            each["towards"] = {light.towards.x, light.towards.y, light.towards.z};
        if (light.kind != SceneLightKind::Sun && light.kind != SceneLightKind::Dome)
            each["position"] = {light.position.x, light.position.y, light.position.z};
        if (light.kind == SceneLightKind::Spot) {
            each["inner"] = light.inner;
            each["outer"] = light.outer;
        }
        if (light.kind == SceneLightKind::Area)
            each["size"] = light.size;
        json[name] = std::move(each);
    }
    return json;
}

NamedLights lightsFromJson(const Json& json) {
    if (!json.is_object())
        throw Error(ErrorCode::BadSetting, "lights must be an object with one light per name");
    NamedLights lights;
    for (const auto& [name, light] : json.items())
        lights[name] = lightFrom(name, light);
    return lights;
}

std::string lightsToText(const NamedLights& lights) {
    return lightsToJson(lights).dump(-1, ' ', false, Json::error_handler_t::replace);
}

NamedLights lightsFromText(const std::string& text) {
    NamedLights lights;
    const Json json = parseJsonIfAny(text);
    if (!json.is_object())
        return lights;
    for (const auto& [name, light] : json.items())
        try {
            lights[name] = lightFrom(name, light);
        } catch (const Error&) {
            continue;
        }
    return lights;
}

}  // namespace noctis
