#pragma once

#include "core/recipe/recipe.h"
#include "core/settings/hash.h"

namespace noctis {

/// The longest run of pixels processed at once; it stays in the first-level cache.
inline constexpr int kRunLength = 1024;

/// Takes a mask of one channel behind the lens: R G B and, where the picture has it, A. key: of all that the mask
/// is made from.
using MaskCarrier =
    std::function<Image(const Image& mask, std::uint64_t key, const RunContext& run)>;

/// What a mask is made from.
struct MaskInput {
    const Catalogue& catalogue;
    /// The step's input; its passes are those from before the first step that moved them.
    WorkingFrame frame;
    ResultCache& cache;        ///< of what is rasterised
    std::uint64_t passesKey;   ///< changes with the passes
    std::uint64_t pictureKey;  ///< changes with the picture
    MaskCarrier carry{};       ///< set for steps behind one that moves light
};

/// Whether a mask is made from passes alone: those go through the lens, while colours are read behind it and shapes
/// are drawn there.
bool isOfPasses(const Where& plain, const Catalogue& catalogue);

/// Whether any part of it is. Such a mask differs by channel behind the lens.
bool hasPartOfPasses(const Where& plain, const Catalogue& catalogue);

/// Whether the mask needs the whole picture first.
bool needsWholePicture(const Where& plain, const Catalogue& catalogue);

/// Whether the mask depends on the colours of the step's input.
bool readsPicture(const Where& plain, const Catalogue& catalogue);

/// A prepared Where: per-pixel criteria run by run, the rest rasterised once and kept.
/// Range    0..1; runs of at most kRunLength.
/// Errors   Error(MissingPass), Error(BadSetting).
/// Threads  the result is safe to call from any; same bits for any number.
MaskFunction maskOf(const Where& plain, const MaskInput& input, const RunContext& run);

/// The whole mask: one channel, or behind the lens the picture's where they differ.
Image maskPlanes(const Where& plain, const MaskInput& input, const RunContext& run);

/// The whole mask as one channel; of one that differs by channel, its luminance.
Image maskImage(const Where& plain, const MaskInput& input, const RunContext& run);

/// Grows (or for less than 0 shrinks) what a mask covers by a disc of that many pixels, then blurs it by
/// a Gaussian of that sigma.
Image grownAndSoftened(const Image& mask, float growPixels, float softenPixels,
                       const RunContext& run);

void addToHash(Hash& hash, const Where& where);

}  // namespace noctis
