#pragma once

#include "core/settings/parameter.h"

#include <QString>

namespace noctis {

// How a field shows something that stands somewhere, and reads it again:
//   a point of the scene       0.50, 0.20, -5.00 m
//   a place in the picture     512, 300 px
//   places in the picture      512, 300; 20, 40 px
//   a direction                34°, 41° up: its azimuth, 0° towards +Z and 90° towards +X, and its elevation

/// Whether a parameter is one of these.
bool isPlaced(const Parameter& parameter);

QString placeText(const Parameter& parameter, const Value& value);

/// Units and degree signs may be left out; a direction may be given by three numbers, too.
/// Errors   Error(BadSetting), saying what is expected.
Value valueFromPlaceText(const Parameter& parameter, const QString& text);

}  // namespace noctis
