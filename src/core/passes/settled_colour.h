#pragma once

#include "core/image/image_file.h"

namespace noctis {

/// Scene-linear and associated, from what the file says of both.
Image settledColour(Image image, const FileInfo& info);

}  // namespace noctis
