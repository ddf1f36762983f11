#pragma once

#include "core/image/image.h"

namespace noctis {

/// Peak signal-to-noise ratio of two scene-linear pictures as they are seen: clamped to 0..1 at exposure 0
/// and sRGB-encoded.
/// Units    dB; +inf for equal pictures.
/// Errors   Error(ShapeMismatch).
double psnrOf(const Image& a, const Image& b);

}  // namespace noctis
