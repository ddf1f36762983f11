#pragma once

#include "core/relief/relief.h"

namespace noctis {

/// Every shaping there is. A new one adds its file and a line to shaping_list.inc.
const ReliefCatalogue& reliefCatalogue();

}  // namespace noctis
