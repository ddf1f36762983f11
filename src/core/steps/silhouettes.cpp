#include "core/steps/silhouettes.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <cstdint>
#include <vector>

#include <opencv2/imgproc.hpp>

namespace noctis {

namespace {

constexpr float kJump = 0.03F;
constexpr float kJumpToAnother = 0.003F;
constexpr float kSteeper = 3.0F;

/// Whether depth ends between a pixel and its next one, of another object or not; opposite: that on the other side.
bool endsTowards(float here, float next, float opposite, bool another) noexcept {
    if (!std::isfinite(next))
        return next > 0.0F;
    if (another && next - here > kJumpToAnother * here)
        return true;
    const float slope = std::isfinite(opposite) ? std::abs(here - opposite) : 0.0F;
    return next - here > std::max(kJump * here, kSteeper * slope);
}

bool isEdge(const Image& depth, const Image& objects, int x, int y) noexcept {
    const float here = depth(x, y, 0);
    if (!std::isfinite(here))
        return false;
    const auto at = [&](int u, int v) {
        const bool inside = u >= 0 && u < depth.width() && v >= 0 && v < depth.height();
        return inside ? depth(u, v, 0) : here;
    };
    const auto isAnother = [&](int u, int v) {
        const bool inside = u >= 0 && u < depth.width() && v >= 0 && v < depth.height();
        return inside && !objects.empty() &&
               std::bit_cast<std::uint32_t>(objects(u, v, 0)) !=
                   std::bit_cast<std::uint32_t>(objects(x, y, 0));
    };
    constexpr std::array<std::array<int, 2>, 4> kWays{{{1, 0}, {-1, 0}, {0, 1}, {0, -1}}};
    return std::any_of(kWays.begin(), kWays.end(), [&](const std::array<int, 2>& way) {
        return endsTowards(here, at(x + way[0], y + way[1]), at(x - way[0], y - way[1]),
                           isAnother(x + way[0], y + way[1]));
    });
}

}  // namespace

Image nearSilhouettes(const Image& depth, float widthPixels, const Image& objects) {
    Image share(depth.width(), depth.height(), {"Y"});
    cv::Mat elsewhere(depth.height(), depth.width(), CV_8U);
    bool any = false;
    for (int y = 0; y < depth.height(); ++y)
        for (int x = 0; x < depth.width(); ++x) {
            const bool edge = isEdge(depth, objects, x, y);
            elsewhere.at<std::uint8_t>(y, x) = edge ? 0 : 255;
            any = any || edge;
        }
    if (!any)
        return share;
    cv::Mat distance;
    cv::Mat nearest;
    cv::distanceTransform(elsewhere, distance, nearest, cv::DIST_L2, cv::DIST_MASK_5,
                          cv::DIST_LABEL_PIXEL);
    const auto idAt = [&](int x, int y) {
        return objects.empty() ? 0U : std::bit_cast<std::uint32_t>(objects(x, y, 0));
    };
    std::vector<float> depths(1);       // of the edge of each label
    std::vector<std::uint32_t> ids(1);  // and what it is of
    for (int y = 0; y < depth.height(); ++y)
        for (int x = 0; x < depth.width(); ++x)
            if (elsewhere.at<std::uint8_t>(y, x) == 0) {
                const auto label = static_cast<std::size_t>(nearest.at<int>(y, x));
                depths.resize(std::max(depths.size(), label + 1));
                depths[label] = depth(x, y, 0);
                ids.resize(depths.size());
                ids[label] = idAt(x, y);
            }
    float* to = share.editPlane(0);
    for (int y = 0; y < depth.height(); ++y)
        for (int x = 0; x < depth.width(); ++x) {
            const float here = depth(x, y, 0);
            const auto label = static_cast<std::size_t>(nearest.at<int>(y, x));
            const float behind = ids[label] == idAt(x, y) ? kJump : kJumpToAnother;
            if (std::isfinite(here) && here <= depths[label] * (1.0F + behind))
                to[share.rowStride() * y + x] =
                    std::max(0.0F, 1.0F - distance.at<float>(y, x) / std::max(widthPixels, 1.0F));
        }
    return share;
}

}  // namespace noctis
