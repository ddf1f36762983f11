#pragma once

#include "core/recipe/recipe.h"

namespace noctis {

/// Every kind of step and of criterion there is. A new step adds a line to step_list.inc.
const Catalogue& stepCatalogue();

}  // namespace noctis
