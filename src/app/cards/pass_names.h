#pragma once

#include "app/controls/names_picker.h"
#include "core/passes/pass_set.h"
#include "core/settings/parameter.h"

namespace noctis {

/// What the passes of a frame offer to be named.
NameChoices namesIn(const PassSet& passes, TextUse use);

}  // namespace noctis
