#pragma once

#include "core/settings/value.h"

namespace noctis {

/// The unit a number is in, as stored. What people see may be another: see formatNumber.
enum class Unit {
    None,
    Metre,
    PerMetre,
    Pixel,
    Degree,
    Millimetre,
    FNumber,
    Percent,  ///< stored 0..1, shown 0..100 %
    Stop,
    Second,
    Count,       ///< a whole number
    Extinction,  ///< 1/m; shown with the visibility it makes, 3/extinction
    Kelvin,
    MetrePerSecond,
};

std::string_view unitName(Unit unit);

/// A number as people read it, with its unit and a thin space: "5.80 m", "f/2.0", "62 %".
std::string formatNumber(float value, Unit unit);

/// What a number may be, and where its control ends.
struct Range {
    float min = 0.0F;
    float max = 1.0F;
    float sliderEnd = 1.0F;
};

struct Choice {
    std::string id;
    std::string label;
};

/// What a setting is. Each is described once, in value_type.cpp, and has its editor in
/// app/controls/value_editor.cpp.
enum class ValueType {
    Number,
    Whole,
    Switch,
    Choice,
    Text,
    File,
    Colour,
    Point,      ///< in the world, m
    Direction,  ///< in the world, any length but 0
    Place,      ///< in the picture, px from its top left corner
    Places,
    Span,
    Box,
    Curve,
    Gradient,
    Names,
    Records,
    Strokes,
};

/// What a text, names or records are for; says where their choices come from.
enum class TextUse {
    Free,
    SceneNames,  ///< one text with commas; see instancesNamed in core/scene/scene.h
    PictureFile,
    FontFile,
    Objects,
    Materials,
    Groups,
    LightGroups,
    Lights,
    Passes,
};

/// One setting of a step, a criterion or a pass, declared once; panel, saving, undo and command line
/// follow.
struct Parameter {
    std::string id;
    std::string label;
    ValueType type = ValueType::Number;
    Unit unit = Unit::None;
    Range range;
    Value initial;
    std::vector<Choice> choices;  ///< for choices only
    std::string help;             ///< what it does to the picture
    std::string
        onlyWhen;  ///< "id=value[|value]" or "id>number": shown only while that setting has such a value; several with &
    TextUse use = TextUse::Free;
    std::vector<Parameter> fields;    ///< of each record
    std::vector<std::string> oldIds;  ///< read as well as id
    bool still = false;               ///< never moves in time
    std::string unset;  ///< what unsetAt or an empty text stands for, to be shown in its place
    float unsetAt = 0.0F;

    // Each step copies it where it is declared; made once, in parameter.cpp, copies compile a seventh faster.
    Parameter();
    Parameter(const Parameter&);
    Parameter(Parameter&&) noexcept;
    Parameter& operator=(const Parameter&);
    Parameter& operator=(Parameter&&) noexcept;
    ~Parameter();

    [[nodiscard]] bool isNumber() const {
        return type == ValueType::Number || type == ValueType::Whole;
    }
};

Settings initialSettings(const std::vector<Parameter>& parameters);

/// The parameter of that id, or of that old id.
/// Errors   Error(UnknownName), naming those there are.
const Parameter& parameterNamed(const std::vector<Parameter>& parameters, std::string_view id);

/// Whether onlyWhen holds.
bool isShown(const Parameter& parameter, const Settings& settings);

}  // namespace noctis
