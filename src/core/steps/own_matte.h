#pragma once

#include "core/recipe/working_frame.h"

namespace noctis {

/// The picture's alpha; empty where it is opaque.
Image alphaOf(const WorkingFrame& frame);

/// What is covered by what was hit, 0 to 1: by the coverage pass, or else by where the depth pass is finite.
/// Errors   Error(MissingPass) if there is neither.
Image hitMatte(const WorkingFrame& frame);

/// The alpha where the picture has one, or else what was hit; all of it where neither is known.
Image ownMatte(const WorkingFrame& frame);

}  // namespace noctis
