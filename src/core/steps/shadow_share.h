#pragma once

#include "core/image/run_context.h"
#include "core/recipe/working_frame.h"

namespace noctis {

/// The pass that a setting names as a shadow.
PassName shadowPass(const std::string& name);

/// How much each pixel is in the shadow of a pass, 0 to 1, blurred by so many pixels of the full picture. Invalid values
/// are in none.
/// Errors   Error(MissingPass).
Image shadowShare(const WorkingFrame& frame, const PassName& name, float softness,
                  const RunContext& run);

}  // namespace noctis
