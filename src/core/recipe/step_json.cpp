#include "core/recipe/step_json.h"

#include "core/image/error.h"
#include "core/recipe/file_settings.h"
#include "core/recipe/recipe_at.h"
#include "core/recipe/where_json.h"
#include "core/settings/keys_json.h"

#include <algorithm>
#include <cmath>
#include <set>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

using Json = nlohmann::json;

namespace {

void requireKnownFields(const Json& json, const std::set<std::string>& known) {
    for (const auto& [key, value] : json.items())
        if (!known.contains(key))
            throw Error(ErrorCode::UnknownName, fmt::format("has an unknown field {}", key));
}

void readMix(Step& step, const Json& json) {
    const float amount = json.value("amount", 1.0F);
    step.amount = std::isfinite(amount) ? std::clamp(amount, 0.0F, 1.0F) : 1.0F;
    const auto id = json.value("blend", std::string("normal"));
    const auto blend = blendNamed(id);
    if (!blend)
        throw Error(ErrorCode::UnknownName, fmt::format("there is no blend mode {}", id));
    step.blend = *blend;
}

/// "amount" and "on" are the step's own.
Tracks tracksOf(const Json& json, const std::vector<Parameter>& parameters) {
    return tracksFromJson(json, [&](const std::string& path) -> const Parameter& {
        return movingParameter(path == "amount" || path == "on" ? mixParameters() : parameters,
                               path);
    });
}

void readStep(Step& step, const Json& json, const StepFormat& format) {
    const Declaration& type = format.types.type(step.type);
    std::set<std::string> known{"id", "name", format.kind, "version", "on", "settings", "where"};
    if (format.mixes)
        known.insert({"amount", "blend", "keys", "flicker"});
    requireKnownFields(json, known);
    const int version = json.value("version", type.version);
    if (version > type.version)
        throw Error(ErrorCode::NewerVersion, "was written by a newer version of Noctis");
    step.on = json.value("on", true);
    readMix(step, json);
    Json settings = json.value("settings", Json::object());
    if (!settings.is_object())
        throw Error(ErrorCode::BadFile, "settings must be an object");
    if (type.upgrade && version < type.version)
        type.upgrade(settings, version);
    if (type.settle)
        type.settle(settings);
    step.settings = settingsFromFolder(type.parameters, settings, format.folder);
    if (json.contains("where"))
        step.where = whereFromJson(json["where"], format.types.criteria, format.folder);
    if (format.mixes)
        step.tracks = tracksOf(json, type.parameters);
}

bool isGroup(const Json& json, const StepFormat& format) {
    return format.mixes && json.is_object() && json.contains(kGroup);
}

void readGroup(Step& step, const Json& json, const StepFormat& format) {
    step.type = kGroup;
    step.name = json.at(kGroup).get<std::string>();
    requireKnownFields(
        json, {"id", kGroup, "on", "amount", "blend", "where", "keys", "flicker", "steps"});
    step.on = json.value("on", true);
    readMix(step, json);
    if (json.contains("where"))
        step.where = whereFromJson(json["where"], format.types.criteria, format.folder);
    step.tracks = tracksOf(json, {});
    const Json members = json.value("steps", Json());
    if (!members.is_array() || members.empty())
        throw Error(ErrorCode::BadFile, "a group has no list of steps");
    for (const Json& member : members)
        if (isGroup(member, format))
            throw Error(ErrorCode::BadFile, "a group is in a group");
}

Step stepFromJson(const Json& json, const StepFormat& format) {
    Step step;
    try {
        const bool group = isGroup(json, format);
        if (!json.is_object() || !(group || json.contains(format.kind)))
            throw Error(ErrorCode::BadFile,
                        fmt::format("has no \"{}\" to name its kind", format.kind));
        step.id = json.value("id", std::string());
        if (group) {
            readGroup(step, json, format);
            return step;
        }
        step.name = json.value("name", std::string());
        step.type = json.at(format.kind).get<std::string>();
        if (step.type == kGroup)
            throw Error(ErrorCode::UnknownName, "a group isn't written as a step");
        readStep(step, json, format);
        return step;
    } catch (const Error& error) {
        step.problem = error.what();
    } catch (const Json::exception&) {
        step.problem = "a field has the wrong type";
    }
    if (step.type.empty() || step.type == kGroup)
        step.type = "unknown";
    step.kept = keptText(json);
    step.on = !json.is_object() || json.value("on", Json(true)) != false;
    step.settings = {};
    step.where = {};
    return step;
}

Json stepToJson(const Step& step, const StepFormat& format) {
    if (!step.usable())
        return Json::parse(*step.kept);
    Json json{{"id", step.id}, {"on", step.on}};
    if (format.mixes) {
        json["amount"] = step.amount;
        json["blend"] = blendId(step.blend);
    }
    if (step.type == kGroup) {
        json[kGroup] = step.name;
        json["steps"] = Json::array();
    } else {
        json[format.kind] = step.type;
        json["version"] = format.types.type(step.type).version;
        json["settings"] = settingsInFolder(step.settings, format.folder);
        if (!step.name.empty())
            json["name"] = step.name;
    }
    addTracks(json, step.tracks);
    if (!step.where.everywhere())
        json["where"] = whereToJson(step.where, format.folder);
    return json;
}

/// Gives every step an id of its own.
void settleIds(Steps& steps) {
    std::set<std::string> taken;
    for (Step& step : steps)
        if (!step.id.empty() && !taken.insert(step.id).second)
            step.id.clear();
    for (Step& step : steps)
        if (step.id.empty())
            step.id = freeStepId(steps, step.type);
}

}  // namespace

Json stepsToJson(const Steps& steps, const StepFormat& format) {
    Json json = Json::array();
    for (const Step& step : steps) {
        Json& list = step.group.empty() ? json : json.back()["steps"];
        list.push_back(stepToJson(step, format));
    }
    return json;
}

Steps stepsFromJson(const Json& json, const StepFormat& format) {
    if (!json.is_array())
        throw Error(ErrorCode::BadFile, fmt::format("has no list of {}s", format.kind));
    if (json.size() > kMostSteps)
        throw Error(ErrorCode::TooLarge, fmt::format("has {} {}s; at most {} can be used",
                                                     json.size(), format.kind, kMostSteps));
    Steps steps;
    std::vector<std::size_t> groups;  // of each step; its own place for one without
    const auto add = [&](const Json& step, std::size_t group) {
        steps.push_back(stepFromJson(step, format));
        groups.push_back(group);
        if (steps.size() > kMostSteps)
            throw Error(ErrorCode::TooLarge,
                        fmt::format("has more than {} steps, too many to be used", kMostSteps));
    };
    for (const Json& step : json) {
        const std::size_t at = steps.size();
        add(step, at);
        if (steps.back().type == kGroup)
            for (const Json& member : step.at("steps"))
                add(member, at);
    }
    settleIds(steps);
    for (std::size_t i = 0; i < steps.size(); ++i)
        if (groups[i] != i)
            steps[i].group = steps[groups[i]].id;
    return steps;
}

}  // namespace noctis
