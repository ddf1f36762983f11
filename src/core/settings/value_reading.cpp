#include "core/settings/value_reading.h"

#include "core/settings/value_type.h"

#include <algorithm>

#include <nlohmann/json.hpp>

namespace noctis {

using Json = nlohmann::json;

namespace {

bool areNumbers(const Json& json, std::size_t count) {
    return json.is_array() && json.size() == count &&
           std::all_of(json.begin(), json.end(), [](const Json& j) { return j.is_number(); });
}

std::optional<V3f> v3From(const Json& json) {
    if (!areNumbers(json, 3))
        return std::nullopt;
    return V3f(json[0].get<float>(), json[1].get<float>(), json[2].get<float>());
}

std::optional<V2f> v2From(const Json& json) {
    if (!areNumbers(json, 2))
        return std::nullopt;
    return V2f(json[0].get<float>(), json[1].get<float>());
}

std::optional<std::vector<V2f>> pointsFrom(const Json& json) {
    if (!json.is_array())
        return std::nullopt;
    std::vector<V2f> points;
    for (const Json& each : json) {
        const auto point = v2From(each);
        if (!point)
            return std::nullopt;
        points.push_back(*point);
    }
    return points;
}

}  // namespace

std::optional<Value> readNumber(const Parameter&, const Json& json) {
    if (!json.is_number())
        return std::nullopt;
    return json.get<float>();
}

std::optional<Value> readText(const Parameter&, const Json& json) {
    if (!json.is_string())
        return std::nullopt;
    return json.get<std::string>();
}

std::optional<Value> readColour(const Parameter&, const Json& json) {
    const auto v = v3From(json);
    if (!v)
        return std::nullopt;
    return LinearRgb{v->x, v->y, v->z};
}

std::optional<Value> readSpan(const Parameter&, const Json& json) {
    if (!json.is_object())
        return std::nullopt;
    Span span;
    for (const auto& [key, end] : json.items()) {
        if ((key != "from" && key != "to") || !(end.is_number() || end.is_null()))
            return std::nullopt;
        if (end.is_number())
            (key == "from" ? span.from : span.to) = end.get<float>();
    }
    return span;
}

std::optional<Value> readBox(const Parameter&, const Json& json) {
    if (!json.is_object() || !json.contains("min") || !json.contains("max"))
        return std::nullopt;
    const auto min = v3From(json["min"]);
    const auto max = v3From(json["max"]);
    if (!min || !max)
        return std::nullopt;
    return SceneBox{*min, *max};
}

std::optional<Value> readGradient(const Parameter& parameter, const Json& json) {
    if (!json.is_array())
        return std::nullopt;
    Gradient gradient{{}};
    for (const Json& stop : json) {
        if (!stop.is_object() || !stop.contains("at") || !stop["at"].is_number() ||
            !stop.contains("colour"))
            return std::nullopt;
        const auto colour = readColour(parameter, stop["colour"]);
        if (!colour)
            return std::nullopt;
        gradient.stops.push_back({stop["at"].get<float>(), std::get<LinearRgb>(*colour)});
    }
    return gradient;
}

std::optional<Value> readNames(const Parameter&, const Json& json) {
    if (json.is_string())
        return NameList{json.get<std::string>()};
    if (!json.is_array())
        return std::nullopt;
    NameList names;
    for (const Json& name : json) {
        if (!name.is_string())
            return std::nullopt;
        names.push_back(name.get<std::string>());
    }
    return names;
}

std::optional<Value> readRecords(const Parameter& parameter, const Json& json) {
    if (!json.is_array())
        return std::nullopt;
    RecordList records;
    for (const Json& each : json) {
        if (!each.is_object() || !each.contains("name") || !each["name"].is_string())
            return std::nullopt;
        Json rest = each;
        rest.erase("name");
        records.push_back(
            {each["name"].get<std::string>(), settingsFromJson(parameter.fields, rest)});
    }
    return records;
}

std::optional<Value> readStrokes(const Parameter&, const Json& json) {
    if (!json.is_array())
        return std::nullopt;
    auto strokes = std::make_shared<std::vector<Stroke>>();
    for (const Json& each : json) {
        if (!each.is_object() || !each.contains("points"))
            return std::nullopt;
        const auto points = pointsFrom(each["points"]);
        if (!points)
            return std::nullopt;
        Stroke stroke;
        stroke.points = *points;
        stroke.radius = each.value("radius", stroke.radius);
        stroke.softness = each.value("softness", stroke.softness);
        stroke.takesAway = each.value("takes_away", stroke.takesAway);
        stroke.pressures = each.value("pressures", stroke.pressures);
        if (!stroke.pressures.empty() && stroke.pressures.size() != stroke.points.size())
            return std::nullopt;
        strokes->push_back(std::move(stroke));
    }
    return Strokes{std::move(strokes)};
}

std::optional<Value> readSwitch(const Parameter&, const Json& json) {
    return json.is_boolean() ? std::optional<Value>(json.get<bool>()) : std::nullopt;
}

std::optional<Value> readFile(const Parameter&, const Json& json) {
    return json.is_string() ? std::optional<Value>(FilePath{json.get<std::string>()})
                            : std::nullopt;
}

std::optional<Value> readVector(const Parameter&, const Json& json) { return v3From(json); }

std::optional<Value> readPlace(const Parameter&, const Json& json) { return v2From(json); }

std::optional<Value> readPlaces(const Parameter&, const Json& json) { return pointsFrom(json); }

std::optional<Value> readCurve(const Parameter&, const Json& json) {
    auto points = pointsFrom(json);
    return points ? std::optional<Value>(Curve{*std::move(points)}) : std::nullopt;
}

}  // namespace noctis
