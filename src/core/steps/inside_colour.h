#pragma once

#include "core/image/image.h"

namespace noctis {

/// The straight colours of what a matte covers wholly, spread to every pixel from the nearest ones.
/// Shape    R G B of the picture's size; the picture is associated with alpha, which may be empty (opaque). Empty where
///          nothing is covered wholly.
Image insideColour(const Image& picture, const Image& alpha, const Image& matte);

/// For each pixel of a row: 1 where it or a neighbour isn't covered wholly, so that what lies behind may be mixed with
/// its colour; 0 elsewhere. edge: room for the matte's width.
void edgeRow(const Image& matte, int y, float* edge) noexcept;

}  // namespace noctis
