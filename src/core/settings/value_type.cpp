#include "core/settings/value_type.h"

#include "core/image/error.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <optional>
#include <set>

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <nlohmann/json.hpp>

namespace noctis {

using Json = nlohmann::json;

namespace {

constexpr std::size_t kMostParts = 100000;  ///< points, stops, names or records of one value

[[noreturn]] void bad(const Parameter& parameter, const std::string& what) {
    throw Error(ErrorCode::BadSetting, fmt::format("{} {}", parameter.id, what));
}

bool finite(const V3f& v) { return std::isfinite(v.x) && std::isfinite(v.y) && std::isfinite(v.z); }
bool finite(const V2f& v) { return std::isfinite(v.x) && std::isfinite(v.y); }

std::vector<std::string_view> pieces(std::string_view text, char separator) {
    std::vector<std::string_view> parts;
    while (true) {
        const auto at = text.find(separator);
        parts.push_back(text.substr(0, at));
        if (at == std::string_view::npos)
            return parts;
        text.remove_prefix(at + 1);
    }
}

/// "1,2,3" as a JSON array; none if a piece is no number.
std::optional<Json> numbersFrom(std::string_view text) {
    Json numbers = Json::array();
    for (const std::string_view piece : pieces(text, ',')) {
        float value = 0.0F;
        const auto [end, error] = std::from_chars(piece.data(), piece.data() + piece.size(), value);
        if (error != std::errc() || end != piece.data() + piece.size())
            return std::nullopt;
        numbers.push_back(value);
    }
    return numbers;
}

bool areNumbers(const Json& json, std::size_t count) {
    return json.is_array() && json.size() == count &&
           std::all_of(json.begin(), json.end(), [](const Json& j) { return j.is_number(); });
}

Json toJson(const V3f& v) { return {v.x, v.y, v.z}; }
Json toJson(const V2f& v) { return {v.x, v.y}; }
Json toJson(const LinearRgb& c) { return {c.r, c.g, c.b}; }

// --- reading -------------------------------------------------------------------------------------

using Read = std::optional<Value> (*)(const Parameter&, const Json&);

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
        strokes->push_back(std::move(stroke));
    }
    return Strokes{std::move(strokes)};
}

// --- checking ------------------------------------------------------------------------------------

using Check = void (*)(const Parameter&, Value&);

void checkNumber(const Parameter& parameter, Value& value) {
    auto& number = std::get<float>(value);
    if (!(number >= parameter.range.min && number <= parameter.range.max))
        bad(parameter, fmt::format("is {:g}, and must lie from {:g} to {:g}", number,
                                   parameter.range.min, parameter.range.max));
    if (parameter.type == ValueType::Whole)
        number = std::round(number);
}

void checkChoice(const Parameter& parameter, Value& value) {
    const auto& choice = std::get<std::string>(value);
    std::vector<std::string> ids;
    for (const Choice& c : parameter.choices) {
        if (c.id == choice)
            return;
        ids.push_back(c.id);
    }
    bad(parameter, fmt::format("is '{}', and must be one of {}", choice, fmt::join(ids, ", ")));
}

void checkColour(const Parameter& parameter, Value& value) {
    const auto& c = std::get<LinearRgb>(value);
    if (!finite(V3f(c.r, c.g, c.b)) || std::min({c.r, c.g, c.b}) < 0.0F)
        bad(parameter, "must be three finite numbers of 0 or more");
}

void checkPoint(const Parameter& parameter, Value& value) {
    if (!finite(std::get<V3f>(value)))
        bad(parameter, "must be three finite numbers");
}

void checkDirection(const Parameter& parameter, Value& value) {
    const auto& v = std::get<V3f>(value);
    if (!finite(v) || v.length2() == 0.0F)
        bad(parameter, "must be three finite numbers that are not all 0");
}

void checkPlace(const Parameter& parameter, Value& value) {
    if (!finite(std::get<V2f>(value)))
        bad(parameter, "must be two finite numbers");
}

void checkPlaces(const Parameter& parameter, Value& value) {
    const auto& places = std::get<PlaceList>(value);
    if (places.size() > kMostParts ||
        !std::all_of(places.begin(), places.end(), [](const V2f& p) { return finite(p); }))
        bad(parameter, "must be pairs of finite numbers");
}

void checkSpan(const Parameter& parameter, Value& value) {
    const auto& span = std::get<Span>(value);
    if (!(span.from <= span.to))
        bad(parameter, fmt::format("ends at {:g}, before its start at {:g}", span.to, span.from));
}

void checkBox(const Parameter& parameter, Value& value) {
    const auto& box = std::get<SceneBox>(value);
    for (int axis = 0; axis < 3; ++axis)
        if (!finite(box.min) || !finite(box.max) || box.min[axis] > box.max[axis])
            bad(parameter, "must have its min below its max");
}

void checkCurve(const Parameter& parameter, Value& value) {
    const auto& points = std::get<Curve>(value).points;
    bool rises = !points.empty() && points.size() <= kMostParts;
    for (std::size_t i = 0; rises && i < points.size(); ++i)
        rises = finite(points[i]) && (i == 0 || points[i].x > points[i - 1].x);
    if (!rises)
        bad(parameter, "must have points of growing x");
}

void checkGradient(const Parameter& parameter, Value& value) {
    const auto& stops = std::get<Gradient>(value).stops;
    bool rises = !stops.empty() && stops.size() <= kMostParts;
    for (std::size_t i = 0; rises && i < stops.size(); ++i)
        rises = std::isfinite(stops[i].at) && (i == 0 || stops[i].at >= stops[i - 1].at);
    if (!rises)
        bad(parameter, "must have colours at growing places");
}

void checkRecords(const Parameter& parameter, Value& value) {
    std::set<std::string> names;
    for (Record& record : std::get<RecordList>(value)) {
        if (record.name.empty() || !names.insert(record.name).second)
            bad(parameter,
                fmt::format("has the name '{}' twice, or one without a name", record.name));
        Settings whole = initialSettings(parameter.fields);
        for (const auto& [id, field] : record.settings)
            whole.set(id, checkedValue(parameterNamed(parameter.fields, id), field));
        record.settings = std::move(whole);
    }
}

void checkStrokes(const Parameter& parameter, Value& value) {
    for (const Stroke& stroke : std::get<Strokes>(value).list())
        if (stroke.points.size() > kMostParts || !(stroke.radius >= 0.0F) ||
            !std::isfinite(stroke.radius) ||
            !std::all_of(stroke.points.begin(), stroke.points.end(),
                         [](const V2f& p) { return finite(p); }))
            bad(parameter, "has a stroke of places that are not finite");
}

// --- the table -----------------------------------------------------------------------------------

template <typename T> std::size_t heldIndex() { return Value(T{}).index(); }

struct TypeRow {
    ValueType type;
    std::string_view name;
    std::size_t (*held)();
    Read read;
    Check check;  ///< none: every value will do
};

const TypeRow& rowOf(ValueType type) {
    static const std::array<TypeRow, 18> kRows{{
        {ValueType::Number, "number", heldIndex<float>, readNumber, checkNumber},
        {ValueType::Whole, "whole", heldIndex<float>, readNumber, checkNumber},
        {ValueType::Switch, "switch", heldIndex<bool>,
         [](const Parameter&, const Json& json) {
             return json.is_boolean() ? std::optional<Value>(json.get<bool>()) : std::nullopt;
         },
         nullptr},
        {ValueType::Choice, "choice", heldIndex<std::string>, readText, checkChoice},
        {ValueType::Text, "text", heldIndex<std::string>, readText, nullptr},
        {ValueType::File, "file", heldIndex<FilePath>,
         [](const Parameter&, const Json& json) {
             return json.is_string() ? std::optional<Value>(FilePath{json.get<std::string>()})
                                     : std::nullopt;
         },
         nullptr},
        {ValueType::Colour, "colour", heldIndex<LinearRgb>, readColour, checkColour},
        {ValueType::Point, "point", heldIndex<V3f>,
         [](const Parameter&, const Json& json) -> std::optional<Value> { return v3From(json); },
         checkPoint},
        {ValueType::Direction, "direction", heldIndex<V3f>,
         [](const Parameter&, const Json& json) -> std::optional<Value> { return v3From(json); },
         checkDirection},
        {ValueType::Place, "place", heldIndex<V2f>,
         [](const Parameter&, const Json& json) -> std::optional<Value> { return v2From(json); },
         checkPlace},
        {ValueType::Places, "places", heldIndex<PlaceList>,
         [](const Parameter&, const Json& json) -> std::optional<Value> {
             return pointsFrom(json);
         },
         checkPlaces},
        {ValueType::Span, "span", heldIndex<Span>, readSpan, checkSpan},
        {ValueType::Box, "box", heldIndex<SceneBox>, readBox, checkBox},
        {ValueType::Curve, "curve", heldIndex<Curve>,
         [](const Parameter&, const Json& json) -> std::optional<Value> {
             auto points = pointsFrom(json);
             return points ? std::optional<Value>(Curve{*std::move(points)}) : std::nullopt;
         },
         checkCurve},
        {ValueType::Gradient, "gradient", heldIndex<Gradient>, readGradient, checkGradient},
        {ValueType::Names, "names", heldIndex<NameList>, readNames, nullptr},
        {ValueType::Records, "records", heldIndex<RecordList>, readRecords, checkRecords},
        {ValueType::Strokes, "strokes", heldIndex<Strokes>, readStrokes, checkStrokes},
    }};
    return kRows[static_cast<std::size_t>(type)];
}

/// What a value's type writes; one overload a type, so that none is forgotten.
struct Writer {
    Json operator()(float v) const { return v; }
    Json operator()(bool v) const { return v; }
    Json operator()(const std::string& v) const { return v; }
    Json operator()(const LinearRgb& v) const { return toJson(v); }
    Json operator()(const FilePath& v) const { return v.path.generic_string(); }
    Json operator()(const V3f& v) const { return toJson(v); }
    Json operator()(const V2f& v) const { return toJson(v); }
    Json operator()(const Span& v) const {
        Json json = Json::object();
        if (std::isfinite(v.from))
            json["from"] = v.from;
        if (std::isfinite(v.to))
            json["to"] = v.to;
        return json;
    }
    Json operator()(const SceneBox& v) const {
        return {{"min", toJson(v.min)}, {"max", toJson(v.max)}};
    }
    Json operator()(const PlaceList& v) const {
        Json json = Json::array();
        for (const V2f& point : v)
            json.push_back(toJson(point));
        return json;
    }
    Json operator()(const Curve& v) const { return (*this)(v.points); }
    Json operator()(const Gradient& v) const {
        Json json = Json::array();
        for (const Gradient::Stop& stop : v.stops)
            json.push_back({{"at", stop.at}, {"colour", toJson(stop.colour)}});
        return json;
    }
    Json operator()(const NameList& v) const {
        Json json = Json::array();
        for (const std::string& name : v)
            json.push_back(name);
        return json;
    }
    Json operator()(const RecordList& v) const {
        Json json = Json::array();
        for (const Record& record : v) {
            Json each = settingsToJson(record.settings);
            each["name"] = record.name;
            json.push_back(std::move(each));
        }
        return json;
    }
    Json operator()(const Strokes& v) const {
        Json json = Json::array();
        for (const Stroke& stroke : v.list())
            json.push_back({{"points", (*this)(stroke.points)},
                            {"radius", stroke.radius},
                            {"softness", stroke.softness},
                            {"takes_away", stroke.takesAway}});
        return json;
    }
};

struct Hasher {
    Hash& hash;
    void operator()(float v) const { hash.add(v); }
    void operator()(bool v) const { hash.add(std::uint64_t{v}); }
    void operator()(const std::string& v) const { hash.add(std::string_view(v)); }
    void operator()(const LinearRgb& v) const { hash.add(v.r).add(v.g).add(v.b); }
    void operator()(const FilePath& v) const { hash.add(std::string_view(v.path.native())); }
    void operator()(const V3f& v) const { hash.add(v.x).add(v.y).add(v.z); }
    void operator()(const V2f& v) const { hash.add(v.x).add(v.y); }
    void operator()(const Span& v) const { hash.add(v.from).add(v.to); }
    void operator()(const SceneBox& v) const {
        (*this)(v.min);
        (*this)(v.max);
    }
    void operator()(const PlaceList& v) const {
        hash.add(std::uint64_t{v.size()});
        for (const V2f& point : v)
            (*this)(point);
    }
    void operator()(const Curve& v) const { (*this)(v.points); }
    void operator()(const Gradient& v) const {
        hash.add(std::uint64_t{v.stops.size()});
        for (const Gradient::Stop& stop : v.stops) {
            hash.add(stop.at);
            (*this)(stop.colour);
        }
    }
    void operator()(const NameList& v) const {
        hash.add(std::uint64_t{v.size()});
        for (const std::string& name : v)
            hash.add(std::string_view(name));
    }
    void operator()(const RecordList& v) const {
        hash.add(std::uint64_t{v.size()});
        for (const Record& record : v) {
            hash.add(std::string_view(record.name));
            addToHash(hash, record.settings);
        }
    }
    void operator()(const Strokes& v) const {
        hash.add(std::uint64_t{v.list().size()});
        for (const Stroke& stroke : v.list()) {
            (*this)(stroke.points);
            hash.add(stroke.radius).add(stroke.softness).add(std::uint64_t{stroke.takesAway});
        }
    }
};

float mix(float a, float b, float t) { return a + (b - a) * t; }
LinearRgb mix(const LinearRgb& a, const LinearRgb& b, float t) {
    return {mix(a.r, b.r, t), mix(a.g, b.g, t), mix(a.b, b.b, t)};
}

/// A type without an overload of its own stays what it is.
struct Mixer {
    const Value& other;
    float t;
    template <typename T> Value operator()(const T& a) const { return t < 1.0F ? Value(a) : other; }
    Value operator()(float a) const { return mix(a, std::get<float>(other), t); }
    Value operator()(const LinearRgb& a) const { return mix(a, std::get<LinearRgb>(other), t); }
    Value operator()(const V3f& a) const { return a + (std::get<V3f>(other) - a) * t; }
    Value operator()(const V2f& a) const { return a + (std::get<V2f>(other) - a) * t; }
    Value operator()(const Span& a) const {
        const auto& b = std::get<Span>(other);
        const auto end = [&](float x, float y) {
            return std::isfinite(x) && std::isfinite(y) ? mix(x, y, t) : (t < 1.0F ? x : y);
        };
        return Span{end(a.from, b.from), end(a.to, b.to)};
    }
    Value operator()(const SceneBox& a) const {
        const auto& b = std::get<SceneBox>(other);
        return SceneBox{a.min + (b.min - a.min) * t, a.max + (b.max - a.max) * t};
    }
    [[nodiscard]] PlaceList mixPlaces(PlaceList a, const PlaceList& b) const {
        if (a.size() != b.size())
            return t < 1.0F ? a : b;
        for (std::size_t i = 0; i < a.size(); ++i)
            a[i] += (b[i] - a[i]) * t;
        return a;
    }
    Value operator()(const PlaceList& a) const { return mixPlaces(a, std::get<PlaceList>(other)); }
    Value operator()(const Curve& a) const {
        return Curve{mixPlaces(a.points, std::get<Curve>(other).points)};
    }
    Value operator()(const Gradient& a) const {
        const auto& b = std::get<Gradient>(other);
        if (a.stops.size() != b.stops.size())
            return t < 1.0F ? a : b;
        Gradient out = a;
        for (std::size_t i = 0; i < out.stops.size(); ++i)
            out.stops[i] = {mix(a.stops[i].at, b.stops[i].at, t),
                            mix(a.stops[i].colour, b.stops[i].colour, t)};
        return out;
    }
    Value operator()(const RecordList& a) const {
        // By name, for what both have.
        const auto& b = std::get<RecordList>(other);
        RecordList out = a;
        for (Record& record : out) {
            const auto there = std::find_if(
                b.begin(), b.end(), [&](const Record& each) { return each.name == record.name; });
            if (there == b.end())
                continue;
            Settings between;
            for (const auto& [id, value] : record.settings)
                if (const Value* end = there->settings.find(id))
                    between.set(id, noctis::mixed(value, *end, t));
            record.settings = std::move(between);
        }
        return out;
    }
};

}  // namespace

std::string_view valueTypeName(ValueType type) { return rowOf(type).name; }

Value checkedValue(const Parameter& parameter, const Value& value) {
    const TypeRow& row = rowOf(parameter.type);
    if (value.index() != row.held())
        bad(parameter, "was given a value of another type");
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
            bad(parameter, fmt::format("is '{}', and needs {}", text, wanted));
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
        bad(parameter, fmt::format("is '{}', and must be on or off", text));
    case ValueType::Choice:
    case ValueType::Text:
    case ValueType::File:
        return from(Json(std::string(text)), "a text");
    case ValueType::Colour:
    case ValueType::Point:
    case ValueType::Direction:
        return from(numbersFrom(text), "three numbers with commas");
    case ValueType::Place:
        return from(numbersFrom(text), "two numbers with a comma");
    case ValueType::Names: {
        Json names = Json::array();
        for (const std::string_view piece : pieces(text, ',')) {
            const auto first = piece.find_first_not_of(' ');
            if (first != std::string_view::npos)
                names.push_back(
                    std::string(piece.substr(first, piece.find_last_not_of(' ') - first + 1)));
        }
        return from(names, "names with commas");
    }
    default: {
        const Json json = Json::parse(text, nullptr, false);
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

Json valueToJson(const Value& value) { return std::visit(Writer{}, value); }

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

void addToHash(Hash& hash, const Value& value) {
    hash.add(std::uint64_t{value.index()});
    std::visit(Hasher{hash}, value);
}

void addToHash(Hash& hash, const Settings& settings) {
    for (const auto& [id, value] : settings) {
        hash.add(std::string_view(id));
        addToHash(hash, value);
    }
}

Value mixed(const Value& a, const Value& b, float t) {
    if (a.index() != b.index())
        return t < 1.0F ? a : b;
    return std::visit(Mixer{b, t}, a);
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

}  // namespace noctis
