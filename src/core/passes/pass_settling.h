#pragma once

#include "core/passes/pass_file.h"

#include <string>
#include <vector>

namespace noctis {

// What is settled when all files of a frame are read, or one of its passes is read otherwise.

/// Names of passes of directions that no file says the reading of.
using OpenNormals = std::vector<std::string>;

bool isDirection(PassKind kind);

/// Foreign normals, by their values and by depth where there is one.
void settleOpenNormals(PassSet& set, const OpenNormals& open, const ReadingMap& corrections);

/// Where a foreign picture has no alpha, what depth leaves empty is not covered.
void deriveCoverage(PassSet& set);

}  // namespace noctis
