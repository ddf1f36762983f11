#pragma once

#include "core/recipe/frame_context.h"

namespace noctis {

/// For pictures that are laid pixel on pixel.
/// Errors   Error(ShapeMismatch), with both sizes, if a file's picture hasn't the frame's size.
void requireFrameSize(const std::filesystem::path& file, int width, int height,
                      const FrameContext& context);

}  // namespace noctis
