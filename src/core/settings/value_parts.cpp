#include "core/settings/value_parts.h"

namespace noctis {

std::vector<float> partsOf(const Value& value) {
    if (const auto* number = std::get_if<float>(&value))
        return {*number};
    if (const auto* on = std::get_if<bool>(&value))
        return {*on ? 1.0F : 0.0F};
    if (const auto* colour = std::get_if<LinearRgb>(&value))
        return {colour->r, colour->g, colour->b};
    if (const auto* place = std::get_if<V2f>(&value))
        return {place->x, place->y};
    if (const auto* place = std::get_if<V3f>(&value))
        return {place->x, place->y, place->z};
    return {};
}

Value withPart(Value value, std::size_t part, float number) {
    if (part >= partsOf(value).size())
        return value;
    if (auto* own = std::get_if<float>(&value))
        *own = number;
    else if (auto* on = std::get_if<bool>(&value))
        *on = number >= 0.5F;
    else if (auto* colour = std::get_if<LinearRgb>(&value))
        (part == 0 ? colour->r : part == 1 ? colour->g : colour->b) = number;
    else if (auto* pair = std::get_if<V2f>(&value))
        (*pair)[static_cast<unsigned>(part)] = number;
    else if (auto* place = std::get_if<V3f>(&value))
        (*place)[static_cast<unsigned>(part)] = number;
    return value;
}

}  // namespace noctis
