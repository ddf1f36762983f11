#include "core/recipe/recipe_json.h"

#include "core/image/error.h"
#include "core/image/json_text.h"
#include "core/recipe/file_settings.h"
#include "core/recipe/groups.h"
#include "core/recipe/recipe_at.h"
#include "core/recipe/step_json.h"
#include "core/recipe/where_json.h"
#include "core/settings/keys_json.h"

#include <algorithm>
#include <set>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

namespace fs = std::filesystem;
using Json = nlohmann::json;

Json recipeToJson(const Recipe& recipe, const Catalogue& catalogue, const fs::path& folder) {
    Json json = recipe.unknown ? Json::parse(*recipe.unknown) : Json::object();
    json["format"] = "noctis-recipe";
    json["version"] = kRecipeVersion;
    json["steps"] = stepsToJson(recipe.steps, {"step", true, catalogue, folder});
    if (recipe.amount != 1.0F)
        json["amount"] = recipe.amount;
    if (!recipe.wheres.empty())
        for (const auto& [name, where] : recipe.wheres)
            json["wheres"][name] = whereToJson(where, folder);
    if (!recipe.lights.empty())
        json["lights"] = lightsToJson(recipe.lights);
    for (const auto& [name, tracks] : recipe.lightTracks)
        if (recipe.lights.contains(name))
            addTracks(json["lights"][name], tracks);
    return json;
}

Recipe recipeFromJson(const Json& json, const Catalogue& catalogue, const fs::path& folder) {
    if (!json.is_object() || !json.contains("steps") || !json["steps"].is_array())
        throw Error(ErrorCode::BadFile, "isn't a recipe: it has no list of steps");
    const Json version = json.value("version", Json(kRecipeVersion));
    if (version.is_number() && version.get<double>() > kRecipeVersion)
        throw Error(ErrorCode::NewerVersion,
                    "was written by a newer version of Noctis; open it there");
    if (version != kRecipeVersion)
        throw Error(ErrorCode::BadFile, fmt::format("is of version {}, from before the first "
                                                    "release, and can't be read",
                                                    version.dump()));
    Recipe recipe;
    recipe.steps = stepsFromJson(json["steps"], {"step", true, catalogue, folder});
    settleGroups(recipe.steps, catalogue);
    const Json amount = json.value("amount", Json(1.0F));
    if (!amount.is_number())
        throw Error(ErrorCode::BadFile, "has an \"amount\" that isn't a number");
    recipe.amount = std::clamp(amount.get<float>(), 0.0F, 1.0F);
    const Json wheres = json.value("wheres", Json::object());
    if (!wheres.is_object())
        throw Error(ErrorCode::BadFile, "has \"wheres\" that aren't an object");
    for (const auto& [name, where] : wheres.items())
        recipe.wheres[name] = whereFromJson(where, catalogue, folder);
    if (json.contains("lights"))
        recipe.lights = lightsFromJson(json["lights"]);
    for (const auto& [name, light] : recipe.lights)
        if (Tracks tracks = tracksFromJson(json["lights"][name],
                                           [](const std::string& path) -> const Parameter& {
                                               return movingParameter(lightParameters(), path);
                                           });
            !tracks.empty())
            recipe.lightTracks[name] = std::move(tracks);
    Json unknown = Json::object();
    for (const auto& [key, value] : json.items())
        if (!std::set<std::string>{"format", "version", "amount", "steps", "wheres", "lights"}
                 .contains(key))
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
