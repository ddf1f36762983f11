#pragma once

#include "core/recipe/recipe.h"

#include <filesystem>

#include <nlohmann/json_fwd.hpp>

namespace noctis {

inline constexpr int kRecipeVersion = 2;

/// {"format": "noctis-recipe", "version": 2, "steps": [{"id", "name", "step": ID, "version", "on": true,
/// "amount": 1, "blend": "normal", "settings": {ID: value}, "where": {...}}], "wheres": {NAME: {...}}}.
/// Files that settings name are relative to folder.
nlohmann::json recipeToJson(const Recipe& recipe, const Catalogue& catalogue,
                            const std::filesystem::path& folder = {});

/// What is left out has its default; recipes of version 1 are brought to version 2. A step that can't be
/// used (unknown, of a newer version, with an unknown setting or Where) is kept as it is, and says why.
/// Errors   Error(BadFile) where there is no list of steps, Error(NewerVersion).
Recipe recipeFromJson(const nlohmann::json& json, const Catalogue& catalogue,
                      const std::filesystem::path& folder = {});

/// A whole recipe file.
Recipe recipeFromText(const std::string& text, const Catalogue& catalogue,
                      const std::filesystem::path& folder = {});
std::string recipeToText(const Recipe& recipe, const Catalogue& catalogue,
                         const std::filesystem::path& folder = {});

/// {"all": [...]}, {"any": [...]}, {"not": {...}}, {"same_as": NAME} or {"by": ID, ...settings}, each with
/// "grow", "soften" (px), "levels": [black, white, gamma] where it has them.
nlohmann::json whereToJson(const Where& where, const std::filesystem::path& folder = {});
/// What is not known becomes a Where of kind Unknown that is saved as it was.
Where whereFromJson(const nlohmann::json& json, const Catalogue& catalogue,
                    const std::filesystem::path& folder = {});

/// A path as it is written in a file in that folder, and back.
std::string relativeTo(const std::filesystem::path& path, const std::filesystem::path& folder);
std::filesystem::path absoluteFrom(const std::string& text, const std::filesystem::path& folder);

}  // namespace noctis
