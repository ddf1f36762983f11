#pragma once

#include "core/settings/hash.h"
#include "core/settings/parameter.h"

#include <functional>

#include <nlohmann/json_fwd.hpp>

namespace noctis {

// Everything that differs between kinds of values: how they are checked, written, read, hashed, mixed.

/// "number", "colour", "names", ...
std::string_view valueTypeName(ValueType type);

/// A value as this parameter may have it.
/// Errors   Error(BadSetting) for another type, an unknown choice, a number out of range or no
///          number.
Value checkedValue(const Parameter& parameter, const Value& value);

/// A value from the command line: "0.5", "on", "curve", "0.1,0.2,0.3"; what has parts is JSON.
Value valueFromText(const Parameter& parameter, std::string_view text);
std::string textFromValue(const Value& value);

nlohmann::json valueToJson(const Value& value);
/// Errors   Error(BadSetting).
Value valueFromJson(const Parameter& parameter, const nlohmann::json& json);

/// All of them by id. What is left out has its default; each must be known.
/// Errors   Error(UnknownName), Error(BadSetting).
Settings settingsFromJson(const std::vector<Parameter>& parameters, const nlohmann::json& json);
nlohmann::json settingsToJson(const Settings& settings);

void addToHash(Hash& hash, const Value& value);
void addToHash(Hash& hash, const Settings& settings);

/// Between two values of one type, t from 0 to 1. What can't be mixed stays a until t is 1.
Value mixed(const Value& a, const Value& b, float t);

/// The same settings with every file they name, in records too, put through change.
Settings
withFiles(Settings settings,
          const std::function<std::filesystem::path(const std::filesystem::path&)>& change);

/// Adds every file that the settings name.
void addFilesOf(const Settings& settings, std::vector<std::filesystem::path>& files);

}  // namespace noctis
