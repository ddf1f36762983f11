#pragma once

#include "core/settings/value.h"

#include <vector>

namespace noctis {

/// The numbers that a value is drawn by as curves: one, those of a place or direction, red, green and blue, 0 or 1 of
/// a switch; none for what has no curve.
std::vector<float> partsOf(const Value& value);

/// The value with another number in that place; itself where there is none.
Value withPart(Value value, std::size_t part, float number);

}  // namespace noctis
