#pragma once

#include "core/recipe/recipe.h"

#include <nlohmann/json_fwd.hpp>

namespace noctis {

inline constexpr int kRecipeVersion = 1;

/// {"step": ID, "on": true, "amount": 1, "blend": "normal", "settings": {ID: value}} for each step.
nlohmann::json recipeToJson(const Recipe& recipe, const Catalogue& catalogue);

/// What is left out has its default.
/// Errors   Error(BadFile) for another shape, Error(UnknownName, BadSetting) naming step and
/// setting,
///          Error(NewerVersion).
Recipe recipeFromJson(const nlohmann::json& json, const Catalogue& catalogue);

/// A whole recipe file: {"format": "noctis-recipe", "version": 1, "steps": [...]}.
Recipe recipeFromText(const std::string& text, const Catalogue& catalogue);
std::string recipeToText(const Recipe& recipe, const Catalogue& catalogue);

nlohmann::json valueToJson(const Value& value);
/// Errors   Error(BadSetting).
Value valueFromJson(const Parameter& parameter, const nlohmann::json& json);

/// Parses, and says where a damaged text is damaged. Errors: Error(BadFile).
nlohmann::json parseJson(const std::string& text);

}  // namespace noctis
