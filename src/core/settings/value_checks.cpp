#include "core/settings/value_checks.h"

#include "core/image/error.h"
#include "core/settings/value_type.h"

#include <algorithm>
#include <cmath>
#include <set>

#include <fmt/format.h>
#include <fmt/ranges.h>

namespace noctis {

namespace {

constexpr std::size_t kMostParts = 100000;  ///< points, stops, names or records of one value

[[noreturn]] void bad(const Parameter& parameter, const std::string& what) {
    throw Error(ErrorCode::BadSetting, fmt::format("{} {}", parameter.id, what));
}

bool finite(const V3f& v) { return std::isfinite(v.x) && std::isfinite(v.y) && std::isfinite(v.z); }
bool finite(const V2f& v) { return std::isfinite(v.x) && std::isfinite(v.y); }

}  // namespace

void checkNumber(const Parameter& parameter, Value& value) {
    auto& number = std::get<float>(value);
    if (!(number >= parameter.range.min && number <= parameter.range.max))
        bad(parameter, fmt::format("is {:g}, but must be from {:g} to {:g}", number,
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
    bad(parameter, fmt::format("is '{}', but must be one of {}", choice, fmt::join(ids, ", ")));
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
        bad(parameter, "must have points in order of x");
}

void checkGradient(const Parameter& parameter, Value& value) {
    const auto& stops = std::get<Gradient>(value).stops;
    bool rises = !stops.empty() && stops.size() <= kMostParts;
    for (std::size_t i = 0; rises && i < stops.size(); ++i)
        rises = std::isfinite(stops[i].at) && (i == 0 || stops[i].at >= stops[i - 1].at);
    if (!rises)
        bad(parameter, "must have colours in order of position");
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
            bad(parameter, "has a stroke with points that aren't finite");
}

}  // namespace noctis
