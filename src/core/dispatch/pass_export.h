#pragma once

#include "core/dispatch/framing.h"
#include "core/passes/pass_file.h"

#include <optional>

namespace noctis {

/// A span of distances that becomes the greys from black to white.
struct GreySpan {
    float nearest = 0.0F;   ///< m, or the pass's own unit
    float farthest = 0.0F;  ///< more than nearest
    bool brightNear = false;
    bool operator==(const GreySpan&) const = default;
};

/// How a pass is stored.
struct PassStorage {
    /// 8, 16, 32, or 0 for what the pass needs: in EXR floats for data, else the format's usual ones.
    int bits = 0;
    std::optional<GreySpan>
        span{};         ///< none: in its own unit; in 8 and 16 bits, between its own ends
    Framing framing{};  ///< see framedPasses
    bool operator==(const PassStorage&) const = default;
};

/// "NEAR,FAR". Errors: Error(BadSetting) unless 0 <= NEAR < FAR, both finite.
GreySpan greySpanFromText(const std::string& text);

/// Passes in another frame: pictures smoothly, data by the sample, lengths in pixels as those of the new size; bars are left
/// out. A part, or another shape, has no camera.
/// Errors   as framed.
PassSet framedPasses(const PassSet& set, const Framing& framing);

/// A pass as a grey between 0 and 1. What is nearer or farther than the span has the grey of its end, and nothing hit
/// that of the far end.
/// Shape    one channel, Y.
Image greysOf(const Image& pass, const GreySpan& span);

/// Writes one pass by the file's ending. Greys of a depth or distance say in metadata, and in a JSON file beside 8- and
/// 16-bit files, what they mean, so that Noctis reads metres again.
/// Errors   as writeImageFile; Error(BadSetting) for greys of a pass that has more than one value a pixel, or bits that
///          the format can't hold.
void exportPass(const std::filesystem::path& path, const PassSet& set, const Pass& pass,
                const PassStorage& storage = {});

}  // namespace noctis
