#pragma once

#include "core/relief/integrate.h"

namespace noctis {

/// The slopes of unit normals in camera axes; one that is empty, or steeper than 89.4 degrees, has none.
/// Shape    normals: X Y Z.
Slopes slopesOfNormals(const Image& normals, const RunContext& run = {});

}  // namespace noctis
