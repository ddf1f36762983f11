#pragma once

#include "core/recipe/step_type.h"

namespace noctis {

/// Settings of the patch step. Units and ranges are declared in patch.cpp.
struct PatchSettings {
    FilePath picture{};
    std::string layer{};  ///< a pass of its file; empty: its picture
};

StepType patchStep();

}  // namespace noctis
