#pragma once

#include "core/recipe/recipe.h"

namespace noctis {

/// Every kind of step there is. A new one adds a line to registry.cpp.
const Catalogue& stepCatalogue();

}  // namespace noctis
