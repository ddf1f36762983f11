#pragma once

#include "core/image/image.h"

#include <filesystem>
#include <string>

namespace noctis {

/// A text as one channel, Y: how much of each pixel is covered, cropped to its ink. Lines end with \n.
/// An empty font is the application's own.
/// Errors   Error(FileAccess) for a font that can't be read; empty for a text without ink.
Image textImage(const std::string& text, const std::filesystem::path& font, int pixelsPerLine);

}  // namespace noctis
