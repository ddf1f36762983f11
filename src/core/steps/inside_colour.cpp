#include "core/steps/inside_colour.h"

#include <algorithm>
#include <cstdint>
#include <vector>

#include <opencv2/imgproc.hpp>

namespace noctis {

namespace {

constexpr float kWhole = 0.999F;

/// The mean of the inside colours around an inside pixel: one pixel's noise would become a streak.
void meanAround(const Image& picture, const Image& alpha, const cv::Mat& outside, int x, int y,
                float (&mean)[3]) {
    int count = 0;
    std::fill(std::begin(mean), std::end(mean), 0.0F);
    for (int v = std::max(0, y - 1); v <= std::min(picture.height() - 1, y + 1); ++v)
        for (int u = std::max(0, x - 1); u <= std::min(picture.width() - 1, x + 1); ++u) {
            if (outside.at<std::uint8_t>(v, u) != 0)
                continue;
            ++count;
            for (int c = 0; c < 3; ++c)
                mean[c] += picture(u, v, c) / (alpha.empty() ? 1.0F : alpha(u, v, 0));
        }
    for (float& value : mean)
        value /= static_cast<float>(std::max(count, 1));
}

}  // namespace

float edgeOf(const Image& matte, int x, int y) noexcept {
    const int left = std::max(0, x - 1);
    const int right = std::min(matte.width() - 1, x + 1);
    const int above = std::max(0, y - 1);
    const int below = std::min(matte.height() - 1, y + 1);
    const float least = std::min({matte(x, y, 0), matte(left, y, 0), matte(right, y, 0),
                                  matte(x, above, 0), matte(x, below, 0)});
    return least < kWhole ? 1.0F : 0.0F;
}

Image insideColour(const Image& picture, const Image& alpha, const Image& matte) {
    cv::Mat outside(picture.height(), picture.width(), CV_8U);
    bool any = false;
    for (int y = 0; y < picture.height(); ++y)
        for (int x = 0; x < picture.width(); ++x) {
            const bool inside =
                edgeOf(matte, x, y) == 0.0F && (alpha.empty() || alpha(x, y, 0) >= kWhole);
            outside.at<std::uint8_t>(y, x) = inside ? 0 : 255;
            any = any || inside;
        }
    if (!any)
        return {};
    cv::Mat distance;
    cv::Mat nearest;
    cv::distanceTransform(outside, distance, nearest, cv::DIST_L2, cv::DIST_MASK_5,
                          cv::DIST_LABEL_PIXEL);
    std::vector<cv::Point> places(1);  // of each label
    for (int y = 0; y < picture.height(); ++y)
        for (int x = 0; x < picture.width(); ++x)
            if (outside.at<std::uint8_t>(y, x) == 0) {
                const auto label = static_cast<std::size_t>(nearest.at<int>(y, x));
                places.resize(std::max(places.size(), label + 1));
                places[label] = {x, y};
            }
    Image out = picture.select({0, 1, 2}, {"R", "G", "B"});
    float* const planes[3] = {out.editPlane(0), out.editPlane(1), out.editPlane(2)};
    for (int y = 0; y < picture.height(); ++y)
        for (int x = 0; x < picture.width(); ++x) {
            if (outside.at<std::uint8_t>(y, x) == 0)
                continue;
            const cv::Point from = places[static_cast<std::size_t>(nearest.at<int>(y, x))];
            float mean[3];
            meanAround(picture, alpha, outside, from.x, from.y, mean);
            for (int c = 0; c < 3; ++c)
                planes[c][out.rowStride() * y + x] = mean[c];
        }
    return out;
}

}  // namespace noctis
