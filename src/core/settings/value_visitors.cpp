// What differs between types once a value is held: how it is written, hashed and mixed. One overload a type, so
// that the compiler finds what is forgotten.
#include "core/settings/value_type.h"

#include <algorithm>
#include <cmath>

#include <nlohmann/json.hpp>

namespace noctis {

using Json = nlohmann::json;

namespace {

Json toJson(const V3f& v) { return {v.x, v.y, v.z}; }
Json toJson(const V2f& v) { return {v.x, v.y}; }
Json toJson(const LinearRgb& c) { return {c.r, c.g, c.b}; }

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
        for (const Stroke& stroke : v.list()) {
            json.push_back({{"points", (*this)(stroke.points)},
                            {"radius", stroke.radius},
                            {"softness", stroke.softness},
                            {"takes_away", stroke.takesAway}});
            if (!stroke.pressures.empty())
                json.back()["pressures"] = stroke.pressures;
        }
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
            for (const float pressure : stroke.pressures)
                hash.add(pressure);
        }
    }
};

float mix(float a, float b, float t) { return a + (b - a) * t; }
LinearRgb mix(const LinearRgb& a, const LinearRgb& b, float t) {
    return {mix(a.r, b.r, t), mix(a.g, b.g, t), mix(a.b, b.b, t)};
}

/// A type without its own overload stays what it is.
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

Json valueToJson(const Value& value) { return std::visit(Writer{}, value); }

void addToHash(Hash& hash, const Value& value) {
    hash.add(std::uint64_t{value.index()});
    std::visit(Hasher{hash}, value);
}

Value mixed(const Value& a, const Value& b, float t) {
    if (a.index() != b.index())
        return t < 1.0F ? a : b;
    return std::visit(Mixer{b, t}, a);
}

}  // namespace noctis
