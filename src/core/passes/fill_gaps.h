#pragma once

#include "core/image/image.h"

namespace noctis {

/// A pass whose samples that are no numbers take the middle of the samples around them, gaps from their rims inwards.
/// All others stay bit for bit; infinity is a number here.
/// Shape    that of the image. A channel without any number stays as it is.
Image withoutGaps(const Image& image);

}  // namespace noctis
