#pragma once

#include "core/image/image.h"
#include "core/image/tiles.h"

#include <optional>
#include <string>

namespace noctis {

/// What part of a picture goes out, and how large; in this order.
struct Framing {
    std::optional<Tile> crop;  ///< px of the full picture; none: all of it
    int width = 0;             ///< px; 0: as the height asks, or as it is
    int height = 0;
    int longest = 0;  ///< px, of the longer side, in the place of width and height; 0: as it is
    float letterbox =
        0.0F;               ///< width over height of what stays seen between black bars; 0: no bars
    bool bySample = false;  ///< resized by the nearest sample: pixel art and data
    bool operator==(const Framing&) const = default;
};

/// A picture so framed. factor: it is at 1/factor of the full size, and so is the crop.
/// Exact    every bit where nothing is asked for; bars are opaque black and of whole pixels.
/// Errors   Error(BadSetting) for a crop that isn't within the picture, or sides beyond kMaximumSide.
/// Source   made smaller by the mean of what a pixel covers, larger by bicubic interpolation without overshoot.
Image framed(const Image& picture, const Framing& framing, int factor = 1);

/// "X,Y,W,H" as a crop; "WxH" or "N" as a size; "R", "W:H" as a letterbox.
/// Errors   Error(BadSetting).
Tile cropFromText(const std::string& text);
void sizeFromText(const std::string& text, Framing& framing);
float letterboxFromText(const std::string& text);

}  // namespace noctis
