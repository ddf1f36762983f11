#include "core/settings/value_type.h"

#include "core/image/error.h"
#include "core/image/json_text.h"
#include "core/settings/pieces.h"
#include "core/settings/value_checks.h"
#include "core/settings/value_reading.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <optional>

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <nlohmann/json.hpp>

namespace noctis {

using Json = nlohmann::json;

namespace {

[[noreturn]] void bad(const Parameter& parameter, const std::string& what) {
    throw Error(ErrorCode::BadSetting, fmt::format("{} {}", parameter.id, what));
}

/// "1,2,3" as a JSON array; none if a piece is no number.
std::optional<Json> numbersFrom(std::string_view text) {
    Json numbers = Json::array();
    for (std::string_view piece : pieces(text, ',')) {
        // People type spaces after commas.
        piece.remove_prefix(std::min(piece.find_first_not_of(' '), piece.size()));
        piece.remove_suffix(piece.size() - (piece.find_last_not_of(' ') + 1));
        float value = 0.0F;
        const auto [end, error] = std::from_chars(piece.data(), piece.data() + piece.size(), value);
        if (error != std::errc() || end != piece.data() + piece.size())
            return std::nullopt;
        numbers.push_back(value);
    }
    return numbers;
}

template <typename T> std::size_t heldIndex() { return AnyValue(std::in_place_type<T>).index(); }

struct TypeRow {
    ValueType type;
    std::string_view name;
    std::size_t (*held)();
    ReadValue* read;
    CheckValue* check;  ///< none: every value will do
};

const TypeRow& rowOf(ValueType type) {
    static const std::array<TypeRow, 18> kRows{{
        {ValueType::Number, "number", heldIndex<float>, readNumber, checkNumber},
        {ValueType::Whole, "whole", heldIndex<float>, readNumber, checkNumber},
        {ValueType::Switch, "switch", heldIndex<bool>, readSwitch, nullptr},
        {ValueType::Choice, "choice", heldIndex<std::string>, readText, checkChoice},
        {ValueType::Text, "text", heldIndex<std::string>, readText, nullptr},
        {ValueType::File, "file", heldIndex<FilePath>, readFile, nullptr},
        {ValueType::Colour, "colour", heldIndex<LinearRgb>, readColour, checkColour},
        {ValueType::Point, "point", heldIndex<V3f>, readVector, checkPoint},
        {ValueType::Direction, "direction", heldIndex<V3f>, readVector, checkDirection},
        {ValueType::Place, "place", heldIndex<V2f>, readPlace, checkPlace},
        {ValueType::Places, "places", heldIndex<PlaceList>, readPlaces, checkPlaces},
        {ValueType::Span, "span", heldIndex<Span>, readSpan, checkSpan},
        {ValueType::Box, "box", heldIndex<SceneBox>, readBox, checkBox},
        {ValueType::Curve, "curve", heldIndex<Curve>, readCurve, checkCurve},
        {ValueType::Gradient, "gradient", heldIndex<Gradient>, readGradient, checkGradient},
        {ValueType::Names, "names", heldIndex<NameList>, readNames, nullptr},
        {ValueType::Records, "records", heldIndex<RecordList>, readRecords, checkRecords},
        {ValueType::Strokes, "strokes", heldIndex<Strokes>, readStrokes, checkStrokes},
    }};
    return kRows[static_cast<std::size_t>(type)];
}

}  // namespace

std::string_view valueTypeName(ValueType type) { return rowOf(type).name; }

Value checkedValue(const Parameter& parameter, const Value& value) {
    const TypeRow& row = rowOf(parameter.type);
    if (value.index() != row.held())
        bad(parameter, "got a value of another type");
    Value checked = value;
    if (row.check != nullptr)
        row.check(parameter, checked);
    return checked;
}

Value valueFromJson(const Parameter& parameter, const Json& json) {
    std::optional<Value> value;
    try {
        value = rowOf(parameter.type).read(parameter, json);
    } catch (const Json::exception&) {
        value.reset();
    }
    if (!value)
        throw Error(ErrorCode::BadSetting, fmt::format("{} is {}, which is not a {}", parameter.id,
                                                       json.dump(), valueTypeName(parameter.type)));
    return checkedValue(parameter, *value);
}

Value valueFromText(const Parameter& parameter, std::string_view text) {
    const auto from = [&](const std::optional<Json>& json, const char* wanted) {
        const auto value = json ? rowOf(parameter.type).read(parameter, *json) : std::nullopt;
        if (!value)
            bad(parameter, fmt::format("is '{}', but needs {}", text, wanted));
        return checkedValue(parameter, *value);
    };
    switch (parameter.type) {
    case ValueType::Number:
    case ValueType::Whole: {
        const auto numbers = numbersFrom(text);
        return from(numbers && numbers->size() == 1 ? std::optional((*numbers)[0]) : std::nullopt,
                    "a number");
    }
    case ValueType::Switch:
        if (text == "on" || text == "true" || text == "1")
            return true;
        if (text == "off" || text == "false" || text == "0")
            return false;
        bad(parameter, fmt::format("is '{}', but must be on or off", text));
    case ValueType::Choice:
    case ValueType::Text:
    case ValueType::File:
        return from(Json(std::string(text)), "a text");
    case ValueType::Colour:
    case ValueType::Point:
    case ValueType::Direction:
        return from(numbersFrom(text), "three numbers separated by commas");
    case ValueType::Place:
        return from(numbersFrom(text), "two numbers separated by a comma");
    case ValueType::Names: {
        Json names = Json::array();
        for (const std::string_view piece : pieces(text, ',')) {
            const auto first = piece.find_first_not_of(' ');
            if (first != std::string_view::npos)
                names.push_back(
                    std::string(piece.substr(first, piece.find_last_not_of(' ') - first + 1)));
        }
        return from(names, "names separated by commas");
    }
    default: {
        const Json json = parseJsonIfAny(text);
        return from(json.is_discarded() ? std::nullopt : std::optional(json), "JSON");
    }
    }
}

std::string textFromValue(const Value& value) {
    if (const auto* number = std::get_if<float>(&value))
        return fmt::format("{:g}", *number);
    if (const auto* on = std::get_if<bool>(&value))
        return *on ? "on" : "off";
    if (const auto* text = std::get_if<std::string>(&value))
        return *text;
    if (const auto* file = std::get_if<FilePath>(&value))
        return file->path.string();
    if (const auto* c = std::get_if<LinearRgb>(&value))
        return fmt::format("{:g},{:g},{:g}", c->r, c->g, c->b);
    if (const auto* v = std::get_if<V3f>(&value))
        return fmt::format("{:g},{:g},{:g}", v->x, v->y, v->z);
    if (const auto* v = std::get_if<V2f>(&value))
        return fmt::format("{:g},{:g}", v->x, v->y);
    if (const auto* names = std::get_if<NameList>(&value))
        return fmt::format("{}", fmt::join(*names, ","));
    return valueToJson(value).dump();
}

Settings settingsFromJson(const std::vector<Parameter>& parameters, const Json& json) {
    if (!json.is_object())
        throw Error(ErrorCode::BadSetting, "settings must be an object");
    Settings settings = initialSettings(parameters);
    for (const auto& [key, value] : json.items()) {
        const Parameter& parameter = parameterNamed(parameters, key);
        settings.set(parameter.id, valueFromJson(parameter, value));
    }
    return settings;
}

Json settingsToJson(const Settings& settings) {
    Json json = Json::object();
    for (const auto& [id, value] : settings)
        json[id] = valueToJson(value);
    return json;
}

void addToHash(Hash& hash, const Settings& settings) {
    for (const auto& [id, value] : settings) {
        hash.add(std::string_view(id));
        addToHash(hash, value);
    }
}

Settings
withFiles(Settings settings,
          const std::function<std::filesystem::path(const std::filesystem::path&)>& change) {
    Settings out;
    for (const auto& [id, value] : settings) {
        Value changed = value;
        if (auto* file = std::get_if<FilePath>(&changed); file != nullptr && !file->path.empty())
            file->path = change(file->path);
        if (auto* records = std::get_if<RecordList>(&changed))
            for (Record& record : *records)
                record.settings = withFiles(record.settings, change);
        out.set(id, std::move(changed));
    }
    return out;
}

void addFilesOf(const Settings& settings, std::vector<std::filesystem::path>& files) {
    (void)withFiles(settings, [&](const std::filesystem::path& file) {
        files.push_back(file);
        return file;
    });
}

}  // namespace noctis
