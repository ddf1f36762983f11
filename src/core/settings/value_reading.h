#pragma once

#include "core/settings/parameter.h"

#include <optional>

#include <nlohmann/json_fwd.hpp>

namespace noctis {

// A value of each type out of JSON; none where it is of another type. What it may be is checked later.
// Errors   nlohmann::json::exception for a part of a wrong type.
using ReadValue = std::optional<Value>(const Parameter& parameter, const nlohmann::json& json);

ReadValue readBox, readColour, readCurve, readFile, readGradient, readNames, readNumber, readPlace,
    readPlaces, readRecords, readSpan, readStrokes, readSwitch, readText, readVector;

}  // namespace noctis
