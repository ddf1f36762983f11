#pragma once

#include "core/settings/value.h"

#include <filesystem>
#include <memory>
#include <string>
#include <vector>

#include <nlohmann/json_fwd.hpp>

namespace noctis {

struct Parameter;

/// A path as it is written in a file in that folder, and back.
std::string relativeTo(const std::filesystem::path& path, const std::filesystem::path& folder);
std::filesystem::path absoluteFrom(const std::string& text, const std::filesystem::path& folder);

/// Settings as a file in that folder holds them: the files they name are relative to it.
nlohmann::json settingsInFolder(const Settings& settings, const std::filesystem::path& folder);
/// Errors   as settingsFromJson.
Settings settingsFromFolder(const std::vector<Parameter>& parameters, const nlohmann::json& json,
                            const std::filesystem::path& folder);

/// JSON to keep as it is.
std::shared_ptr<const std::string> keptText(const nlohmann::json& json);

}  // namespace noctis
