#include "core/image/text_image.h"

#include "core/image/error.h"
#include "core/image/typeface.h"
#include "core/image/utf8.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace noctis {

namespace {

constexpr int kLargest = 16384;  ///< px, of either side

/// A glyph with ink, its first pixel in the text.
struct PlacedGlyph {
    Typeface::Glyph glyph;
    int x;
    int y;
};

std::vector<PlacedGlyph> set(const std::string& text, const Typeface& typeface, int pixelsPerLine) {
    std::vector<PlacedGlyph> placed;
    float pen = 0.0F;
    int base = 0;
    unsigned before = 0;
    for (const char32_t character : charactersOf(text)) {
        if (character == U'\n') {
            pen = 0.0F;
            base += pixelsPerLine;
            before = 0;
            continue;
        }
        Typeface::Glyph glyph = typeface.glyph(character, pixelsPerLine);
        pen += before != 0 ? typeface.kerning(before, glyph.index) : 0.0F;
        before = glyph.index;
        const int x = static_cast<int>(std::lround(pen)) + glyph.left;
        pen += glyph.advance;
        if (std::abs(pen) > kLargest || base > kLargest)
            throw Error(ErrorCode::TooLarge, "the text is too long");
        if (!glyph.cover.empty())
            placed.push_back({std::move(glyph), x, base - glyph.top});
    }
    return placed;
}

}  // namespace

Image textImage(const std::string& text, const Typeface& typeface, int pixelsPerLine) {
    const std::vector<PlacedGlyph> placed = set(text, typeface, pixelsPerLine);
    if (placed.empty())
        return {};
    int left = kLargest;
    int right = -kLargest;
    int top = kLargest;
    int bottom = -kLargest;
    for (const PlacedGlyph& part : placed) {
        left = std::min(left, part.x);
        right = std::max(right, part.x + part.glyph.width);
        top = std::min(top, part.y);
        bottom = std::max(bottom, part.y + part.glyph.height);
    }
    if (right - left > kLargest || bottom - top > kLargest)
        throw Error(ErrorCode::TooLarge, "the text is too long");
    Image image(right - left, bottom - top, {"Y"});
    float* to = image.editPlane(0);
    for (const PlacedGlyph& part : placed)
        for (int y = 0; y < part.glyph.height; ++y)
            for (int x = 0; x < part.glyph.width; ++x) {
                float& pixel = to[image.rowStride() * (part.y - top + y) + part.x - left + x];
                const std::size_t at = static_cast<std::size_t>(y) * part.glyph.width + x;
                pixel = std::max(pixel, static_cast<float>(part.glyph.cover[at]) / 255.0F);
            }
    return image;
}

}  // namespace noctis
