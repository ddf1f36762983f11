#pragma once

#include "core/image/camera.h"
#include "core/image/image.h"
#include "core/image/image_file.h"

#include <optional>
#include <string>

namespace noctis {

/// How a foreign file codes depth.
enum class DepthCoding {
    Metres,      ///< value * scale
    Normalised,  ///< 0..1 linearly between near and far
    Inverse,     ///< 0..1 linearly in 1/depth between near and far
    Projected,   ///< a graphics card's depth buffer with near and far, 0 at near unless nearBright
};

/// How the values of a depth pass become planar metres. Decided once, on import.
struct Interpretation {
    DepthCoding coding = DepthCoding::Metres;
    float scale = 1.0F;          ///< m per unit, for Metres
    float nearDistance = 0.5F;   ///< m, for the other codings
    float farDistance = 100.0F;  ///< m
    bool nearBright = false;     ///< the bright end is near; for Projected: reversed
    bool radial = false;         ///< measured from the camera's point rather than along its axis
    float backgroundFrom =
        kNothingHit;     ///< stored values from here on (towards far) are nothing hit
    std::string reason;  ///< why this was guessed; empty when it was given or corrected

    bool operator==(const Interpretation&) const = default;
};

std::string_view depthCodingName(DepthCoding coding);
std::optional<DepthCoding> depthCodingNamed(std::string_view name);

/// "metres", "normalised 0.5 to 100 m, near bright, radial" and so on.
std::string describe(const Interpretation& interpretation);

/// One stored value in metres, planar or radial as it was stored; +inf for the background.
/// Not-a-number and what can't be a distance become +inf too.
float depthFromStored(float stored, const Interpretation& interpretation) noexcept;

/// The inverse of depthFromStored, for what is written to integer files.
float storedFromDepth(float depth, const Interpretation& interpretation) noexcept;

/// A whole pass as planar metres.
/// Shape    stored: W x H x 1 or more (the first channel counts); the result W x H x 1, named Z.
Image depthFromStored(const Image& stored, const Interpretation& interpretation,
                      const Camera& camera);

/// The likeliest reading of a depth pass, with the reason, from its values and the file's metadata.
Interpretation guessInterpretation(const Image& stored, SampleType type,
                                   const Attributes& attributes, bool namedRadial);

}  // namespace noctis
