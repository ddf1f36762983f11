#pragma once

#include "core/relief/relief_type.h"

namespace noctis {

// surface_source.cpp: of a depth or position pass. Seen in parallel, cell for pixel; in perspective, laid onto a plane.
ReliefSourceType depthSource();
ReliefSourceType positionSource();
// normal_source.cpp
ReliefSourceType normalSource();
// grey_source.cpp
ReliefSourceType greySource();

/// All of them, in the order they are offered.
const std::vector<ReliefSourceType>& reliefSources();
/// Errors   Error(UnknownName), naming those there are.
const ReliefSourceType& reliefSource(std::string_view id);

}  // namespace noctis
