#pragma once

#include "core/passes/pass_set.h"
#include "core/relief/height_field.h"

namespace noctis {

/// What a height map agrees with, or contradicts.
struct Agreement {
    float correlation = 0.0F;  ///< -1 upside down .. 1; of slopes
    const char* with = "";     ///< "normals", "depth" or "light"
};

/// How the map's slopes agree with what a frame of the same pixels shows: its normals, or else its depth, or
/// else its light, which mostly comes from above. None where the frame has none of them or is of another shape.
std::optional<Agreement> agreementWith(const PassSet& frame, const HeightField& field);
/// Whether that means that hills and valleys are swapped.
bool isUpsideDown(const Agreement& agreement) noexcept;
/// The message for such a map.
std::string upsideDownText(const Agreement& agreement);

}  // namespace noctis
