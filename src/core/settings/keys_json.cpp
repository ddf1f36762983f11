#include "core/settings/keys_json.h"

#include "core/image/error.h"
#include "core/settings/value_type.h"

#include <algorithm>
#include <cmath>
#include <string_view>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

using Json = nlohmann::json;

namespace {

constexpr std::array<std::string_view, 4> kEases{"hold", "linear", "ease", "settle"};
constexpr int kLastFrame = 10'000'000;

[[noreturn]] void bad(const std::string& path, const std::string& what) {
    throw Error(ErrorCode::BadSetting, fmt::format("keys of {}: {}", path, what));
}

/// "groups[moon].strength" in its parts; list is empty for a plain id.
struct TrackPath {
    std::string list{};
    std::string name{};
    std::string id;
};

TrackPath partsOf(const std::string& path) {
    const auto open = path.find('[');
    const auto close = path.rfind("].");
    if (open == std::string::npos || close == std::string::npos || close < open)
        return {.id = path};
    return {path.substr(0, open), path.substr(open + 1, close - open - 1), path.substr(close + 2)};
}

void requireFields(const Json& json, const std::string& path,
                   std::initializer_list<std::string_view> known) {
    if (!json.is_object())
        bad(path, "each must be an object");
    for (const auto& [name, value] : json.items())
        if (std::ranges::find(known, name) == known.end())
            throw Error(ErrorCode::UnknownName,
                        fmt::format("keys of {}: there is no field {}", path, name));
}

float numberIn(const Json& json, const char* name, float otherwise, float least, float most,
               const std::string& path) {
    if (!json.contains(name))
        return otherwise;
    const float value = json[name].is_number() ? json[name].get<float>() : NAN;
    if (!(value >= least && value <= most))
        bad(path, fmt::format("{} must be from {:g} to {:g}", name, least, most));
    return value;
}

int frameIn(const Json& json, const std::string& path) {
    if (!json.contains("frame") || !json["frame"].is_number_integer())
        bad(path, "each needs a frame, a whole number");
    const auto frame = json["frame"].get<std::int64_t>();
    if (std::abs(frame) > kLastFrame)
        bad(path, fmt::format("a frame must be from {} to {}", -kLastFrame, kLastFrame));
    return static_cast<int>(frame);
}

Key keyFrom(const Json& json, const std::string& path, const Parameter& parameter) {
    requireFields(json, path, {"frame", "value", "ease", "bend", "settle"});
    Key key;
    key.frame = frameIn(json, path);
    if (!json.contains("value"))
        bad(path, "each needs a value");
    key.value = valueFromJson(parameter, json["value"]);
    const Json ease = json.value("ease", Json("linear"));
    const auto named =
        std::ranges::find_if(kEases, [&](std::string_view id) { return ease == id; });
    if (named == kEases.end())
        bad(path, "ease must be hold, linear, ease or settle");
    key.ease = static_cast<Ease>(named - kEases.begin());
    if (json.contains("bend")) {
        const Json& bend = json["bend"];
        if (!bend.is_array() || bend.size() != 4 ||
            !std::ranges::all_of(bend, [](const Json& each) { return each.is_number(); }))
            bad(path, "a bend must be four numbers");
        std::array<float, 4> points{};
        for (std::size_t i = 0; i < 4; ++i)
            points[i] = bend[i].get<float>();
        if (!(points[0] >= 0.0F && points[0] <= 1.0F && points[2] >= 0.0F && points[2] <= 1.0F) ||
            !std::isfinite(points[1]) || !std::isfinite(points[3]))
            bad(path, "x1 and x2 of a bend must be from 0 to 1");
        key.bend = points;
    }
    const Json settle = json.value("settle", Json::object());
    requireFields(settle, path, {"over", "frames"});
    key.over = numberIn(settle, "over", key.over, 0.0F, 10.0F, path);
    key.settleFrames = static_cast<int>(
        numberIn(settle, "frames", static_cast<float>(key.settleFrames), 0.0F, 1e5F, path));
    return key;
}

KeyList keysFrom(const Json& json, const std::string& path, const Parameter& parameter) {
    if (!json.is_array() || json.empty())
        bad(path, "must be a list of keys");
    if (json.size() > kMostKeys)
        throw Error(ErrorCode::TooLarge,
                    fmt::format("keys of {}: there are {}; at most {} can be used", path,
                                json.size(), kMostKeys));
    KeyList keys;
    for (const Json& each : json)
        keys.push_back(keyFrom(each, path, parameter));
    std::ranges::stable_sort(keys, {}, &Key::frame);
    KeyList unique;
    for (Key& key : keys) {
        if (!unique.empty() && unique.back().frame == key.frame)
            unique.pop_back();
        unique.push_back(std::move(key));
    }
    return unique;
}

Flicker flickerFrom(const Json& json, const std::string& path) {
    requireFields(json, path, {"amount", "per_second", "seed"});
    Flicker flicker;
    flicker.amount = numberIn(json, "amount", flicker.amount, 0.0F, 1.0F, path);
    flicker.perSecond = numberIn(json, "per_second", flicker.perSecond, 0.0F, 1000.0F, path);
    const Json seed = json.value("seed", Json(flicker.seed));
    if (!seed.is_number_integer())
        bad(path, "seed must be a whole number");
    flicker.seed = static_cast<std::uint32_t>(seed.get<std::int64_t>());
    return flicker;
}

Json keyToJson(const Key& key) {
    Json json{{"frame", key.frame},
              {"value", valueToJson(key.value)},
              {"ease", kEases[static_cast<std::size_t>(key.ease)]}};
    if (key.bend)
        json["bend"] = *key.bend;
    if (key.ease == Ease::Settle)
        json["settle"] = {{"over", key.over}, {"frames", key.settleFrames}};
    return json;
}

}  // namespace

void addTracks(Json& json, const Tracks& tracks) {
    for (const auto& [path, keys] : tracks.keys)
        for (const Key& key : keys)
            json["keys"][path].push_back(keyToJson(key));
    for (const auto& [path, flicker] : tracks.flicker)
        json["flicker"][path] = {
            {"amount", flicker.amount}, {"per_second", flicker.perSecond}, {"seed", flicker.seed}};
}

Tracks tracksFromJson(const Json& json, const TrackParameter& parameter) {
    Tracks tracks;
    for (const char* kind : {"keys", "flicker"}) {
        const Json all = json.value(kind, Json::object());
        if (!all.is_object())
            throw Error(ErrorCode::BadSetting, fmt::format("{} must be an object", kind));
        for (const auto& [path, each] : all.items()) {
            const Parameter& of = parameter(path);
            if (kind == std::string_view("keys"))
                tracks.keys[path] = keysFrom(each, path, of);
            else
                tracks.flicker[path] = flickerFrom(each, path);
        }
    }
    return tracks;
}

const Parameter& movingParameter(const std::vector<Parameter>& parameters,
                                 const std::string& path) {
    const TrackPath parts = partsOf(path);
    const Parameter& found =
        parts.list.empty()
            ? parameterNamed(parameters, parts.id)
            : parameterNamed(parameterNamed(parameters, parts.list).fields, parts.id);
    if (found.still)
        throw Error(ErrorCode::BadSetting, fmt::format("{} never moves in time", path));
    return found;
}

void changeAtPath(Settings& settings, const std::string& path,
                  const std::function<Value(const Value&)>& change) {
    const TrackPath parts = partsOf(path);
    const auto apply = [&](Settings& in) {
        if (const Value* value = in.find(parts.id))
            if (const Value changed = change(*value); changed.index() == value->index())
                in.set(parts.id, changed);
    };
    if (parts.list.empty())
        return apply(settings);
    const Value* list = settings.find(parts.list);
    if (list == nullptr || !std::holds_alternative<RecordList>(*list))
        return;
    RecordList records = std::get<RecordList>(*list);
    for (Record& record : records)
        if (record.name == parts.name)
            apply(record.settings);
    settings.set(parts.list, std::move(records));
}

}  // namespace noctis
