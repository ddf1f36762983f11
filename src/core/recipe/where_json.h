#pragma once

#include "core/recipe/recipe.h"

#include <filesystem>

#include <nlohmann/json_fwd.hpp>

namespace noctis {

/// {"all": [...]}, {"any": [...]}, {"not": {...}}, {"same_as": NAME} or {"by": ID, ...settings}, each with
/// "grow", "soften" (px), "levels": [black, white, gamma] where it has them.
nlohmann::json whereToJson(const Where& where, const std::filesystem::path& folder = {});
/// What is not known becomes a Where of kind Unknown that is saved as it was.
Where whereFromJson(const nlohmann::json& json, const Catalogue& catalogue,
                    const std::filesystem::path& folder = {});

}  // namespace noctis
