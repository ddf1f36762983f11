#pragma once

#include "core/image/camera.h"
#include "core/image/image.h"

#include <array>
#include <filesystem>
#include <limits>
#include <memory>
#include <string>
#include <string_view>
#include <type_traits>
#include <utility>
#include <variant>
#include <vector>

namespace noctis {

/// A file a setting names. Absolute here, and relative to the recipe or project in files.
struct FilePath {
    std::filesystem::path path;
    bool operator==(const FilePath&) const = default;
};

/// From one number to another; an end that is not set is open.
struct Span {
    float from = -std::numeric_limits<float>::infinity();
    float to = std::numeric_limits<float>::infinity();
    bool operator==(const Span&) const = default;
};

/// A box along the world's axes, m.
struct SceneBox {
    V3f min{-1.0F};
    V3f max{1.0F};
    bool operator==(const SceneBox&) const = default;
};

/// A smooth course through points of growing x that never overshoots between two of them.
/// Source   Fritsch and Carlson 1980, Monotone Piecewise Cubic Interpolation.
struct Curve {
    std::vector<V2f> points{{0.0F, 0.0F}, {1.0F, 1.0F}};
    bool operator==(const Curve&) const = default;
};
/// Level before the first point and after the last.
float curveAt(const Curve& curve, float x) noexcept;

/// Colours at places from 0 to 1, straight between.
struct Gradient {
    struct Stop {
        float at = 0.0F;
        LinearRgb colour{};
        bool operator==(const Stop&) const = default;
    };
    std::vector<Stop> stops{{0.0F, {0.0F, 0.0F, 0.0F}}, {1.0F, {1.0F, 1.0F, 1.0F}}};
    bool operator==(const Gradient&) const = default;
};
LinearRgb gradientAt(const Gradient& gradient, float at) noexcept;

/// Places in the picture, px, such as the corners of an outline.
using PlaceList = std::vector<V2f>;

/// Of objects, materials, groups or lights.
using NameList = std::vector<std::string>;

/// Points in the picture, px: where a brush of that radius went.
struct Stroke {
    std::vector<V2f> points;
    float radius = 20.0F;
    float softness = 0.5F;  ///< part of the radius over which it fades
    bool takesAway = false;
    std::vector<float> pressures{};  ///< 0..1 of the radius at each point; empty: all of it
    bool operator==(const Stroke&) const = default;
};
/// Shared, as they can be many; never changed once made.
struct Strokes {
    std::shared_ptr<const std::vector<Stroke>> all;
    [[nodiscard]] const std::vector<Stroke>& list() const noexcept;
    bool operator==(const Strokes& other) const {
        return all == other.all || list() == other.list();
    }
};

struct Record;
/// Settings of several things of one kind, each addressed by its name.
using RecordList = std::vector<Record>;

/// What a setting can hold. A choice is a string: the id of one of the parameter's choices; points,
/// directions and places in the picture are vectors.
using AnyValue = std::variant<float, bool, std::string, LinearRgb, FilePath, V3f, V2f, Span,
                              SceneBox, Curve, Gradient, PlaceList, NameList, RecordList, Strokes>;

/// One of these. A class, so that copying, comparing and destroying one is compiled once.
class Value : public AnyValue {
public:
    Value();
    template <typename T>
    requires(!std::is_base_of_v<Value, std::remove_cvref_t<T>> &&
             std::is_constructible_v<AnyValue, T>) Value(T&& value)
        : AnyValue(std::forward<T>(value)) {}  // NOLINT: as the variant's own
    Value(const Value& other);
    Value(Value&& other) noexcept;
    Value& operator=(const Value& other);
    Value& operator=(Value&& other) noexcept;
    ~Value();
    friend bool operator==(const Value& a, const Value& b);
    /// A variant claims an order whether its alternatives have one or not.
    friend bool operator<(const Value& a, const Value& b) = delete;
};

/// Values by the ids of their parameters, in the order of the declaration.
class Settings {
public:
    Settings() = default;
    Settings(std::initializer_list<std::pair<std::string, Value>> values);

    /// Errors   Error(UnknownName).
    [[nodiscard]] const Value& at(std::string_view id) const;
    /// None if there is none. Faster where place is its place in the declaration.
    [[nodiscard]] const Value* find(std::string_view id, std::size_t place = 0) const noexcept;
    template <typename T> [[nodiscard]] const T& get(std::string_view id) const {
        return std::get<T>(at(id));
    }
    [[nodiscard]] float number(std::string_view id) const { return get<float>(id); }
    void set(std::string_view id, Value value);

    [[nodiscard]] auto begin() const noexcept { return m_values.begin(); }
    [[nodiscard]] auto end() const noexcept { return m_values.end(); }
    [[nodiscard]] std::size_t size() const noexcept { return m_values.size(); }
    bool operator==(const Settings& other) const;

private:
    std::vector<std::pair<std::string, Value>> m_values;
};

struct Record {
    std::string name;
    Settings settings;
    bool operator==(const Record&) const = default;
};

}  // namespace noctis
