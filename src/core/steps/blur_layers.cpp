#include "core/steps/blur_layers.h"

#include "core/image/tiles.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace noctis {

namespace {

constexpr int kBandHeight = 16;
// A pixel goes over from one layer to the next within the middle half of the way.
constexpr float kOverFrom = 0.25F;
constexpr float kOverLength = 0.5F;
/// Nothing before the focus that blurs less than this is taken as hiding what is behind.
constexpr float kHidesFrom = 1.0F;

/// Where a radius stands on the scale of layers: 0 to 1 up to a pixel, then one more for each
/// doubling.
float levelOf(float radius) noexcept {
    const float size = std::abs(radius);
    const float level = size < 1.0F ? size : 1.0F + std::log2(size);
    return radius < 0.0F ? -level : level;
}

float shareIn(int layer, float radius) noexcept {
    const LayerShares shares = layersOf(radius);
    if (shares.first.layer == layer)
        return shares.first.share;
    return shares.second.layer == layer ? shares.second.share : 0.0F;
}

/// At full size every pixel is a point of its own.
SpreadRows fullRows(const Image& colour, const Image& radius, int layer,
                    const ApertureKernels& kernels, const RunContext& run) {
    SpreadRows rows(static_cast<std::size_t>(colour.height()));
    forEachBand(colour.height(), kBandHeight, run, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y) {
            auto& row = rows[static_cast<std::size_t>(y)];
            for (int x = 0; x < colour.width(); ++x) {
                const float r = radius(x, y, 0);
                const float share = shareIn(layer, r);
                if (share > 0.0F)
                    row.push_back({{colour(x, y, 0) * share, colour(x, y, 1) * share,
                                    colour(x, y, 2) * share},
                                   share,
                                   x,
                                   kernels.indexOf(std::abs(r))});
            }
        }
    });
    return rows;
}

/// Coarser, a pixel is shared out to the four cells about it, which keeps its place and energy.
SpreadRows coarseRows(const Image& colour, const Image& radius, int layer, int factor,
                      const ApertureKernels& kernels, const RunContext& run) {
    const int width = (colour.width() + factor - 1) / factor;
    const int height = (colour.height() + factor - 1) / factor;
    SpreadRows rows(static_cast<std::size_t>(height));
    const auto f = static_cast<float>(factor);
    const float area = f * f;
    forEachBand(height, kBandHeight, run, [&](int y0, int y1) {
        std::vector<Float4> sums(static_cast<std::size_t>(width));
        std::vector<float> radii(static_cast<std::size_t>(width));
        for (int cy = y0; cy < y1; ++cy) {
            std::fill(sums.begin(), sums.end(), Float4{});
            std::fill(radii.begin(), radii.end(), 0.0F);
            // Rows beyond the edge stand for the edge's own.
            for (int v = cy * factor - factor / 2; v < cy * factor + factor + factor / 2; ++v) {
                const float py = (static_cast<float>(v) + 0.5F) / f - 0.5F;
                const float wy = 1.0F - std::abs(py - static_cast<float>(cy));
                const int y = std::clamp(v, 0, colour.height() - 1);
                if (wy <= 0.0F)
                    continue;
                for (int u = -(factor / 2); u < colour.width() + factor / 2; ++u) {
                    const int x = std::clamp(u, 0, colour.width() - 1);
                    const float r = radius(x, y, 0);
                    const float share = shareIn(layer, r);
                    if (share <= 0.0F)
                        continue;
                    const float px = (static_cast<float>(u) + 0.5F) / f - 0.5F;
                    const int cx = static_cast<int>(std::floor(px));
                    const float wx = px - static_cast<float>(cx);
                    const Float4 value{colour(x, y, 0), colour(x, y, 1), colour(x, y, 2), 1.0F};
                    const float part = share * wy / area;
                    const auto give = [&](int cell, float w) {
                        if (cell < 0 || cell >= width)
                            return;
                        sums[static_cast<std::size_t>(cell)] += value * (part * w);
                        radii[static_cast<std::size_t>(cell)] += std::abs(r) * part * w;
                    };
                    give(cx, 1.0F - wx);
                    give(cx + 1, wx);
                }
            }
            auto& row = rows[static_cast<std::size_t>(cy)];
            for (int cx = 0; cx < width; ++cx) {
                const Float4 s = sums[static_cast<std::size_t>(cx)];
                if (s[3] > 0.0F)
                    row.push_back(
                        {{s[0], s[1], s[2]},
                         s[3],
                         cx,
                         kernels.indexOf(radii[static_cast<std::size_t>(cx)] / s[3] / f)});
            }
        }
    });
    return rows;
}

/// The pyramid that fills holds R G B, radius and weight, premultiplied by weight.
constexpr int kFillChannels = 5;

Image halved(const Image& fine, const RunContext& run) {
    const int width = (fine.width() + 1) / 2;
    const int height = (fine.height() + 1) / 2;
    Image coarse = Image::filled(width, height, kFillChannels, 0.0F);
    std::array<float*, kFillChannels> to{};
    for (int c = 0; c < kFillChannels; ++c)
        to[static_cast<std::size_t>(c)] = coarse.editPlane(c);
    forEachBand(height, kBandHeight, run, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < width; ++x) {
                std::array<float, kFillChannels> sum{};
                for (int v = 2 * y; v < std::min(2 * y + 2, fine.height()); ++v)
                    for (int u = 2 * x; u < std::min(2 * x + 2, fine.width()); ++u)
                        for (int c = 0; c < kFillChannels; ++c)
                            sum[static_cast<std::size_t>(c)] += fine(u, v, c);
                // A cell is fully known as soon as one of its pixels is.
                const float scale = sum[4] > 1.0F ? 1.0F / sum[4] : 1.0F;
                for (std::size_t c = 0; c < kFillChannels; ++c)
                    to[c][coarse.rowStride() * y + x] = sum[c] * scale;
            }
    });
    return coarse;
}

/// Fills what the finer level does not know from the coarser one.
void fillFrom(const Image& coarse, Image& fine, const RunContext& run) {
    std::array<float*, kFillChannels> to{};
    for (int c = 0; c < kFillChannels; ++c)
        to[static_cast<std::size_t>(c)] = fine.editPlane(c);
    forEachBand(fine.height(), kBandHeight, run, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < fine.width(); ++x) {
                const float missing = 1.0F - to[4][fine.rowStride() * y + x];
                if (missing <= 0.0F)
                    continue;
                const float px = (static_cast<float>(x) + 0.5F) * 0.5F - 0.5F;
                const float py = (static_cast<float>(y) + 0.5F) * 0.5F - 0.5F;
                const int x0 = static_cast<int>(std::floor(px));
                const int y0c = static_cast<int>(std::floor(py));
                const float fx = px - static_cast<float>(x0);
                const float fy = py - static_cast<float>(y0c);
                for (int c = 0; c < kFillChannels; ++c) {
                    const auto at = [&](int u, int v) {
                        return coarse(std::clamp(u, 0, coarse.width() - 1),
                                      std::clamp(v, 0, coarse.height() - 1), c);
                    };
                    const float top = at(x0, y0c) * (1.0F - fx) + at(x0 + 1, y0c) * fx;
                    const float bottom = at(x0, y0c + 1) * (1.0F - fx) + at(x0 + 1, y0c + 1) * fx;
                    to[static_cast<std::size_t>(c)][fine.rowStride() * y + x] +=
                        missing * (top * (1.0F - fy) + bottom * fy);
                }
            }
    });
}

}  // namespace

LayerShares layersOf(float signedRadius) noexcept {
    const float level = levelOf(signedRadius);
    const float base = std::floor(level);
    const float t = std::clamp((level - base - kOverFrom) / kOverLength, 0.0F, 1.0F);
    const int layer = static_cast<int>(base);
    if (t >= 1.0F)
        return {{layer + 1, 1.0F}, {layer, 0.0F}};
    return {{layer, 1.0F - t}, {layer + 1, t}};
}

int layerFactor(int layer) noexcept {
    // Layer n's radii start above 2^(n - 1.75): at these scales at least four pixels are left of
    // them.
    const int size = std::abs(layer);
    if (size >= 7)
        return 4;
    return size >= 5 ? 2 : 1;
}

WeightedPicture drawLayer(const Image& colour, const Image& radius, int layer,
                          const ApertureKernels& kernels, const RunContext& run) {
    const int factor = layerFactor(layer);
    const SpreadRows rows = factor == 1 ? fullRows(colour, radius, layer, kernels, run)
                                        : coarseRows(colour, radius, layer, factor, kernels, run);
    return spread((colour.width() + factor - 1) / factor, rows, kernels, run);
}

void layUnder(WeightedPicture& nearer, const WeightedPicture& layer, int factor,
              const RunContext& run) {
    forEachBand(nearer.height, kBandHeight, run, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y) {
            Float4* to = nearer.row(y);
            const float py = (static_cast<float>(y) + 0.5F) / static_cast<float>(factor) - 0.5F;
            const int top = static_cast<int>(std::floor(py));
            const float fy = py - static_cast<float>(top);
            const Float4* above = layer.row(std::clamp(top, 0, layer.height - 1));
            const Float4* below = layer.row(std::clamp(top + 1, 0, layer.height - 1));
            for (int x = 0; x < nearer.width; ++x) {
                Float4 value{};
                if (factor == 1) {
                    value = layer.row(y)[x];
                } else {
                    const float px =
                        (static_cast<float>(x) + 0.5F) / static_cast<float>(factor) - 0.5F;
                    const int left = static_cast<int>(std::floor(px));
                    const float fx = px - static_cast<float>(left);
                    const int a = std::clamp(left, 0, layer.width - 1);
                    const int b = std::clamp(left + 1, 0, layer.width - 1);
                    value = (above[a] * (1.0F - fx) + above[b] * fx) * (1.0F - fy) +
                            (below[a] * (1.0F - fx) + below[b] * fx) * fy;
                }
                const float open = 1.0F - to[x][3];
                if (value[3] <= 0.0F || open <= 0.0F)
                    continue;
                to[x] += value * (std::min(open, value[3]) / value[3]);
            }
        }
    });
}

void fillBehind(Image& colour, Image& radius, const RunContext& run) {
    std::vector<Image> levels{Image::filled(colour.width(), colour.height(), kFillChannels, 0.0F)};
    Image& finest = levels.front();
    std::array<float*, kFillChannels> to{};
    for (int c = 0; c < kFillChannels; ++c)
        to[static_cast<std::size_t>(c)] = finest.editPlane(c);
    for (int y = 0; y < colour.height(); ++y)
        for (int x = 0; x < colour.width(); ++x) {
            if (radius(x, y, 0) < -kHidesFrom)
                continue;
            const std::ptrdiff_t at = finest.rowStride() * y + x;
            for (int c = 0; c < 3; ++c)
                to[static_cast<std::size_t>(c)][at] = colour(x, y, c);
            to[3][at] = radius(x, y, 0);
            to[4][at] = 1.0F;
        }
    while (std::max(levels.back().width(), levels.back().height()) > 1)
        levels.push_back(halved(levels.back(), run));
    for (std::size_t i = levels.size() - 1; i > 0 && !run.stopped(); --i)
        fillFrom(levels[i], levels[i - 1], run);
    colour = levels.front().select({0, 1, 2}, {"R", "G", "B"});
    radius = levels.front().select({3}, {"Y"});
}

}  // namespace noctis
