#include "core/recipe/step_json.h"

#include "core/image/error.h"
#include "core/recipe/file_settings.h"
#include "core/recipe/where_json.h"

#include <algorithm>
#include <cmath>
#include <set>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

using Json = nlohmann::json;

namespace {

void requireKnownFields(const Json& json, const StepFormat& format) {
    std::set<std::string> known{"id", "name", format.kind, "version", "on", "settings", "where"};
    if (format.mixes)
        known.insert({"amount", "blend"});
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

void readStep(Step& step, const Json& json, const StepFormat& format) {
    const Declaration& type = format.types.type(step.type);
    requireKnownFields(json, format);
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
}

Step stepFromJson(const Json& json, const StepFormat& format) {
    Step step;
    try {
        if (!json.is_object() || !json.contains(format.kind))
            throw Error(ErrorCode::BadFile,
                        fmt::format("has no \"{}\" to name its kind", format.kind));
        step.id = json.value("id", std::string());
        step.name = json.value("name", std::string());
        step.type = json.at(format.kind).get<std::string>();
        readStep(step, json, format);
        return step;
    } catch (const Error& error) {
        step.problem = error.what();
    } catch (const Json::exception&) {
        step.problem = "a field has the wrong type";
    }
    if (step.type.empty())
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
    Json json{{"id", step.id},
              {format.kind, step.type},
              {"version", format.types.type(step.type).version},
              {"on", step.on},
              {"settings", settingsInFolder(step.settings, format.folder)}};
    if (format.mixes) {
        json["amount"] = step.amount;
        json["blend"] = blendId(step.blend);
    }
    if (!step.name.empty())
        json["name"] = step.name;
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
    for (const Step& step : steps)
        json.push_back(stepToJson(step, format));
    return json;
}

Steps stepsFromJson(const Json& json, const StepFormat& format) {
    if (!json.is_array())
        throw Error(ErrorCode::BadFile, fmt::format("has no list of {}s", format.kind));
    if (json.size() > kMostSteps)
        throw Error(ErrorCode::TooLarge, fmt::format("has {} {}s; at most {} can be used",
                                                     json.size(), format.kind, kMostSteps));
    Steps steps;
    for (const Json& step : json)
        steps.push_back(stepFromJson(step, format));
    settleIds(steps);
    return steps;
}

}  // namespace noctis
