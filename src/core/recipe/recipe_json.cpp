#include "core/recipe/recipe_json.h"

#include "core/image/error.h"

#include <algorithm>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

using Json = nlohmann::json;

namespace {

Step stepFromJson(const Json& json, const Catalogue& catalogue) {
    if (!json.is_object() || !json.contains("step") || !json["step"].is_string())
        throw Error(ErrorCode::BadFile, "it has no \"step\" that names its kind");
    const StepType& type = catalogue.type(json["step"].get<std::string>());
    Step step = catalogue.newStep(type.id);
    try {
        step.on = json.value("on", true);
        step.amount = std::clamp(json.value("amount", 1.0F), 0.0F, 1.0F);
        const auto id = json.value("blend", std::string("normal"));
        const auto blend = blendNamed(id);
        if (!blend)
            throw Error(ErrorCode::UnknownName, fmt::format("there is no blend mode {}", id));
        step.blend = *blend;
    } catch (const Json::exception&) {
        throw Error(ErrorCode::BadFile,
                    fmt::format("{}: on, amount or blend is of a wrong type", type.id));
    }
    if (!json.contains("settings"))
        return step;
    if (!json["settings"].is_object())
        throw Error(ErrorCode::BadFile, fmt::format("{}: settings must be an object", type.id));
    for (const auto& [key, value] : json["settings"].items()) {
        const std::size_t index = parameterIndex(type.parameters, key);
        step.settings[index] = valueFromJson(type.parameters[index], value);
    }
    return step;
}

}  // namespace

Json valueToJson(const Value& value) {
    if (const auto* number = std::get_if<float>(&value))
        return *number;
    if (const auto* on = std::get_if<bool>(&value))
        return *on;
    if (const auto* colour = std::get_if<LinearRgb>(&value))
        return Json{colour->r, colour->g, colour->b};
    return std::get<std::string>(value);
}

Value valueFromJson(const Parameter& parameter, const Json& json) {
    if (parameter.isNumber() && json.is_number())
        return checkedValue(parameter, json.get<float>());
    if (parameter.isSwitch() && json.is_boolean())
        return json.get<bool>();
    if (parameter.isChoice() && json.is_string())
        return checkedValue(parameter, json.get<std::string>());
    const bool three =
        json.is_array() && json.size() == 3 &&
        std::all_of(json.begin(), json.end(), [](const Json& j) { return j.is_number(); });
    if (parameter.isColour() && three)
        return checkedValue(
            parameter, LinearRgb{json[0].get<float>(), json[1].get<float>(), json[2].get<float>()});
    throw Error(ErrorCode::BadSetting,
                fmt::format("{} is {}, which is of a wrong type", parameter.id, json.dump()));
}

Json parseJson(const std::string& text) {
    try {
        return Json::parse(text);
    } catch (const Json::parse_error& error) {
        const auto upTo = static_cast<std::ptrdiff_t>(std::min(error.byte, text.size()));
        const auto line = 1 + std::count(text.begin(), text.begin() + upTo, '\n');
        throw Error(
            ErrorCode::BadFile,
            fmt::format("is damaged at line {}; mend it there, or open an older copy", line));
    } catch (const Json::exception& error) {
        // A number beyond all bounds is no parse error to the library.
        throw Error(ErrorCode::BadFile, fmt::format("is damaged ({})", error.what()));
    }
}

Json recipeToJson(const Recipe& recipe, const Catalogue& catalogue) {
    Json steps = Json::array();
    for (const Step& step : recipe.steps) {
        const StepType& type = catalogue.type(step.type);
        Json settings = Json::object();
        for (std::size_t i = 0; i < type.parameters.size(); ++i)
            settings[type.parameters[i].id] = valueToJson(step.settings[i]);
        steps.push_back({{"step", step.type},
                         {"version", type.version},
                         {"on", step.on},
                         {"amount", step.amount},
                         {"blend", blendId(step.blend)},
                         {"settings", settings}});
    }
    return {{"format", "noctis-recipe"}, {"version", kRecipeVersion}, {"steps", steps}};
}

Recipe recipeFromJson(const Json& json, const Catalogue& catalogue) {
    if (!json.is_object() || !json.contains("steps") || !json["steps"].is_array())
        throw Error(ErrorCode::BadFile, "is no recipe: it has no list of steps");
    if (json.contains("version") && json["version"].is_number() &&
        json["version"].get<double>() > kRecipeVersion)
        throw Error(ErrorCode::NewerVersion, "was written by a newer Noctis; open it there");
    Recipe recipe;
    for (std::size_t i = 0; i < json["steps"].size(); ++i) {
        try {
            recipe.steps.push_back(stepFromJson(json["steps"][i], catalogue));
        } catch (const Error& error) {
            throw Error(error.code(), fmt::format("step {}: {}", i + 1, error.what()));
        }
    }
    return recipe;
}

Recipe recipeFromText(const std::string& text, const Catalogue& catalogue) {
    const Json json = parseJson(text);
    if (!json.is_object() || json.value("format", Json()) != "noctis-recipe")
        throw Error(ErrorCode::BadFile, "is no recipe: its format is not noctis-recipe");
    return recipeFromJson(json, catalogue);
}

std::string recipeToText(const Recipe& recipe, const Catalogue& catalogue) {
    return recipeToJson(recipe, catalogue).dump(2) + "\n";
}

}  // namespace noctis
