#pragma once

#include "core/recipe/recipe.h"

#include <filesystem>
#include <string>

#include <nlohmann/json_fwd.hpp>

namespace noctis {

/// How a list of steps is written. The files that settings name are relative to a folder.
struct StepFormat {
    std::string kind;  ///< the key of a step's type: "step", or "operation" on heights
    bool mixes;        ///< whether steps have an amount and a blend mode
    const StepTypes& types;
    const std::filesystem::path& folder;
};

/// [{"id", "name", KIND: ID, "version", "on": true, "amount": 1, "blend": "normal", "settings": {ID: value},
/// "where": {...}, "keys": {...}, "flicker": {...}}], and where steps mix, groups in their place:
/// {"id", "group": NAME, "on": true, "amount": 1, "blend": "normal", "where": {...}, "steps": [...]}
nlohmann::json stepsToJson(const Steps& steps, const StepFormat& format);

/// What is left out has its default. A step that can't be used (unknown, of a newer version, with an unknown setting
/// or Where) is kept as it is, and says why.
/// Errors   Error(BadFile) if json is no list, Error(TooLarge) for more than kMostSteps.
Steps stepsFromJson(const nlohmann::json& json, const StepFormat& format);

}  // namespace noctis
