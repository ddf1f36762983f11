#pragma once

#include "core/image/image.h"

#include <string>

namespace noctis {

class Typeface;

/// A text as one channel, Y: how much of each pixel is covered, cropped to its ink. Lines end with \n; the text is
/// UTF-8. Empty for a text without ink.
/// Errors   Error(BadFile) for a damaged letter; Error(TooLarge).
Image textImage(const std::string& text, const Typeface& typeface, int pixelsPerLine);

}  // namespace noctis
