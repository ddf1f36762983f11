#include "core/steps/placed_picture.h"

#include "core/image/error.h"
#include "core/image/resample.h"
#include "core/image/tiles.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <opencv2/imgproc.hpp>

namespace noctis {

namespace {

/// With an alpha, which is 1 where the picture has none.
Image withAlpha(const Image& picture) {
    Image out = picture.select(
        {0, std::min(1, picture.channels() - 1), std::min(2, picture.channels() - 1)},
        {"R", "G", "B"});
    out.append(picture.channels() > 3 ? picture.select({3}, {"A"})
                                      : Image(picture.width(), picture.height(), {"A"}, 1.0F));
    return out;
}

float turnAt(const V2f& a, const V2f& b, const V2f& c) {
    return (b.x - a.x) * (c.y - b.y) - (b.y - a.y) * (c.x - b.x);
}

std::array<V2f, 4> quadOf(const PlaceList& corners) {
    if (corners.size() != 4)
        throw Error(ErrorCode::BadSetting,
                    "a picture is held by four corners, from its top left on clockwise");
    std::array<V2f, 4> quad;
    std::copy_n(corners.begin(), 4, quad.begin());
    for (std::size_t i = 0; i < 4; ++i)
        if (!(turnAt(quad.at(i), quad.at((i + 1) % 4), quad.at((i + 2) % 4)) > 1e-3F))
            throw Error(ErrorCode::BadSetting,
                        "the corners cross; they go from the top left on clockwise");
    return quad;
}

/// Bilinear, of the picture's four planes; at its border that goes on.
class Sampled {
public:
    explicit Sampled(const Image& image)
        : m_right(image.width() - 1), m_lowest(image.height() - 1), m_stride(image.rowStride()) {
        for (int c = 0; c < 4; ++c)
            m_planes.at(static_cast<std::size_t>(c)) = image.plane(c);
    }
    [[nodiscard]] std::array<float, 4> at(float x, float y) const noexcept {
        const float left = std::floor(x);
        const float top = std::floor(y);
        const float fx = x - left;
        const float fy = y - top;
        const int x0 = std::clamp(static_cast<int>(left), 0, m_right);
        const int x1 = std::clamp(static_cast<int>(left + 1.0F), 0, m_right);
        const std::ptrdiff_t y0 = m_stride * std::clamp(static_cast<int>(top), 0, m_lowest);
        const std::ptrdiff_t y1 = m_stride * std::clamp(static_cast<int>(top + 1.0F), 0, m_lowest);
        std::array<float, 4> out;
        for (std::size_t c = 0; c < 4; ++c) {
            const float* plane = m_planes[c];
            const float above = plane[y0 + x0] + fx * (plane[y0 + x1] - plane[y0 + x0]);
            const float below = plane[y1 + x0] + fx * (plane[y1 + x1] - plane[y1 + x0]);
            out[c] = above + fy * (below - above);
        }
        return out;
    }

private:
    int m_right;
    int m_lowest;
    std::ptrdiff_t m_stride;
    std::array<const float*, 4> m_planes{};
};

}  // namespace

PlaceList fillingCorners(const Image& picture, int width, int height, float scale) {
    const auto w = static_cast<float>(width);
    const auto h = static_cast<float>(height);
    const auto own = V2f(static_cast<float>(picture.width()), static_cast<float>(picture.height()));
    const V2f half = own * (0.5F * scale * std::max(w / own.x, h / own.y));
    const V2f middle(0.5F * w, 0.5F * h);
    return {middle - half, middle + V2f(half.x, -half.y), middle + half,
            middle + V2f(-half.x, half.y)};
}

Image placedPicture(const Image& picture, int width, int height, const PlaceList& corners,
                    const RunContext& run) {
    const std::array<V2f, 4> quad =
        quadOf(corners.empty() ? fillingCorners(picture, width, height) : corners);
    Image from = withAlpha(picture);
    const float across = std::max((quad[1] - quad[0]).length(), (quad[2] - quad[3]).length());
    const float down = std::max((quad[3] - quad[0]).length(), (quad[2] - quad[1]).length());
    const float smaller = std::min(static_cast<float>(from.width()) / std::max(across, 1.0F),
                                   static_cast<float>(from.height()) / std::max(down, 1.0F));
    const int factor = smaller >= 1.5F ? static_cast<int>(std::lround(smaller)) : 1;
    // Of its own pixels, so many make one; the last ones may be fewer.
    const float w = static_cast<float>(from.width()) / static_cast<float>(factor);
    const float h = static_cast<float>(from.height()) / static_cast<float>(factor);
    if (factor > 1)
        from = shrinkByMean(from, factor, run);
    std::array<cv::Point2f, 4> places;
    for (std::size_t i = 0; i < 4; ++i)
        places.at(i) = {quad.at(i).x, quad.at(i).y};
    const std::array<cv::Point2f, 4> own{cv::Point2f(0, 0), cv::Point2f(w, 0), cv::Point2f(w, h),
                                         cv::Point2f(0, h)};
    const cv::Matx33d map(cv::getPerspectiveTransform(places.data(), own.data()));
    Image out(width, height, {"R", "G", "B", "A"});
    std::array<float*, 4> to{out.editPlane(0), out.editPlane(1), out.editPlane(2),
                             out.editPlane(3)};
    const bool ends = !corners.empty();
    const Sampled sampled(from);
    forEachBand(height, kBandHeight, run, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < width; ++x) {
                const double px = x + 0.5;
                const double py = y + 0.5;
                const double away = map(2, 0) * px + map(2, 1) * py + map(2, 2);
                if (!(away > 1e-9))
                    continue;
                const auto u =
                    static_cast<float>((map(0, 0) * px + map(0, 1) * py + map(0, 2)) / away);
                const auto v =
                    static_cast<float>((map(1, 0) * px + map(1, 1) * py + map(1, 2)) / away);
                float within = 1.0F;
                if (ends) {
                    // A pixel of the frame is so many of the picture: the border covers pixels by their part.
                    const auto wide = static_cast<float>(
                        std::abs(map(0, 0) - map(2, 0) * static_cast<double>(u)) / away +
                        std::abs(map(0, 1) - map(2, 1) * static_cast<double>(u)) / away);
                    const auto high = static_cast<float>(
                        std::abs(map(1, 0) - map(2, 0) * static_cast<double>(v)) / away +
                        std::abs(map(1, 1) - map(2, 1) * static_cast<double>(v)) / away);
                    const auto part = [](float place, float size, float pixel) {
                        const float inside = std::min(place, size - place);
                        return std::clamp(inside / std::max(pixel, 1e-6F) + 0.5F, 0.0F, 1.0F);
                    };
                    within = part(u, w, wide) * part(v, h, high);
                }
                if (within <= 0.0F)
                    continue;
                const std::array<float, 4> colour = sampled.at(u - 0.5F, v - 0.5F);
                for (std::size_t c = 0; c < 4; ++c)
                    to[c][out.rowStride() * y + x] = within * colour[c];
            }
    });
    return out;
}

}  // namespace noctis
