#pragma once

#include "core/image/camera.h"
#include "core/image/tiles.h"

#include <optional>

namespace noctis {

struct PassSet;

/// What is around a step or a criterion when it is added by hand.
struct Surroundings {
    Surroundings(const PassSet& all,  // NOLINT: often there is nothing else
                 std::optional<V2f> clicked = {})
        : passes(all), place(clicked) {}

    const PassSet& passes;
    std::optional<V2f> place;  ///< px last clicked in the picture
    std::optional<Tile>
        part;  ///< px of the picture that were drawn for an action that asks for a part
};

/// The place clicked last, or the middle of the picture; px.
V2f placeIn(const Surroundings& around);

/// What is seen there, along the view, or where that is the sky, what half of the picture is nearer than; m, 0
/// without a depth pass.
float distanceIn(const Surroundings& around);

/// The point of the scene there, at that distance; the origin without a depth pass.
V3f pointIn(const Surroundings& around);

/// Metres from the lower to the upper edge of the picture at that distance; 0 where it isn't known.
float heightOfPicture(const Surroundings& around);

/// How bright a surface is that the picture shows lit: luminance that a tenth of what isn't sky exceeds; 0 without a
/// picture.
float lightIn(const Surroundings& around);

/// To two digits, as one would type it.
float roundDigits(float value);

/// Towards a light that shows form: from the viewer's upper left.
V3f besideViewer(const Surroundings& around);

}  // namespace noctis
