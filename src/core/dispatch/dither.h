#pragma once

#include "core/image/image.h"

namespace noctis {

/// Values that are about to be rounded to so many steps between 0 and 1, with noise of up to half a step either way, so
/// that a soft ramp doesn't become bands. A stays as it is.
/// Exact    what lies on a step stays there; over many pixels the mean of the rounded values is that of the values.
///          The noise is that of a pixel's place and channel: the same for the same picture.
Image dithered(const Image& picture, int steps);

}  // namespace noctis
