#pragma once

#include "core/image/image.h"

namespace noctis {

/// Which numbers the filter mixed: distances, or one over them.
enum class FilteredIn { Depth, InverseDepth };

/// Depth whose edges were blended by a filter, each mixed pixel put on one of the two surfaces it mixes: the one it
/// was nearer to. What lies on a surface, however steep, stays bit for bit.
/// Shape    one channel, m; not finite is background, a side by itself.
Image snappedEdges(const Image& depth, FilteredIn filteredIn = FilteredIn::Depth);

}  // namespace noctis
