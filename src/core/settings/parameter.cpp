#include "core/settings/parameter.h"

#include "core/image/error.h"
#include "core/settings/pieces.h"
#include "core/settings/value_type.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>
#include <fmt/ranges.h>

namespace noctis {

namespace {

constexpr const char* kThinSpace = "\u2009";

constexpr float kShowsAsZero = 0.0005F;

int decimalsFor(float magnitude) {
    if (magnitude >= 100.0F)
        return 0;
    if (magnitude >= 10.0F)
        return 1;
    return magnitude >= 0.1F || magnitude == 0.0F ? 2 : 3;
}

/// Lengths of less than a tenth of a metre in millimetres.
std::string metresText(float metres) {
    const float size = std::abs(metres);
    const bool small = size > 0.0F && size < 0.0995F;
    const float shown = small ? metres * 1e3F : metres;
    const float shownSize = std::abs(shown);
    const int decimals = small && shownSize < 0.1F    ? 4
                         : small && shownSize < 9.95F ? 2
                         : small                      ? 1
                                                      : decimalsFor(size);
    return fmt::format("{:.{}f}{}{}", shown, decimals, kThinSpace, small ? "mm" : "m");
}

std::string percentText(float percent) {
    const bool whole = std::abs(percent - std::round(percent)) < 0.05F;
    return fmt::format("{:.{}f}{}%", percent, std::abs(percent) < 9.95F && !whole ? 1 : 0,
                       kThinSpace);
}

}  // namespace

std::string_view unitName(Unit unit) {
    static constexpr std::array<std::string_view, 14> kNames{
        "", "m", "1/m", "px", "°", "mm", "f/", "%", "EV", "s", "", "1/m", "K", "m/s"};
    return kNames[static_cast<std::size_t>(unit)];
}

std::string formatNumber(float value, Unit unit) {
    const float shown = std::abs(value) < kShowsAsZero ? 0.0F : value;  // never "-0.000"
    const std::string number = fmt::format("{:.{}f}", shown, decimalsFor(std::abs(shown)));
    switch (unit) {
    case Unit::None:
        return number;
    case Unit::Metre:
        return metresText(value);
    case Unit::Count:
        return fmt::format("{:.0f}", value);
    case Unit::FNumber:
        return fmt::format("f/{:.1f}", value);
    case Unit::Percent:
        return percentText(value * 100.0F);
    case Unit::Degree:
        return fmt::format("{:.{}f}°", value,
                           std::abs(value) < 10.0F && value != std::round(value) ? 1 : 0);
    case Unit::Extinction:
        if (value <= 0.0F)
            return "clear";
        return fmt::format("{:.{}f}{}m", 3.0F / value, 3.0F / value < 10.0F ? 1 : 0, kThinSpace);
    case Unit::Kelvin:
        return fmt::format("{:.0f}{}K", value, kThinSpace);
    case Unit::Stop:
        return fmt::format("{:+.1f}{}EV", value, kThinSpace);
    default:
        return fmt::format("{}{}{}", number, kThinSpace, unitName(unit));
    }
}

Parameter::Parameter() = default;
Parameter::Parameter(const Parameter&) = default;
Parameter::Parameter(Parameter&&) noexcept = default;
Parameter& Parameter::operator=(const Parameter&) = default;
Parameter& Parameter::operator=(Parameter&&) noexcept = default;
Parameter::~Parameter() = default;

Settings initialSettings(const std::vector<Parameter>& parameters) {
    Settings settings;
    for (const Parameter& parameter : parameters)
        settings.set(parameter.id, parameter.initial);
    return settings;
}

const Parameter& parameterNamed(const std::vector<Parameter>& parameters, std::string_view id) {
    for (const Parameter& parameter : parameters)
        if (parameter.id == id)
            return parameter;
    std::vector<std::string> ids;
    for (const Parameter& parameter : parameters) {
        if (std::find(parameter.oldIds.begin(), parameter.oldIds.end(), id) !=
            parameter.oldIds.end())
            return parameter;
        ids.push_back(parameter.id);
    }
    throw Error(ErrorCode::UnknownName,
                fmt::format("there is no setting {}; there are {}", id, fmt::join(ids, ", ")));
}

namespace {

bool holds(std::string_view condition, const Settings& settings) {
    if (const auto above = condition.find('>'); above != std::string_view::npos)
        return settings.number(std::string(condition.substr(0, above))) >
               std::stof(std::string(condition.substr(above + 1)));
    const auto equals = condition.find('=');
    const std::string current =
        textFromValue(settings.at(std::string(condition.substr(0, equals))));
    const std::string_view wanted = condition.substr(equals + 1);
    // No value but the empty one.
    if (wanted.empty())
        return current.empty();
    return std::ranges::any_of(pieces(wanted, '|'),
                               [&](std::string_view one) { return one == current; });
}

}  // namespace

bool isShown(const Parameter& parameter, const Settings& settings) {
    return parameter.onlyWhen.empty() ||
           std::ranges::all_of(pieces(parameter.onlyWhen, '&'), [&](std::string_view condition) {
               return holds(condition, settings);
           });
}

}  // namespace noctis
