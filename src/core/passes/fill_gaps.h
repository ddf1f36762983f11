#pragma once

#include "core/image/image.h"

namespace noctis {

/// A pass whose invalid samples take the median of the samples around them; gaps are filled from their rims
/// inwards. All other samples stay bit for bit; infinity counts as valid.
/// Shape    that of the image. A channel without any number stays as it is.
Image withoutGaps(const Image& image);

}  // namespace noctis
