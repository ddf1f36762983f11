#include "core/steps/frame_size.h"

#include "core/image/error.h"

#include <fmt/format.h>

namespace noctis {

void requireFrameSize(const std::filesystem::path& file, int width, int height,
                      const FrameContext& context) {
    if (width != context.fullWidth() || height != context.fullHeight())
        throw Error(ErrorCode::ShapeMismatch,
                    fmt::format("{} has {} × {} pixels and the frame {} × {}; render it in the "
                                "frame's size",
                                file.filename().string(), width, height, context.fullWidth(),
                                context.fullHeight()));
}

}  // namespace noctis
