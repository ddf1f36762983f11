#include "core/dispatch/framing.h"

#include "core/image/error.h"
#include "core/image/resample.h"
#include "core/settings/number_list.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include <fmt/format.h>

namespace noctis {

namespace {

[[noreturn]] void refuse(const std::string& text) { throw Error(ErrorCode::BadSetting, text); }

/// The crop of a picture at 1/factor: whole pixels, at least one.
Tile cropAt(const Tile& crop, int factor, int width, int height) {
    Tile at{crop.x0 / factor, crop.y0 / factor, (crop.x1 + factor - 1) / factor,
            (crop.y1 + factor - 1) / factor};
    at.x1 = std::min(at.x1, width);
    at.y1 = std::min(at.y1, height);
    at.x0 = std::min(at.x0, at.x1 - 1);
    at.y0 = std::min(at.y0, at.y1 - 1);
    return at;
}

Image cropped(const Image& picture, const Tile& part) {
    std::vector<std::string> names;
    for (int c = 0; c < picture.channels(); ++c)
        names.push_back(picture.channelName(c));
    Image out = Image::unset(part.width(), part.height(), std::move(names));
    for (int c = 0; c < out.channels(); ++c) {
        float* to = out.editPlane(c);
        for (int y = 0; y < out.height(); ++y)
            std::copy_n(picture.row(c, part.y0 + y) + part.x0, out.width(),
                        to + out.rowStride() * y);
    }
    return out;
}

std::pair<int, int> sizeOf(int width, int height, const Framing& framing) {
    const auto scaled = [](int side, int of, int to) {
        return std::max(1, static_cast<int>(std::lround(static_cast<double>(side) * to / of)));
    };
    int w = width;
    int h = height;
    if (framing.longest > 0) {
        w = width >= height ? framing.longest : scaled(width, height, framing.longest);
        h = width >= height ? scaled(height, width, framing.longest) : framing.longest;
    } else if (framing.width > 0 || framing.height > 0) {
        w = framing.width > 0 ? framing.width : scaled(width, height, framing.height);
        h = framing.height > 0 ? framing.height : scaled(height, width, framing.width);
    }
    if (w > kMaximumSide || h > kMaximumSide)
        refuse(
            fmt::format("a picture of {} x {} px can't be written; no side may be longer than {}",
                        w, h, kMaximumSide));
    return {w, h};
}

void requireWithin(const Tile& crop, int width, int height) {
    if (crop.x0 < 0 || crop.y0 < 0 || crop.width() < 1 || crop.height() < 1 || crop.x1 > width ||
        crop.y1 > height)
        refuse(fmt::format("the crop of {} x {} px at {}, {} isn't within the picture, which is {} "
                           "x {} px",
                           crop.width(), crop.height(), crop.x0, crop.y0, width, height));
}

/// Cubic interpolation without what it adds beyond the samples around: bright lamps would get black rings.
Image enlarged(const Image& picture, int width, int height) {
    Image out = resized(picture, width, height, Resampling::Cubic);
    for (int c = 0; c < out.channels(); ++c) {
        float* to = out.editPlane(c);
        for (int y = 0; y < height; ++y) {
            const double fy = (y + 0.5) * picture.height() / height - 0.5;
            const int y0 = std::clamp(static_cast<int>(std::floor(fy)), 0, picture.height() - 1);
            const int y1 = std::min(y0 + 1, picture.height() - 1);
            for (int x = 0; x < width; ++x) {
                const double fx = (x + 0.5) * picture.width() / width - 0.5;
                const int x0 = std::clamp(static_cast<int>(std::floor(fx)), 0, picture.width() - 1);
                const int x1 = std::min(x0 + 1, picture.width() - 1);
                const auto [least, most] = std::minmax({picture(x0, y0, c), picture(x1, y0, c),
                                                        picture(x0, y1, c), picture(x1, y1, c)});
                float& value = to[out.rowStride() * y + x];
                value = std::clamp(value, least, most);
            }
        }
    }
    return out;
}

Image resizedTo(const Image& picture, int width, int height, bool bySample) {
    if (width == picture.width() && height == picture.height())
        return picture;
    if (bySample)
        return resized(picture, width, height, Resampling::Nearest);
    // Each direction by what it needs: one side may become longer, the other shorter.
    const int w = std::min(width, picture.width());
    const int h = std::min(height, picture.height());
    const Image small = w < picture.width() || h < picture.height()
                            ? resized(picture, w, h, Resampling::Area)
                            : picture;
    return w < width || h < height ? enlarged(small, width, height) : small;
}

void addBars(Image& picture, float ratio) {
    const int w = picture.width();
    const int h = picture.height();
    const double seen = static_cast<double>(ratio);
    const int across = std::clamp(static_cast<int>(std::lround(h * seen)), 1, w);
    const int down = std::clamp(static_cast<int>(std::lround(w / seen)), 1, h);
    const Tile inside{(w - across) / 2, (h - down) / 2, (w - across) / 2 + across,
                      (h - down) / 2 + down};
    const int alpha = picture.channel("A");
    for (int c = 0; c < picture.channels(); ++c) {
        const float value = c == alpha ? 1.0F : 0.0F;
        float* plane = picture.editPlane(c);
        for (int y = 0; y < h; ++y) {
            float* row = plane + picture.rowStride() * y;
            if (y < inside.y0 || y >= inside.y1) {
                std::fill_n(row, w, value);
                continue;
            }
            std::fill(row, row + inside.x0, value);
            std::fill(row + inside.x1, row + w, value);
        }
    }
}

}  // namespace

Image framed(const Image& picture, const Framing& framing, int factor) {
    Image out = picture;
    if (framing.crop) {
        // At a part of the size, the last blocks may be larger than what is left of the full picture.
        requireWithin(*framing.crop, picture.width() * factor, picture.height() * factor);
        out = cropped(out, cropAt(*framing.crop, factor, out.width(), out.height()));
    }
    const auto [w, h] = sizeOf(out.width(), out.height(), framing);
    out = resizedTo(out, w, h, framing.bySample);
    if (framing.letterbox > 0.0F)
        addBars(out, framing.letterbox);
    return out;
}

Tile cropFromText(const std::string& text) {
    const auto numbers = numbersBetween<int>(text, ',');
    if (!numbers || numbers->size() != 4 || (*numbers)[0] < 0 || (*numbers)[1] < 0 ||
        (*numbers)[2] < 1 || (*numbers)[3] < 1 || (*numbers)[0] > kMaximumSide ||
        (*numbers)[1] > kMaximumSide || (*numbers)[2] > kMaximumSide ||
        (*numbers)[3] > kMaximumSide)
        refuse("a crop is X,Y,W,H in pixels of the full picture, as 100,50,640,360");
    return {(*numbers)[0], (*numbers)[1], (*numbers)[0] + (*numbers)[2],
            (*numbers)[1] + (*numbers)[3]};
}

void sizeFromText(const std::string& text, Framing& framing) {
    const auto numbers = numbersBetween<int>(text, 'x');
    const bool within = numbers && std::ranges::all_of(*numbers, [](int side) {
                            return side >= 1 && side <= kMaximumSide;
                        });
    if (!within || numbers->size() > 2)
        refuse(fmt::format("a size is WxH, or one number for the longer side; each from 1 to {}",
                           kMaximumSide));
    framing.longest = numbers->size() == 1 ? numbers->front() : 0;
    framing.width = numbers->size() == 2 ? numbers->front() : 0;
    framing.height = numbers->size() == 2 ? numbers->back() : 0;
}

float letterboxFromText(const std::string& text) {
    const auto numbers = numbersBetween<float>(text, ':');
    float ratio = 0.0F;
    if (numbers && numbers->size() == 1)
        ratio = numbers->front();
    else if (numbers && numbers->size() == 2 && numbers->back() > 0.0F)
        ratio = numbers->front() / numbers->back();
    if (!(ratio >= 0.01F && ratio <= 100.0F))
        refuse("a letterbox is width over height, as 2.39 or 16:9");
    return ratio;
}

}  // namespace noctis
