#pragma once

#include "core/relief/relief.h"

namespace noctis {

/// Every operation there is. A new one adds its file and a line to operation_list.inc.
const ReliefCatalogue& reliefCatalogue();

}  // namespace noctis
