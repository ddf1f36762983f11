#pragma once

#include "core/settings/parameter.h"

namespace noctis {

// What a value of each type may be, as its parameter declares it; numbers are rounded, records completed.
// Errors   Error(BadSetting), naming the parameter and what it must be.
using CheckValue = void(const Parameter& parameter, Value& value);

CheckValue checkBox, checkChoice, checkColour, checkCurve, checkDirection, checkGradient,
    checkNumber, checkPlace, checkPlaces, checkPoint, checkRecords, checkSpan, checkStrokes;

}  // namespace noctis
