#pragma once

#include "core/recipe/recipe.h"
#include "core/settings/hash.h"

namespace noctis {

/// The longest run of pixels that is worked at once: it stays in the first-level cache.
inline constexpr int kRunLength = 1024;

/// What a mask is made from.
struct MaskInput {
    const Catalogue& catalogue;
    const WorkingFrame& frame;  ///< the step's input
    ResultCache& cache;         ///< of what is rasterised
    std::uint64_t passesKey;    ///< another one for other passes
    std::uint64_t pictureKey;   ///< another one for another picture
};

/// Whether the picture must be there as a whole before the mask can be made.
bool needsWholePicture(const Where& plain, const Catalogue& catalogue);

/// Whether the colours of the step's input count at all.
bool readsPicture(const Where& plain, const Catalogue& catalogue);

/// A plain Where made ready: criteria of a pixel by the run, the rest rasterised once and kept.
/// Range    0..1; runs of at most kRunLength.
/// Errors   Error(MissingPass), Error(BadSetting).
/// Threads  the result is safe to call from any; same bits for any number.
MaskFunction maskOf(const Where& plain, const MaskInput& input, const RunContext& run);

/// The whole mask as one channel.
Image maskImage(const Where& plain, const MaskInput& input, const RunContext& run);

/// Grows (or for less than 0 shrinks) what a mask covers by a disc of that many pixels, then blurs it by
/// a Gaussian of that sigma.
Image spread(const Image& mask, float growPixels, float softenPixels, const RunContext& run);

void addToHash(Hash& hash, const Where& where);

}  // namespace noctis
