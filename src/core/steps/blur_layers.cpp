#include "core/steps/blur_layers.h"

#include "core/image/tiles.h"

#include <algorithm>
#include <cmath>
#include <utility>
#include <vector>

namespace noctis {

namespace {

/// The radius, in cells, to spread cells by that were made of pixels and become pixels again. Both go straight from
/// cell to cell, which adds a variance of 1/6 each time: half of it is taken off the disc's, so that neither its
/// width nor its edge is more than a quarter of a cell off.
float cellRadius(float radius, int factor) noexcept {
    const float cells = radius / static_cast<float>(factor);
    return std::sqrt(std::max(0.0F, cells * cells - 2.0F / 3.0F));
}

/// Every piece of a row that is in the layer: take(x, colour, weight, radius).
template <typename Take>
void forEachPiece(const Image& colour, const Image& radius, const BlurSurfaces& surfaces, int y,
                  int layer, const Take& take) {
    if (!surfaces.holds(y, layer))
        return;
    const std::int8_t* whole = surfaces.wholeRow(y);
    const float* r = colour.row(0, y);
    const float* g = colour.row(1, y);
    const float* b = colour.row(2, y);
    const float* radii = radius.row(0, y);
    for (int x = 0; x < surfaces.width; ++x)
        if (whole[x] == layer)
            take(x, Float4{r[x], g[x], b[x], 1.0F}, 1.0F, radii[x]);
    for (const SurfacePiece& piece : surfaces.pieces[static_cast<std::size_t>(y)])
        if (piece.layer == layer)
            take(piece.x, Float4{piece.colour[0], piece.colour[1], piece.colour[2], 1.0F},
                 piece.weight, piece.radius);
}

/// At full size every piece is one point.
SpreadRows fullRows(const Image& colour, const Image& radius, const BlurSurfaces& surfaces,
                    int layer, const ApertureKernels& kernels, const RunContext& run) {
    SpreadRows rows(static_cast<std::size_t>(surfaces.height));
    forEachBand(surfaces.height, kBandHeight, run, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            forEachPiece(colour, radius, surfaces, y, layer,
                         [&](int x, const Float4& c, float weight, float r) {
                             rows[static_cast<std::size_t>(y)].push_back(
                                 {{c[0] * weight, c[1] * weight, c[2] * weight},
                                  weight,
                                  x,
                                  kernels.indexOf(std::abs(r))});
                         });
    });
    return rows;
}

/// Coarser, a piece is shared out to the four cells about it, which keeps its place and energy.
SpreadRows coarseRows(const Image& colour, const Image& radius, const BlurSurfaces& surfaces,
                      int layer, int factor, const ApertureKernels& kernels,
                      const RunContext& run) {
    const int width = (surfaces.width + factor - 1) / factor;
    const int height = (surfaces.height + factor - 1) / factor;
    SpreadRows rows(static_cast<std::size_t>(height));
    const auto f = static_cast<float>(factor);
    const float area = f * f;
    // The left one of the two cells that column u goes to, and the right one's part; u from -factor on.
    std::vector<std::pair<int, float>> cells;
    for (int u = -factor; u < surfaces.width + factor; ++u) {
        const float px = (static_cast<float>(u) + 0.5F) / f - 0.5F;
        cells.emplace_back(static_cast<int>(std::floor(px)), px - std::floor(px));
    }
    forEachBand(height, kBandHeight, run, [&](int y0, int y1) {
        std::vector<Float4> sums(static_cast<std::size_t>(width));
        std::vector<float> radii(static_cast<std::size_t>(width));
        for (int cy = y0; cy < y1; ++cy) {
            std::fill(sums.begin(), sums.end(), Float4{});
            std::fill(radii.begin(), radii.end(), 0.0F);
            // Rows and columns beyond the picture stand for its edge's own.
            for (int v = cy * factor - factor / 2; v < cy * factor + factor + factor / 2; ++v) {
                const float py = (static_cast<float>(v) + 0.5F) / f - 0.5F;
                const float wy = 1.0F - std::abs(py - static_cast<float>(cy));
                if (wy <= 0.0F)
                    continue;
                const int y = std::clamp(v, 0, surfaces.height - 1);
                const auto give = [&](int u, const Float4& value, float part, float r) {
                    const auto [cx, wx] = cells[static_cast<std::size_t>(u + factor)];
                    const auto to = [&](int cell, float w) {
                        if (cell < 0 || cell >= width)
                            return;
                        sums[static_cast<std::size_t>(cell)] += value * (part * w);
                        radii[static_cast<std::size_t>(cell)] += std::abs(r) * part * w;
                    };
                    to(cx, 1.0F - wx);
                    to(cx + 1, wx);
                };
                forEachPiece(colour, radius, surfaces, y, layer,
                             [&](int x, const Float4& c, float weight, float r) {
                                 const float part = weight * wy / area;
                                 give(x, c, part, r);
                                 if (x == 0)
                                     for (int u = -(factor / 2); u < 0; ++u)
                                         give(u, c, part, r);
                                 if (x == surfaces.width - 1)
                                     for (int u = x + 1; u <= x + factor / 2; ++u)
                                         give(u, c, part, r);
                             });
            }
            auto& row = rows[static_cast<std::size_t>(cy)];
            for (int cx = 0; cx < width; ++cx) {
                const Float4 s = sums[static_cast<std::size_t>(cx)];
                if (s[3] > 0.0F)
                    row.push_back({{s[0], s[1], s[2]},
                                   s[3],
                                   cx,
                                   kernels.indexOf(cellRadius(
                                       radii[static_cast<std::size_t>(cx)] / s[3], factor))});
            }
        }
    });
    return rows;
}

}  // namespace

int layerFactor(int layer) noexcept {
    // Four cells or more are left of any radius.
    const float least = leastRadiusOf(layer);
    return least >= 32.0F ? 4 : least >= 8.0F ? 2 : 1;
}

WeightedPicture drawLayer(const Image& colour, const Image& radius, const BlurSurfaces& surfaces,
                          int layer, const ApertureKernels& kernels, const RunContext& run) {
    const int factor = layerFactor(layer);
    const SpreadRows rows = factor == 1
                                ? fullRows(colour, radius, surfaces, layer, kernels, run)
                                : coarseRows(colour, radius, surfaces, layer, factor, kernels, run);
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
                if (value[3] > 0.0F && open > 0.0F)
                    to[x] += value * (open / std::max(1.0F, value[3]));
            }
        }
    });
}

}  // namespace noctis
