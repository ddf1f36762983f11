#include "core/image/text_image.h"

#include "core/image/error.h"
#include "core/image/shipped.h"

#include <algorithm>

#include <OpenImageIO/imagebuf.h>
#include <OpenImageIO/imagebufalgo.h>
#include <fmt/format.h>

namespace noctis {

namespace {

constexpr int kMargin = 4;
constexpr int kLargest = 16384;  ///< px, of either side

/// The rows and columns that have any ink.
OIIO::ROI inkOf(const float* pixels, int width, int height) {
    OIIO::ROI ink(kLargest, 0, kLargest, 0, 0, 1, 0, 1);
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x)
            if (pixels[std::ptrdiff_t{width} * y + x] > 0.0F) {
                ink.xbegin = std::min(ink.xbegin, x);
                ink.xend = std::max(ink.xend, x + 1);
                ink.ybegin = std::min(ink.ybegin, y);
                ink.yend = std::max(ink.yend, y + 1);
            }
    return ink;
}

}  // namespace

Image textImage(const std::string& text, const std::filesystem::path& font, int pixelsPerLine) {
    const std::string file =
        (font.empty() ? shippedData("fonts/NoctisSans-Medium.otf") : font).string();
    if (!std::filesystem::is_regular_file(file))
        throw Error(ErrorCode::FileAccess, fmt::format("{}: no such font; choose another", file));
    const OIIO::ROI size = OIIO::ImageBufAlgo::text_size(text, pixelsPerLine, file);
    if (!size.defined() || size.width() < 1 || size.height() < 1) {
        if (text.find_first_not_of(" \n\t") == std::string::npos)
            return {};
        throw Error(ErrorCode::FileAccess,
                    fmt::format("{} can't be used as a font; choose another", file));
    }
    if (size.width() > kLargest || size.height() > kLargest)
        throw Error(ErrorCode::TooLarge, "the text is too long");
    OIIO::ImageBuf buffer(OIIO::ImageSpec(size.width() + 2 * kMargin, size.height() + 2 * kMargin,
                                          1, OIIO::TypeDesc::FLOAT));
    OIIO::ImageBufAlgo::zero(buffer);
    const float white[] = {1.0F};
    if (!OIIO::ImageBufAlgo::render_text(buffer, kMargin - size.xbegin, kMargin - size.ybegin, text,
                                         pixelsPerLine, file, white))
        throw Error(ErrorCode::FileAccess,
                    fmt::format("{} can't be used as a font; choose another", file));
    const auto* pixels = static_cast<const float*>(buffer.localpixels());
    const int width = buffer.spec().width;
    const OIIO::ROI ink = inkOf(pixels, width, buffer.spec().height);
    if (ink.xend <= ink.xbegin)
        return {};
    Image image(ink.width(), ink.height(), {"Y"});
    float* to = image.editPlane(0);
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x)
            to[image.rowStride() * y + x] = std::clamp(
                pixels[std::ptrdiff_t{width} * (y + ink.ybegin) + x + ink.xbegin], 0.0F, 1.0F);
    return image;
}

}  // namespace noctis
