#pragma once

#include "core/passes/pass_file.h"

#include <string>
#include <vector>

namespace noctis {

// What is decided once all files of a frame are read, or when one of its passes is read differently.

/// Names of direction passes whose files don't say how to read them.
using OpenNormals = std::vector<std::string>;

bool isDirection(PassKind kind);

/// Reads foreign normals by their values, and by depth if there is one.
void settleOpenNormals(PassSet& set, const OpenNormals& open, const ReadingMap& corrections);

/// If a foreign picture has no alpha, coverage is where depth isn't empty.
void deriveCoverage(PassSet& set);

}  // namespace noctis
