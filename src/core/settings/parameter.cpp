#include "core/settings/parameter.h"

#include "core/image/error.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <optional>

#include <fmt/format.h>
#include <fmt/ranges.h>

namespace noctis {

namespace {

constexpr const char* kThinSpace = "\u2009";

[[noreturn]] void bad(const Parameter& parameter, const std::string& what) {
    throw Error(ErrorCode::BadSetting, fmt::format("{} {}", parameter.id, what));
}

std::optional<float> numberFrom(std::string_view text) {
    float value = 0.0F;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc() || end != text.data() + text.size())
        return std::nullopt;
    return value;
}

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

int decimalsFor(float magnitude) {
    if (magnitude >= 100.0F)
        return 0;
    if (magnitude >= 10.0F)
        return 1;
    return magnitude >= 0.1F || magnitude == 0.0F ? 2 : 3;
}

std::string percentText(float percent) {
    const bool whole = std::abs(percent - std::round(percent)) < 0.05F;
    return fmt::format("{:.{}f}{}%", percent, std::abs(percent) < 9.95F && !whole ? 1 : 0,
                       kThinSpace);
}

}  // namespace

std::string_view unitName(Unit unit) {
    static constexpr std::array<std::string_view, 12> kNames{"",   "m", "1/m", "px", "°", "mm",
                                                             "f/", "%", "EV",  "s",  "",  "1/m"};
    return kNames[static_cast<std::size_t>(unit)];
}

std::string formatNumber(float value, Unit unit) {
    std::string number = fmt::format("{:.{}f}", value, decimalsFor(std::abs(value)));
    switch (unit) {
    case Unit::None:
        return number;
    case Unit::Count:
        return fmt::format("{:.0f}", value);
    case Unit::FNumber:
        return fmt::format("f/{:.1f}", value);
    case Unit::Percent:
        return percentText(value * 100.0F);
    case Unit::Degree:
        return fmt::format("{:.0f}°", value);
    case Unit::Extinction:
        if (value <= 0.0F)
            return "clear";
        return fmt::format("{:.{}f}{}m", 3.0F / value, 3.0F / value < 10.0F ? 1 : 0, kThinSpace);
    case Unit::Stop:
        return fmt::format("{:+.1f}{}EV", value, kThinSpace);
    default:
        return fmt::format("{}{}{}", number, kThinSpace, unitName(unit));
    }
}

Settings initialSettings(const std::vector<Parameter>& parameters) {
    Settings settings;
    for (const Parameter& parameter : parameters)
        settings.push_back(parameter.initial);
    return settings;
}

std::size_t parameterIndex(const std::vector<Parameter>& parameters, std::string_view id) {
    const auto found = std::find_if(parameters.begin(), parameters.end(),
                                    [&](const Parameter& p) { return p.id == id; });
    if (found == parameters.end()) {
        std::vector<std::string> ids;
        for (const Parameter& parameter : parameters)
            ids.push_back(parameter.id);
        throw Error(ErrorCode::UnknownName,
                    fmt::format("there is no setting {}; there are {}", id, fmt::join(ids, ", ")));
    }
    return static_cast<std::size_t>(found - parameters.begin());
}

Value checkedValue(const Parameter& parameter, const Value& value) {
    if (value.index() != parameter.initial.index())
        bad(parameter, "was given a value of another type");
    if (const auto* number = std::get_if<float>(&value)) {
        if (!(*number >= parameter.range.min && *number <= parameter.range.max))
            bad(parameter, fmt::format("is {:g}, and must lie from {:g} to {:g}", *number,
                                       parameter.range.min, parameter.range.max));
        if (parameter.unit == Unit::Count)
            return std::round(*number);
    } else if (const auto* choice = std::get_if<std::string>(&value)) {
        const bool known = std::any_of(parameter.choices.begin(), parameter.choices.end(),
                                       [&](const Choice& c) { return c.id == *choice; });
        if (!known && !parameter.choices.empty()) {
            std::vector<std::string> ids;
            for (const Choice& c : parameter.choices)
                ids.push_back(c.id);
            bad(parameter,
                fmt::format("is '{}', and must be one of {}", *choice, fmt::join(ids, ", ")));
        }
    } else if (const auto* colour = std::get_if<LinearRgb>(&value)) {
        if (!std::isfinite(colour->r) || !std::isfinite(colour->g) || !std::isfinite(colour->b) ||
            std::min({colour->r, colour->g, colour->b}) < 0.0F)
            bad(parameter, "must be three finite numbers of 0 or more");
    }
    return value;
}

Value valueFromText(const Parameter& parameter, std::string_view text) {
    if (parameter.isChoice())
        return checkedValue(parameter, std::string(text));
    if (parameter.isSwitch()) {
        if (text == "on" || text == "true" || text == "1")
            return true;
        if (text == "off" || text == "false" || text == "0")
            return false;
        bad(parameter, fmt::format("is '{}', and must be on or off", text));
    }
    std::vector<float> numbers;
    for (const std::string_view piece : pieces(text, ',')) {
        const auto number = numberFrom(piece);
        if (!number)
            bad(parameter, fmt::format("is '{}', which is no number", text));
        numbers.push_back(*number);
    }
    if (parameter.isNumber() && numbers.size() == 1)
        return checkedValue(parameter, numbers[0]);
    if (parameter.isColour() && numbers.size() == 3)
        return checkedValue(parameter, LinearRgb{numbers[0], numbers[1], numbers[2]});
    bad(parameter,
        fmt::format("is '{}', and needs {} number(s)", text, parameter.isColour() ? 3 : 1));
}

std::string textFromValue(const Value& value) {
    if (const auto* number = std::get_if<float>(&value))
        return fmt::format("{:g}", *number);
    if (const auto* on = std::get_if<bool>(&value))
        return *on ? "on" : "off";
    if (const auto* colour = std::get_if<LinearRgb>(&value))
        return fmt::format("{:g},{:g},{:g}", colour->r, colour->g, colour->b);
    return std::get<std::string>(value);
}

bool isShown(const Parameter& parameter, const std::vector<Parameter>& all,
             const Settings& settings) {
    if (const auto above = parameter.onlyWhen.find(">0"); above != std::string::npos)
        return std::get<float>(settings[parameterIndex(all, parameter.onlyWhen.substr(0, above))]) >
               0.0F;
    const auto equals = parameter.onlyWhen.find('=');
    if (equals == std::string::npos)
        return true;
    const std::string current =
        textFromValue(settings[parameterIndex(all, parameter.onlyWhen.substr(0, equals))]);
    for (const std::string_view wanted :
         pieces(std::string_view(parameter.onlyWhen).substr(equals + 1), '|'))
        if (wanted == current)
            return true;
    return false;
}

}  // namespace noctis
