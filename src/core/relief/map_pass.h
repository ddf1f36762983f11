#pragma once

#include "core/passes/pass_set.h"
#include "core/relief/height_field.h"

#include <string_view>

namespace noctis {

/// A map, "height" or the id of a derived one, as a pass of a frame. Cells that are the frame's pixels are taken as they
/// are. A map that lies in the frame's scene is found at each pixel by its position, where the map's surface is what is
/// seen; normals are turned into the world. Any other map of the frame's shape is scaled to it.
/// What the map doesn't show stays neutral: open, flat, or no height (NaN).
/// Errors   Error(ShapeMismatch), Error(UnknownName).
Pass passOfMap(const HeightField& field, std::string_view map, const PassSet& frame);

}  // namespace noctis
