#pragma once

#include "core/passes/diagnosis.h"

#include <QString>

namespace noctis {

/// What a button says that repairs a pass.
QString repairLabel(Repair repair);

}  // namespace noctis
