#pragma once

#include "core/recipe/recipe.h"

#include <filesystem>

#include <nlohmann/json_fwd.hpp>

namespace noctis {

inline constexpr int kRecipeVersion = 2;

/// {"format": "noctis-recipe", "version": 2, "amount": 1, "steps": [...], "wheres": {NAME: {...}}, "lights": {NAME: {...}}};
/// steps as in step_json.h, with the key "step". Files that settings name are relative to folder.
nlohmann::json recipeToJson(const Recipe& recipe, const Catalogue& catalogue,
                            const std::filesystem::path& folder = {});

/// Errors   Error(BadFile) where there is no list of steps or of an older version, Error(NewerVersion), Error(TooLarge).
Recipe recipeFromJson(const nlohmann::json& json, const Catalogue& catalogue,
                      const std::filesystem::path& folder = {});

/// A whole recipe file.
Recipe recipeFromText(const std::string& text, const Catalogue& catalogue,
                      const std::filesystem::path& folder = {});
std::string recipeToText(const Recipe& recipe, const Catalogue& catalogue,
                         const std::filesystem::path& folder = {});

}  // namespace noctis
