#include "core/steps/warped_picture.h"

#include "core/image/tiles.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

namespace noctis {

namespace {

constexpr int kMostSamples = 4;       ///< along each axis of a pixel that becomes smaller
constexpr float kStillPlain = 1.25F;  ///< source pixels in one, up to which one sample will do

std::array<float, 4> cubicWeights(float t) noexcept {
    return {t * (-0.5F + t * (1.0F - 0.5F * t)), 1.0F + t * t * (-2.5F + 1.5F * t),
            t * (0.5F + t * (2.0F - 1.5F * t)), t * t * (-0.5F + 0.5F * t)};
}

/// Where a sample's sixteen pixels are, and their weights; the same for all channels.
struct Taps {
    std::array<int, 4> columns;
    std::array<int, 4> rows;
    std::array<float, 4> across;
    std::array<float, 4> down;

    Taps(const V2f& at, int width, int height) noexcept {
        const float x = std::clamp(at.x - 0.5F, -1e6F, 1e6F);
        const float y = std::clamp(at.y - 0.5F, -1e6F, 1e6F);
        const float left = std::floor(x);
        const float top = std::floor(y);
        across = cubicWeights(x - left);
        down = cubicWeights(y - top);
        for (std::size_t i = 0; i < 4; ++i) {
            const int by = static_cast<int>(i) - 1;
            columns.at(i) = std::clamp(static_cast<int>(left) + by, 0, width - 1);
            rows.at(i) = std::clamp(static_cast<int>(top) + by, 0, height - 1);
        }
    }

    [[nodiscard]] float of(const float* plane, std::ptrdiff_t stride) const noexcept {
        float sum = 0.0F;
        for (std::size_t j = 0; j < 4; ++j) {
            const float* row = plane + stride * rows[j];
            sum += down[j] * (across[0] * row[columns[0]] + across[1] * row[columns[1]] +
                              across[2] * row[columns[2]] + across[3] * row[columns[3]]);
        }
        const float* upper = plane + stride * rows[1];
        const float* lower = plane + stride * rows[2];
        const auto [least, most] = std::minmax(
            {upper[columns[1]], upper[columns[2]], lower[columns[1]], lower[columns[2]]});
        return std::clamp(sum, least, most);
    }
};

/// How many samples a pixel takes along each axis, by how much of the source it shows.
int samplesFor(const V2f& here, const V2f& right, const V2f& below) noexcept {
    const float most = std::max((right - here).length(), (below - here).length());
    if (!(most > kStillPlain))
        return 1;
    return std::min(static_cast<int>(std::ceil(most)), kMostSamples);
}

}  // namespace

Image warpedPicture(const Image& picture, const PlaceMap& sourceOf, const RunContext& run) {
    Image out = picture;
    std::vector<float*> to;
    std::vector<const float*> from;
    for (int c = 0; c < out.channels(); ++c) {
        to.push_back(out.editPlane(c));
        from.push_back(picture.plane(c));
    }
    const std::ptrdiff_t stride = picture.rowStride();
    forEachBand(out.height(), kBandHeight, run, [&](int y0, int y1) {
        std::vector<float> sum(to.size());
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < out.width(); ++x) {
                const float px = static_cast<float>(x);
                const float py = static_cast<float>(y);
                const V2f middle = sourceOf(px + 0.5F, py + 0.5F);
                const int samples = samplesFor(middle, sourceOf(px + 1.5F, py + 0.5F),
                                               sourceOf(px + 0.5F, py + 1.5F));
                std::ranges::fill(sum, 0.0F);
                for (int j = 0; j < samples; ++j)
                    for (int i = 0; i < samples; ++i) {
                        const auto part = [&](int k) {
                            return (static_cast<float>(k) + 0.5F) / static_cast<float>(samples);
                        };
                        const Taps taps(samples == 1 ? middle
                                                     : sourceOf(px + part(i), py + part(j)),
                                        picture.width(), picture.height());
                        for (std::size_t c = 0; c < sum.size(); ++c)
                            sum[c] += taps.of(from[c], stride);
                    }
                const float share = 1.0F / static_cast<float>(samples * samples);
                for (std::size_t c = 0; c < sum.size(); ++c)
                    to[c][out.rowStride() * y + x] = share * sum[c];
            }
    });
    return out;
}

Image warpedData(const Image& data, const PlaceMap& sourceOf, const RunContext& run) {
    Image out = data;
    std::vector<float*> to;
    for (int c = 0; c < out.channels(); ++c)
        to.push_back(out.editPlane(c));
    forEachBand(out.height(), kBandHeight, run, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < out.width(); ++x) {
                const V2f at = sourceOf(static_cast<float>(x) + 0.5F, static_cast<float>(y) + 0.5F);
                const auto nearest = [](float place, int size) {
                    return static_cast<int>(
                        std::clamp(std::floor(place), 0.0F, static_cast<float>(size - 1)));
                };
                const int column = nearest(at.x, data.width());
                const int row = nearest(at.y, data.height());
                for (std::size_t c = 0; c < to.size(); ++c)
                    to[c][out.rowStride() * y + x] = data(column, row, static_cast<int>(c));
            }
    });
    return out;
}

}  // namespace noctis
