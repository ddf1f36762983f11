#include "core/steps/inside_colour.h"

#include "core/image/tiles.h"

#include <algorithm>
#include <atomic>
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

void edgeRow(const Image& matte, int y, float* edge) noexcept {
    const int last = matte.width() - 1;
    const float* row = matte.row(0, y);
    const float* above = matte.row(0, std::max(0, y - 1));
    const float* below = matte.row(0, std::min(matte.height() - 1, y + 1));
    const auto at = [&](int left, int x, int right) {
        const float least = std::min(std::min(row[x], std::min(row[left], row[right])),
                                     std::min(above[x], below[x]));
        edge[x] = least < kWhole ? 1.0F : 0.0F;
    };
    at(0, 0, std::min(1, last));
    for (int x = 1; x < last; ++x)
        at(x - 1, x, x + 1);
    if (last > 0)
        at(last - 1, last, last);
}

Image insideColour(const Image& picture, const Image& alpha, const Image& matte) {
    const RunContext whole;
    cv::Mat outside(picture.height(), picture.width(), CV_8U);
    std::atomic<bool> any = false;
    forEachBand(picture.height(), kBandHeight, whole, [&](int y0, int y1) {
        std::vector<float> edge(static_cast<std::size_t>(picture.width()));
        for (int y = y0; y < y1; ++y) {
            edgeRow(matte, y, edge.data());
            const float* covered = alpha.empty() ? nullptr : alpha.row(0, y);
            std::uint8_t* to = outside.ptr<std::uint8_t>(y);
            bool found = false;
            for (int x = 0; x < picture.width(); ++x) {
                const bool inside = edge[static_cast<std::size_t>(x)] == 0.0F &&
                                    (covered == nullptr || covered[x] >= kWhole);
                to[x] = inside ? 0 : 255;
                found = found || inside;
            }
            if (found)
                any = true;
        }
    });
    if (!any)
        return {};
    cv::Mat distance;
    cv::Mat nearest;
    cv::distanceTransform(outside, distance, nearest, cv::DIST_L2, cv::DIST_MASK_5,
                          cv::DIST_LABEL_PIXEL);
    // Each pixel inside has a label of its own, so that bands write to different places.
    std::vector<cv::Point> places(static_cast<std::size_t>(outside.total()) + 1);
    forEachBand(picture.height(), kBandHeight, whole, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < picture.width(); ++x)
                if (outside.at<std::uint8_t>(y, x) == 0)
                    places[static_cast<std::size_t>(nearest.at<int>(y, x))] = {x, y};
    });
    Image out = picture.select({0, 1, 2}, {"R", "G", "B"});
    float* const planes[3] = {out.editPlane(0), out.editPlane(1), out.editPlane(2)};
    forEachBand(picture.height(), kBandHeight, whole, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < picture.width(); ++x) {
                if (outside.at<std::uint8_t>(y, x) == 0)
                    continue;
                const cv::Point from = places[static_cast<std::size_t>(nearest.at<int>(y, x))];
                float mean[3];
                meanAround(picture, alpha, outside, from.x, from.y, mean);
                for (int c = 0; c < 3; ++c)
                    planes[c][out.rowStride() * y + x] = mean[c];
            }
    });
    return out;
}

}  // namespace noctis
