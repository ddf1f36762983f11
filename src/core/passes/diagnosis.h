#pragma once

#include "core/passes/pass.h"
#include "core/passes/pass_reading.h"
#include "core/passes/pass_set.h"

#include <optional>
#include <string_view>

namespace noctis {

/// Looks at a pass as it came in and adds what an artist should know to its warnings, each with a remedy:
/// banding of 8 bits, edges blended by a filter, a constant pass, invalid numbers; but not what its reading has
/// corrected.
void addDiagnosis(Pass& pass, const PassReading& reading = {});

/// Warns of grey layers beside a picture whose names say nothing, with what their values look like: a second picture
/// they hardly are. Those whose reading says what they are aren't asked about.
void addKindDoubts(PassSet& set, const ReadingMap& readings = {});

/// What a reading can repair of what addDiagnosis() warns of.
enum class Repair { Bands, BlendedEdges, Gaps, Centimetres, IsDepth, IsOcclusion, IsCoverage };
/// The repair that settles a warning; none if no reading can.
std::optional<Repair> repairFor(std::string_view warning);
/// pass: as it is read now.
PassReading withRepair(PassReading reading, Repair repair, const Pass& pass);

/// The fraction of depth edges at which some pixel lies between the two surfaces, as filtering
/// leaves. About 0 for a centre-sampled pass.
float blendedEdgeFraction(const Image& depth);

}  // namespace noctis
