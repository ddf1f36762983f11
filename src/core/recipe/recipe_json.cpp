#include "core/recipe/recipe_json.h"

#include "core/image/error.h"
#include "core/image/json_text.h"
#include "core/settings/value_type.h"

#include <algorithm>
#include <cmath>
#include <set>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

namespace fs = std::filesystem;
using Json = nlohmann::json;

namespace {

/// No recipe is nested more deeply than this.
constexpr std::size_t kDeepest = 64;
constexpr float kLargestReach = 1000.0F;  ///< px, of growing and softening

std::shared_ptr<const std::string> keptText(const Json& json) {
    return std::make_shared<const std::string>(
        json.dump(-1, ' ', false, Json::error_handler_t::replace));
}

Settings relativeSettings(const Settings& settings, const fs::path& folder) {
    return withFiles(settings, [&](const fs::path& p) { return fs::path(relativeTo(p, folder)); });
}

Settings absoluteSettings(const Settings& settings, const fs::path& folder) {
    return withFiles(settings, [&](const fs::path& p) { return absoluteFrom(p.string(), folder); });
}

// --- Where ---------------------------------------------------------------------------------------

float numberIn(const Json& json, const char* key, float least, float most) {
    const float value = json.at(key).get<float>();
    if (!(value >= least && value <= most))
        throw Error(ErrorCode::BadSetting,
                    fmt::format("{} must be from {:g} to {:g}", key, least, most));
    return value;
}

MaskShaping shapingFrom(const Json& json) {
    MaskShaping shaping;
    if (json.contains("grow"))
        shaping.grow = numberIn(json, "grow", -kLargestReach, kLargestReach);
    if (json.contains("soften"))
        shaping.soften = numberIn(json, "soften", 0.0F, kLargestReach);
    if (json.contains("levels")) {
        const Json& levels = json["levels"];
        if (!levels.is_array() || levels.size() != 3)
            throw Error(ErrorCode::BadSetting, "levels must be [black, white, gamma]");
        shaping.black = levels[0].get<float>();
        shaping.white = levels[1].get<float>();
        shaping.gamma = levels[2].get<float>();
        if (!(shaping.white > shaping.black) || !(shaping.gamma > 0.0F) ||
            !std::isfinite(shaping.white - shaping.black) || !std::isfinite(shaping.gamma))
            throw Error(ErrorCode::BadSetting, "levels need black below white and a gamma above 0");
    }
    return shaping;
}

void addShaping(Json& json, const MaskShaping& shaping) {
    if (shaping.grow != 0.0F)
        json["grow"] = shaping.grow;
    if (shaping.soften != 0.0F)
        json["soften"] = shaping.soften;
    if (shaping.hasLevels())
        json["levels"] = {shaping.black, shaping.white, shaping.gamma};
}

/// A criterion's settings stand beside its "by"; the ends of a span as "from" and "to".
Settings criterionSettings(const CriterionType& type, const Json& json) {
    static const std::set<std::string> own{"by", "grow", "soften", "levels"};
    Json flat = Json::object();
    for (const auto& [key, value] : json.items())
        if (!own.contains(key))
            flat[key] = value;
    for (const Parameter& parameter : type.parameters) {
        if (parameter.type != ValueType::Span)
            continue;
        Json span = Json::object();
        for (const char* end : {"from", "to"})
            if (flat.contains(end)) {
                span[end] = flat[end];
                flat.erase(end);
            }
        flat[parameter.id] = span;
    }
    return settingsFromJson(type.parameters, flat);
}

/// Where in a Where is being read.
struct Within {
    std::size_t depth = 0;
    std::size_t& parts;
};

Where whereFrom(const Json& json, const Catalogue& catalogue, const fs::path& folder,
                const Within& within);

Where understood(const Json& json, const Catalogue& catalogue, const fs::path& folder,
                 const Within& within) {
    const Within inner{within.depth + 1, within.parts};
    if (!json.is_object())
        throw Error(ErrorCode::BadFile, "its Where isn't an object");
    Where where;
    where.shaping = shapingFrom(json);
    int kinds = 0;
    for (const auto& [key, kind] : {std::pair{"all", Where::Kind::All}, {"any", Where::Kind::Any}})
        if (json.contains(key)) {
            ++kinds;
            where.kind = kind;
            if (!json[key].is_array())
                throw Error(ErrorCode::BadFile, fmt::format("'{}' of its Where isn't a list", key));
            for (const Json& part : json[key])
                where.parts.push_back(whereFrom(part, catalogue, folder, inner));
        }
    if (json.contains("not")) {
        ++kinds;
        where.kind = Where::Kind::Not;
        where.parts = {whereFrom(json["not"], catalogue, folder, inner)};
    }
    if (json.contains("same_as")) {
        ++kinds;
        where.kind = Where::Kind::SameAs;
        where.name = json["same_as"].get<std::string>();
    }
    if (json.contains("by")) {
        ++kinds;
        const CriterionType& type = catalogue.criterion(json["by"].get<std::string>());
        where.kind = Where::Kind::Criterion;
        where.name = type.id;
        where.settings = absoluteSettings(criterionSettings(type, json), folder);
    }
    if (kinds > 1 || (kinds == 0 && !json.empty()))
        throw Error(ErrorCode::BadFile,
                    "its Where needs one of \"all\", \"any\", \"not\", \"same_as\" and \"by\"");
    if (where.kind != Where::Kind::Criterion)
        for (const auto& [key, value] : json.items())
            if (!std::set<std::string>{"all", "any", "not", "same_as", "grow", "soften", "levels"}
                     .contains(key))
                throw Error(ErrorCode::UnknownName,
                            fmt::format("its Where has an unknown field {}", key));
    return where;
}

Where whereFrom(const Json& json, const Catalogue& catalogue, const fs::path& folder,
                const Within& within) {
    std::string problem;
    try {
        if (within.depth > kDeepest)
            throw Error(ErrorCode::BadSetting, "its Where is nested too deeply");
        requireFewParts(++within.parts);
        return understood(json, catalogue, folder, within);
    } catch (const Error& error) {
        problem = error.what();
    } catch (const Json::exception&) {
        problem = "a field of its Where has the wrong type";
    }
    Where unknown;
    unknown.kind = Where::Kind::Unknown;
    unknown.kept = keptText(json);
    unknown.problem = problem;
    return unknown;
}

// --- steps ---------------------------------------------------------------------------------------

int versionOf(const Json& json, const StepType& type, int recipeVersion) {
    if (!json.contains("version"))
        return recipeVersion < kRecipeVersion ? 1 : type.version;
    return json.at("version").get<int>();
}

void readStep(Step& step, const Json& json, const Catalogue& catalogue, const fs::path& folder,
              int recipeVersion) {
    static const std::set<std::string> known{"id",     "name",  "step",     "version", "on",
                                             "amount", "blend", "settings", "where"};
    const StepType& type = catalogue.type(step.type);
    for (const auto& [key, value] : json.items())
        if (!known.contains(key))
            throw Error(ErrorCode::UnknownName, fmt::format("has an unknown field {}", key));
    const int version = versionOf(json, type, recipeVersion);
    if (version > type.version)
        throw Error(ErrorCode::NewerVersion, "was written by a newer version of Noctis");
    step.on = json.value("on", true);
    const float amount = json.value("amount", 1.0F);
    step.amount = std::isfinite(amount) ? std::clamp(amount, 0.0F, 1.0F) : 1.0F;
    const auto id = json.value("blend", std::string("normal"));
    const auto blend = blendNamed(id);
    if (!blend)
        throw Error(ErrorCode::UnknownName, fmt::format("there is no blend mode {}", id));
    step.blend = *blend;
    Json settings = json.value("settings", Json::object());
    if (!settings.is_object())
        throw Error(ErrorCode::BadFile, "settings must be an object");
    if (type.upgrade && version < type.version)
        type.upgrade(settings, version);
    if (type.settle)
        type.settle(settings);
    step.settings = absoluteSettings(settingsFromJson(type.parameters, settings), folder);
    if (json.contains("where"))
        step.where = whereFromJson(json["where"], catalogue, folder);
}

Step stepFromJson(const Json& json, const Catalogue& catalogue, const fs::path& folder,
                  int recipeVersion) {
    Step step;
    try {
        if (!json.is_object() || !json.contains("step"))
            throw Error(ErrorCode::BadFile, "has no \"step\" to name its kind");
        step.id = json.value("id", std::string());
        step.name = json.value("name", std::string());
        step.type = json.at("step").get<std::string>();
        readStep(step, json, catalogue, folder, recipeVersion);
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

Json stepToJson(const Step& step, const Catalogue& catalogue, const fs::path& folder) {
    if (!step.usable())
        return Json::parse(*step.kept);
    Json json{{"id", step.id},
              {"step", step.type},
              {"version", catalogue.type(step.type).version},
              {"on", step.on},
              {"amount", step.amount},
              {"blend", blendId(step.blend)},
              {"settings", settingsToJson(relativeSettings(step.settings, folder))}};
    if (!step.name.empty())
        json["name"] = step.name;
    if (!step.where.everywhere())
        json["where"] = whereToJson(step.where, folder);
    return json;
}

/// Gives every step an id of its own.
void settleIds(Recipe& recipe) {
    std::set<std::string> taken;
    Recipe settled;
    for (Step& step : recipe.steps) {
        if (step.id.empty() || taken.contains(step.id))
            step.id.clear();
        else
            taken.insert(step.id);
    }
    for (Step& step : recipe.steps)
        if (step.id.empty())
            step.id = recipe.freeId(step.type);
}

}  // namespace

std::string relativeTo(const fs::path& path, const fs::path& folder) {
    const fs::path relative = folder.empty() ? path : path.lexically_relative(folder);
    return (relative.empty() ? path : relative).generic_string();
}

fs::path absoluteFrom(const std::string& text, const fs::path& folder) {
    const fs::path path(text);
    return (path.is_absolute() ? path : folder / path).lexically_normal();
}

Json whereToJson(const Where& where, const fs::path& folder) {
    if (where.kind == Where::Kind::Unknown)
        return Json::parse(*where.kept);
    Json json = Json::object();
    Json parts = Json::array();
    for (const Where& part : where.parts)
        parts.push_back(whereToJson(part, folder));
    switch (where.kind) {
    case Where::Kind::All:
        json["all"] = parts;
        break;
    case Where::Kind::Any:
        json["any"] = parts;
        break;
    case Where::Kind::Not:
        json["not"] = parts.at(0);
        break;
    case Where::Kind::SameAs:
        json["same_as"] = where.name;
        break;
    default:
        for (const auto& [id, value] : relativeSettings(where.settings, folder)) {
            if (std::holds_alternative<Span>(value))
                json.update(valueToJson(value));
            else
                json[id] = valueToJson(value);
        }
        json["by"] = where.name;
    }
    addShaping(json, where.shaping);
    return json;
}

Where whereFromJson(const Json& json, const Catalogue& catalogue, const fs::path& folder) {
    std::size_t parts = 0;
    return whereFrom(json, catalogue, folder, {0, parts});
}

Json recipeToJson(const Recipe& recipe, const Catalogue& catalogue, const fs::path& folder) {
    Json json = recipe.unknown ? Json::parse(*recipe.unknown) : Json::object();
    json["format"] = "noctis-recipe";
    json["version"] = kRecipeVersion;
    json["steps"] = Json::array();
    for (const Step& step : recipe.steps)
        json["steps"].push_back(stepToJson(step, catalogue, folder));
    if (!recipe.wheres.empty())
        for (const auto& [name, where] : recipe.wheres)
            json["wheres"][name] = whereToJson(where, folder);
    if (!recipe.lights.empty())
        json["lights"] = lightsToJson(recipe.lights);
    return json;
}

Recipe recipeFromJson(const Json& json, const Catalogue& catalogue, const fs::path& folder) {
    if (!json.is_object() || !json.contains("steps") || !json["steps"].is_array())
        throw Error(ErrorCode::BadFile, "isn't a recipe: it has no list of steps");
    const Json version = json.value("version", Json(1));
    if (version.is_number() && version.get<double>() > kRecipeVersion)
        throw Error(ErrorCode::NewerVersion,
                    "was written by a newer version of Noctis; open it there");
    const int number = version.is_number_integer() ? version.get<int>() : 1;
    if (json["steps"].size() > kMostSteps)
        throw Error(ErrorCode::TooLarge, fmt::format("has {} steps; at most {} can be used",
                                                     json["steps"].size(), kMostSteps));
    Recipe recipe;
    for (const Json& step : json["steps"])
        recipe.steps.push_back(stepFromJson(step, catalogue, folder, number));
    settleIds(recipe);
    const Json wheres = json.value("wheres", Json::object());
    if (!wheres.is_object())
        throw Error(ErrorCode::BadFile, "has \"wheres\" that aren't an object");
    for (const auto& [name, where] : wheres.items())
        recipe.wheres[name] = whereFromJson(where, catalogue, folder);
    if (json.contains("lights"))
        recipe.lights = lightsFromJson(json["lights"]);
    Json unknown = Json::object();
    for (const auto& [key, value] : json.items())
        if (!std::set<std::string>{"format", "version", "steps", "wheres", "lights"}.contains(key))
            unknown[key] = value;
    if (!unknown.empty())
        recipe.unknown = keptText(unknown);
    return recipe;
}

Recipe recipeFromText(const std::string& text, const Catalogue& catalogue, const fs::path& folder) {
    const Json json = parseJson(text);
    if (!json.is_object() || json.value("format", Json()) != "noctis-recipe")
        throw Error(ErrorCode::BadFile, "isn't a recipe: its format is not noctis-recipe");
    return recipeFromJson(json, catalogue, folder);
}

std::string recipeToText(const Recipe& recipe, const Catalogue& catalogue, const fs::path& folder) {
    return recipeToJson(recipe, catalogue, folder)
               .dump(2, ' ', false, Json::error_handler_t::replace) +
           "\n";
}

}  // namespace noctis
