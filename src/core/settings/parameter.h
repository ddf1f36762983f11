#pragma once

#include "core/image/image.h"

#include <string>
#include <string_view>
#include <variant>
#include <vector>

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
};

std::string_view unitName(Unit unit);

/// A number as people read it, with its unit and a thin space: "5.80 m", "f/2.0", "62 %".
std::string formatNumber(float value, Unit unit);

/// A choice is a string: the id of one of the parameter's choices.
using Value = std::variant<float, bool, std::string, LinearRgb>;

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

/// What a text is for.
enum class TextUse {
    Free,
    SceneNames,  ///< see instancesNamed in core/scene/scene.h
    PictureFile,
};

/// One setting of a step or a pass, declared once; panel, saving, undo and command line follow.
struct Parameter {
    std::string id;
    std::string label;
    Unit unit = Unit::None;
    Range range;
    Value initial;
    std::vector<Choice> choices;  ///< for choices only
    std::string help;             ///< what it does to the picture
    std::string
        onlyWhen;  ///< "id=value[|value]" or "id>0": shown only while that setting has such a value
    TextUse use = TextUse::Free;  ///< of texts without choices

    [[nodiscard]] bool isNumber() const { return std::holds_alternative<float>(initial); }
    [[nodiscard]] bool isSwitch() const { return std::holds_alternative<bool>(initial); }
    [[nodiscard]] bool isChoice() const { return std::holds_alternative<std::string>(initial); }
    [[nodiscard]] bool isColour() const { return std::holds_alternative<LinearRgb>(initial); }
};

/// One value for each parameter, in their order.
using Settings = std::vector<Value>;

Settings initialSettings(const std::vector<Parameter>& parameters);

/// The index of a parameter. Errors: Error(UnknownName), naming those there are.
std::size_t parameterIndex(const std::vector<Parameter>& parameters, std::string_view id);

/// A value as this parameter may have it.
/// Errors   Error(BadSetting) for another type, an unknown choice, a number out of range or no
/// number.
Value checkedValue(const Parameter& parameter, const Value& value);

/// A value from the command line: "0.5", "on", "curve", "0.1,0.2,0.3".
Value valueFromText(const Parameter& parameter, std::string_view text);
std::string textFromValue(const Value& value);

/// Whether onlyWhen holds.
bool isShown(const Parameter& parameter, const std::vector<Parameter>& all,
             const Settings& settings);

}  // namespace noctis
