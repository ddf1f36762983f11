#include "core/relief/field_filters.h"

#include "core/image/known_blur.h"
#include "core/image/tiles.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>
#include <vector>

#include <opencv2/imgproc.hpp>

namespace noctis {

namespace {

/// Heights with 0 in holes, and how much of each cell is known.
struct Weighted {
    cv::Mat sum;
    cv::Mat weight;
};

Weighted weighted(const Image& heights) {
    Weighted w{cv::Mat(heights.height(), heights.width(), CV_32F),
               cv::Mat(heights.height(), heights.width(), CV_32F)};
    forEachBand(heights.height(), kBandHeight, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y) {
            const float* from = heights.row(0, y);
            auto* sum = w.sum.ptr<float>(y);
            auto* weight = w.weight.ptr<float>(y);
            for (int x = 0; x < heights.width(); ++x) {
                const bool known = std::isfinite(from[x]);
                sum[x] = known ? from[x] : 0.0F;
                weight[x] = known ? 1.0F : 0.0F;
            }
        }
    });
    return w;
}

bool hasHoles(const Image& heights) {
    for (int y = 0; y < heights.height(); ++y) {
        const float* row = heights.row(0, y);
        for (int x = 0; x < heights.width(); ++x)
            if (!std::isfinite(row[x]))
                return true;
    }
    return false;
}

Image divided(const Weighted& w, const Image& like) {
    Image out = unsetHeights(like.width(), like.height());
    float* to = out.editPlane(0);
    forEachBand(like.height(), kBandHeight, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < like.width(); ++x)
                to[out.rowStride() * y + x] =
                    std::isfinite(like(x, y, 0))
                        ? w.sum.at<float>(y, x) / std::max(w.weight.at<float>(y, x), 1e-12F)
                        : kNotKnown;
    });
    return out;
}

// --- holes ---------------------------------------------------------------------------------------

struct Level {
    int width = 0;
    int height = 0;
    std::vector<float> z;
    std::vector<char> known;
    [[nodiscard]] std::size_t at(int x, int y) const noexcept {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(width) +
               static_cast<std::size_t>(x);
    }
};

Level coarser(const Level& fine) {
    Level half{(fine.width + 1) / 2, (fine.height + 1) / 2, {}, {}};
    half.z.assign(static_cast<std::size_t>(half.width) * static_cast<std::size_t>(half.height),
                  0.0F);
    half.known.assign(half.z.size(), 0);
    for (int y = 0; y < half.height; ++y)
        for (int x = 0; x < half.width; ++x) {
            float sum = 0.0F;
            int count = 0;
            for (int v = 2 * y; v < std::min(2 * y + 2, fine.height); ++v)
                for (int u = 2 * x; u < std::min(2 * x + 2, fine.width); ++u)
                    if (fine.known[fine.at(u, v)] != 0) {
                        sum += fine.z[fine.at(u, v)];
                        ++count;
                    }
            if (count > 0) {
                half.z[half.at(x, y)] = sum / static_cast<float>(count);
                half.known[half.at(x, y)] = 1;
            }
        }
    return half;
}

/// Each unknown cell becomes the mean of its neighbours, over and over.
void relax(Level& level, int rounds) {
    for (int round = 0; round < rounds; ++round)
        for (int colour = 0; colour < 2; ++colour)
            for (int y = 0; y < level.height; ++y)
                for (int x = (y + colour) % 2; x < level.width; x += 2) {
                    if (level.known[level.at(x, y)] != 0)
                        continue;
                    float sum = 0.0F;
                    float count = 0.0F;
                    const auto add = [&](int u, int v) {
                        if (u < 0 || v < 0 || u >= level.width || v >= level.height)
                            return;
                        sum += level.z[level.at(u, v)];
                        count += 1.0F;
                    };
                    add(x - 1, y);
                    add(x + 1, y);
                    add(x, y - 1);
                    add(x, y + 1);
                    if (count > 0.0F)
                        level.z[level.at(x, y)] = sum / count;
                }
}

}  // namespace

Image withoutShortForms(const Image& heights, float wavelengthCells) {
    const float sigma =
        wavelengthCells * std::sqrt(0.5F * std::numbers::ln2_v<float>) / std::numbers::pi_v<float>;
    return sigma < 0.2F ? heights : knownBlur(heights, sigma);
}

Image boxMean(const Image& heights, int radius) {
    Weighted w = weighted(heights);
    const cv::Size size(2 * radius + 1, 2 * radius + 1);
    cv::boxFilter(w.sum, w.sum, CV_32F, size, {-1, -1}, true, cv::BORDER_REFLECT);
    if (hasHoles(heights))
        cv::boxFilter(w.weight, w.weight, CV_32F, size, {-1, -1}, true, cv::BORDER_REFLECT);
    return divided(w, heights);
}

Image withoutHoles(const Image& heights) {
    if (!hasHoles(heights))
        return heights;
    std::vector<Level> levels(1);
    Level& first = levels.front();
    first.width = heights.width();
    first.height = heights.height();
    bool any = false;
    for (int y = 0; y < first.height; ++y)
        for (int x = 0; x < first.width; ++x) {
            const float h = heights(x, y, 0);
            first.known.push_back(std::isfinite(h) ? 1 : 0);
            first.z.push_back(std::isfinite(h) ? h : 0.0F);
            any |= std::isfinite(h);
        }
    if (!any)
        return heights;
    const auto isWhole = [](const Level& level) {
        return std::all_of(level.known.begin(), level.known.end(), [](char k) { return k != 0; });
    };
    while (!isWhole(levels.back()))
        levels.push_back(coarser(levels.back()));
    constexpr int kRounds = 24;
    for (std::size_t i = levels.size() - 1; i > 0; --i) {
        const Level& coarse = levels[i];
        Level& fine = levels[i - 1];
        for (int y = 0; y < fine.height; ++y)
            for (int x = 0; x < fine.width; ++x)
                if (fine.known[fine.at(x, y)] == 0)
                    fine.z[fine.at(x, y)] = coarse.z[coarse.at(x / 2, y / 2)];
        relax(fine, kRounds);
    }
    Image out = unsetHeights(heights.width(), heights.height());
    float* to = out.editPlane(0);
    for (int y = 0; y < out.height(); ++y)
        for (int x = 0; x < out.width(); ++x)
            to[out.rowStride() * y + x] = levels.front().z[levels.front().at(x, y)];
    return out;
}

Image patchedHoles(const Image& heights) {
    if (!hasHoles(heights))
        return heights;
    Image out = heights;
    float* plane = out.editPlane(0);
    const std::ptrdiff_t stride = out.rowStride();
    const auto slide = [](float* first, std::ptrdiff_t step, int count) {
        float last = kNotKnown;
        for (int i = 0; i < count; ++i) {
            float& h = first[step * i];
            if (std::isfinite(h))
                last = h;
            else
                h = last;
        }
        for (int i = count - 1; i >= 0; --i) {
            float& h = first[step * i];
            if (std::isfinite(h))
                last = h;
            else
                h = last;
        }
    };
    for (int y = 0; y < out.height(); ++y)
        slide(plane + stride * y, 1, out.width());
    for (int x = 0; x < out.width(); ++x)
        slide(plane + x, stride, out.height());
    return out;
}

Image withHolesOf(Image heights, const Image& other) {
    if (!hasHoles(other))
        return heights;
    float* plane = heights.editPlane(0);
    for (int y = 0; y < heights.height(); ++y)
        for (int x = 0; x < heights.width(); ++x)
            if (!std::isfinite(other(x, y, 0)))
                plane[heights.rowStride() * y + x] = kNotKnown;
    return heights;
}

Image placesOf(const HeightField& field, int sourceWidth, int sourceHeight) {
    if (!field.places.empty())
        return field.places;
    Image places = Image::unset(field.width(), field.height(), {"X", "Y"});
    float* px = places.editPlane(0);
    float* py = places.editPlane(1);
    const float across = static_cast<float>(sourceWidth) / static_cast<float>(field.width());
    const float down = static_cast<float>(sourceHeight) / static_cast<float>(field.height());
    for (int y = 0; y < field.height(); ++y)
        for (int x = 0; x < field.width(); ++x) {
            px[places.rowStride() * y + x] = (static_cast<float>(x) + 0.5F) * across;
            py[places.rowStride() * y + x] = (static_cast<float>(y) + 0.5F) * down;
        }
    return places;
}

}  // namespace noctis
