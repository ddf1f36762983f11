#pragma once

#include "core/recipe/recipe.h"

namespace noctis {

/// Brings places of the picture, shapes and strokes, and lengths in pixels to a picture of another size: places by
/// the factor of each axis, lengths by that of the height.
void scalePlaces(Recipe& recipe, const Catalogue& catalogue, const V2f& factor);

}  // namespace noctis
