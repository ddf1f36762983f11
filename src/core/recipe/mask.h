#pragma once

#include "core/recipe/recipe.h"
#include "core/settings/hash.h"

namespace noctis {

/// The longest run of pixels processed at once; it stays in the first-level cache.
inline constexpr int kRunLength = 1024;

/// What a mask is made from.
struct MaskInput {
    const Catalogue& catalogue;
    const WorkingFrame& frame;  ///< the step's input
    ResultCache& cache;         ///< of what is rasterised
    std::uint64_t passesKey;    ///< changes with the passes
    std::uint64_t pictureKey;   ///< changes with the picture
};

/// Whether the mask needs the whole picture first.
bool needsWholePicture(const Where& plain, const Catalogue& catalogue);

/// Whether the mask depends on the colours of the step's input.
bool readsPicture(const Where& plain, const Catalogue& catalogue);

/// A prepared Where: per-pixel criteria run by run, the rest rasterised once and kept.
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
