#include "core/settings/value.h"

#include "core/image/error.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

namespace noctis {

Value::Value() = default;
Value::Value(const Value& other) = default;
Value::Value(Value&& other) noexcept = default;
Value& Value::operator=(const Value& other) = default;
Value& Value::operator=(Value&& other) noexcept = default;
Value::~Value() = default;

bool operator==(const Value& a, const Value& b) {
    return static_cast<const AnyValue&>(a) == static_cast<const AnyValue&>(b);
}

namespace {

/// The slope at point i that keeps the course monotone.
float slopeAt(const std::vector<V2f>& p, std::size_t i) noexcept {
    const auto secant = [&](std::size_t k) {
        return (p[k + 1].y - p[k].y) / std::max(p[k + 1].x - p[k].x, 1e-9F);
    };
    if (i == 0)
        return secant(0);
    if (i + 1 == p.size())
        return secant(i - 1);
    const float before = secant(i - 1);
    const float after = secant(i);
    if (before * after <= 0.0F)
        return 0.0F;
    // The weighted harmonic mean lies within the bound of monotone courses.
    const float w0 = p[i].x - p[i - 1].x;
    const float w1 = p[i + 1].x - p[i].x;
    const float a = 2.0F * w1 + w0;
    const float b = w1 + 2.0F * w0;
    return (a + b) / (a / before + b / after);
}

}  // namespace

float curveAt(const Curve& curve, float x) noexcept {
    const std::vector<V2f>& p = curve.points;
    if (p.empty())
        return x;
    if (!(x > p.front().x))
        return p.front().y;
    if (x >= p.back().x)
        return p.back().y;
    std::size_t i = 0;
    while (x > p[i + 1].x)
        ++i;
    const float h = std::max(p[i + 1].x - p[i].x, 1e-9F);
    const float t = (x - p[i].x) / h;
    const float t2 = t * t;
    const float t3 = t2 * t;
    return (2.0F * t3 - 3.0F * t2 + 1.0F) * p[i].y + (t3 - 2.0F * t2 + t) * h * slopeAt(p, i) +
           (3.0F * t2 - 2.0F * t3) * p[i + 1].y + (t3 - t2) * h * slopeAt(p, i + 1);
}

LinearRgb gradientAt(const Gradient& gradient, float at) noexcept {
    const auto& stops = gradient.stops;
    if (stops.empty())
        return {};
    if (!(at > stops.front().at))
        return stops.front().colour;
    for (std::size_t i = 1; i < stops.size(); ++i)
        if (at <= stops[i].at) {
            const float wide = std::max(stops[i].at - stops[i - 1].at, 1e-9F);
            const float t = (at - stops[i - 1].at) / wide;
            const LinearRgb& a = stops[i - 1].colour;
            const LinearRgb& b = stops[i].colour;
            return {a.r + (b.r - a.r) * t, a.g + (b.g - a.g) * t, a.b + (b.b - a.b) * t};
        }
    return stops.back().colour;
}

const std::vector<Stroke>& Strokes::list() const noexcept {
    static const std::vector<Stroke> none;
    return all ? *all : none;
}

Settings::Settings(std::initializer_list<std::pair<std::string, Value>> values)
    : m_values(values) {}

const Value* Settings::find(std::string_view id, std::size_t place) const noexcept {
    if (place < m_values.size() && m_values[place].first == id)
        return &m_values[place].second;
    const auto found = std::find_if(m_values.begin(), m_values.end(),
                                    [&](const auto& entry) { return entry.first == id; });
    return found == m_values.end() ? nullptr : &found->second;
}

const Value& Settings::at(std::string_view id) const {
    if (const Value* value = find(id))
        return *value;
    throw Error(ErrorCode::UnknownName, fmt::format("there is no setting {}", id));
}

void Settings::set(std::string_view id, Value value) {
    for (auto& [known, old] : m_values)
        if (known == id) {
            old = std::move(value);
            return;
        }
    m_values.emplace_back(id, std::move(value));
}

bool Settings::operator==(const Settings& other) const { return m_values == other.m_values; }

}  // namespace noctis
