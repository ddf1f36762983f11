#pragma once

#include "core/settings/keys.h"

#include <functional>

#include <nlohmann/json_fwd.hpp>

namespace noctis {

/// The parameter that a track's path names, for its values.
/// Errors   Error(UnknownName, BadSetting) for none, or for one that never moves.
using TrackParameter = std::function<const Parameter&(const std::string& path)>;

/// Adds "keys": {PATH: [{"frame", "value", "ease", "bend", "settle": {"over", "frames"}}, ...]} and "flicker": {PATH:
/// {"amount", "per_second", "seed"}} to what the tracks belong to; neither where there are none.
void addTracks(nlohmann::json& json, const Tracks& tracks);

/// Reads them. KeyList come in any order; of two at one frame the later one counts. What is left out has its default.
/// Errors   Error(BadSetting, UnknownName, TooLarge), naming the path.
Tracks tracksFromJson(const nlohmann::json& json, const TrackParameter& parameter);

/// The parameter of a path among these: its id, or "list[NAME].id" for a member of a list of records.
/// Errors   as TrackParameter.
const Parameter& movingParameter(const std::vector<Parameter>& parameters, const std::string& path);

/// Changes the value that a path leads to; nothing where there is none, or the new one is another type's.
void changeAtPath(Settings& settings, const std::string& path,
                  const std::function<Value(const Value&)>& change);

}  // namespace noctis
