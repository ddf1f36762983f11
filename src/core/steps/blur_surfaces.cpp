#include "core/steps/blur_surfaces.h"

#include "core/image/tiles.h"
#include "core/steps/blur_sweep.h"
#include "core/steps/mixed_colour.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <optional>

namespace noctis {

namespace {

constexpr int kColumns = 16;  ///< swept together, a cache line of floats
/// A mixed pixel counts as whole when it shows this much of one surface.
constexpr float kAllOfIt = 0.97F;

using Place = std::array<int, 2>;

/// What was found on all four sides of a pixel.
struct Around {
    std::array<Found, 4> found;  ///< from the left, the right, above, below
    static constexpr std::array<std::array<int, 2>, 4> kBack{{{-1, 0}, {1, 0}, {0, -1}, {0, 1}}};
};

class Taker {
public:
    Taker(const Image& colour, const Image& radius, const HiddenPieces& hidden,
          const TakenLight& taken, BlurSurfaces& out)
        : m_colour(colour), m_radius(radius), m_hidden(hidden), m_taken(taken), m_out(out),
          m_mixed(static_cast<std::size_t>(radius.height())),
          m_busy(static_cast<std::size_t>(radius.height())) {}

    void sweepColumns(const RunContext& run) {
        const int width = m_radius.width();
        const int height = m_radius.height();
        m_down.resize(static_cast<std::size_t>(width) * static_cast<std::size_t>(height));
        m_up.resize(m_down.size());
        const auto count = static_cast<std::size_t>(height);
        forEachBand(width, kColumns, run, [&](int x0, int x1) {
            std::vector<float> radii(count * kColumns);
            std::vector<std::int8_t> layers(count * kColumns);
            const auto sweep = [&](bool down, std::vector<Found>& to) {
                for (int y = 0; y < height; ++y)
                    for (int x = x0; x < x1; ++x) {
                        const int from = down ? y : height - 1 - y;
                        const std::size_t at =
                            static_cast<std::size_t>(x - x0) * count + static_cast<std::size_t>(y);
                        radii[at] = m_radius(x, from, 0);
                        layers[at] = m_out.wholeRow(from)[x];
                    }
                for (int x = x0; x < x1; ++x) {
                    const std::size_t first = static_cast<std::size_t>(x - x0) * count;
                    if (isPlain(radii.data() + first, layers.data() + first, height))
                        continue;
                    Sweep(radii.data() + first, layers.data() + first, height)
                        .run([&](int i, const Found& found) {
                            if (found.empty())
                                return;
                            const int y = down ? i : height - 1 - i;
                            to[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) +
                               static_cast<std::size_t>(x)] = found;
                            // The farther side of the edge may be mixed, too.
                            for (int v = std::max(y - 1, 0); v <= std::min(y + 1, height - 1); ++v)
                                m_busy[static_cast<std::size_t>(v)].store(
                                    true, std::memory_order_relaxed);
                        });
                }
            };
            sweep(true, m_down);
            sweep(false, m_up);
        });
    }

    /// Fills the pieces of some rows. On entry each pixel's layer is set as if it were whole.
    void takeRows(int y0, int y1) {
        const int width = m_radius.width();
        const auto count = static_cast<std::size_t>(width);
        std::vector<Found> right(count);
        std::vector<Found> left(count);
        std::vector<float> radii(count);
        std::vector<std::int8_t> layers(count);
        for (int y = y0; y < y1; ++y) {
            const float* row = m_radius.row(0, y);
            const std::int8_t* own = m_out.wholeRow(y);
            if (!m_busy[static_cast<std::size_t>(y)] && isPlain(row, own, width))
                continue;
            Sweep(row, own, width).run([&](int i, const Found& f) {
                right[static_cast<std::size_t>(i)] = f;
            });
            std::reverse_copy(row, row + width, radii.begin());
            std::reverse_copy(own, own + width, layers.begin());
            Sweep(radii.data(), layers.data(), width).run([&](int i, const Found& f) {
                left[static_cast<std::size_t>(width - 1 - i)] = f;
            });
            const std::size_t first = static_cast<std::size_t>(y) * count;
            for (int x = 0; x < width; ++x) {
                const auto at = static_cast<std::size_t>(x);
                takePixel(x, y, {{right[at], left[at], m_down[first + at], m_up[first + at]}});
            }
            for (const int x : m_mixed[static_cast<std::size_t>(y)])
                m_out.whole[first + static_cast<std::size_t>(x)] = BlurSurfaces::kInPieces;
        }
    }

private:
    [[nodiscard]] float radiusAt(int x, int y) const noexcept {
        return m_radius(std::clamp(x, 0, m_radius.width() - 1),
                        std::clamp(y, 0, m_radius.height() - 1), 0);
    }
    [[nodiscard]] std::array<float, 3> colourAt(int x, int y) const noexcept {
        x = std::clamp(x, 0, m_colour.width() - 1);
        y = std::clamp(y, 0, m_colour.height() - 1);
        return {m_colour(x, y, 0), m_colour(x, y, 1), m_colour(x, y, 2)};
    }

    [[nodiscard]] std::array<float, 3> shareAt(int x, int y) const noexcept {
        if (m_taken.share.empty())
            return {1.0F, 1.0F, 1.0F};
        x = std::clamp(x, 0, m_colour.width() - 1);
        y = std::clamp(y, 0, m_colour.height() - 1);
        return {m_taken.share(x, y, 0), m_taken.share(x, y, 1), m_taken.share(x, y, 2)};
    }
    /// The part of a colour that is taken.
    [[nodiscard]] std::array<float, 3> taken(const std::array<float, 3>& colour,
                                             const std::array<float, 3>& share) const noexcept {
        if (!m_taken.ofLight)
            return share;
        return {colour[0] * share[0], colour[1] * share[1], colour[2] * share[2]};
    }
    [[nodiscard]] std::array<float, 3> lightAt(int x, int y) const noexcept {
        return taken(colourAt(x, y), shareAt(x, y));
    }
    [[nodiscard]] std::array<float, 3> lightAt(const Place& place) const noexcept {
        return lightAt(place[0], place[1]);
    }

    void add(int x, int y, const std::array<float, 3>& colour, float weight, float radius,
             int layer) {
        m_out.pieces[static_cast<std::size_t>(y)].push_back(
            {{colour[0], colour[1], colour[2]}, weight, radius, x, layer});
    }

    void takePixel(int x, int y, const Around& around) {
        const std::optional<float> covered = splitMixed(x, y);
        bool hides = covered.has_value();
        if (hides)
            m_mixed[static_cast<std::size_t>(y)].push_back(x);
        for (const Found& found : around.found)
            hides = hides || found.distance > 0;
        if (hides)
            addHidden(x, y, around, covered.value_or(1.0F));
        addSeams(x, y, around);
    }

    /// A pixel at an edge as its parts; how much of it its own surface covers, of all that is in view.
    std::optional<float> splitMixed(int x, int y) {
        const float own = m_radius(x, y, 0);
        for (const auto& [dx, dy] : Around::kBack) {
            const float beside = radiusAt(x + dx, y + dy);
            if (nearlySame(beside - own, own, beside) || layerOf(beside) == layerOf(own) ||
                !isEdge(radiusAt(x - dx, y - dy), own, beside, radiusAt(x + 2 * dx, y + 2 * dy)))
                continue;
            const auto inside = clean(x, y, -dx, -dy);
            auto outside = clean(x + dx, y + dy, dx, dy);
            if (!outside && beside < own)  // a thin thing: it has no cleaner place
                outside = Place{x + dx, y + dy};
            if (!inside || !outside)
                continue;
            const std::array<float, 3> mixed = colourAt(x, y);
            const std::array<float, 3> within = colourAt((*inside)[0], (*inside)[1]);
            const std::array<float, 3> beyond = colourAt((*outside)[0], (*outside)[1]);
            auto part = partOf(mixed, within, beyond);
            if (!part && beside < own && isOf(mixed, beyond, within)) {
                part = 0.0F;
                outside = Place{x, y};
            }
            if (!part || *part > kAllOfIt)
                continue;
            if (own < beside) {  // the nearer one: what it leaves open shows what is hidden
                if (*part < kLeast)
                    continue;
                add(x, y, remainder(lightAt(x, y), lightAt(*outside), 1.0F - *part), *part, own,
                    layerOf(own));
                return part;
            }
            add(x, y, lightAt(*outside), 1.0F - *part, beside, layerOf(beside));
            add(x, y,
                *part < kLeast ? lightAt(*inside)
                               : remainder(lightAt(x, y), lightAt(*outside), 1.0F - *part),
                1.0F, own, layerOf(own));
            return 1.0F;
        }
        return std::nullopt;
    }

    /// The place one further from an edge, if it is of the same surface.
    [[nodiscard]] std::optional<Place> clean(int x, int y, int dx, int dy) const noexcept {
        const float here = radiusAt(x, y);
        const float next = radiusAt(x + dx, y + dy);
        if (!nearlySame(next - here, here, next))
            return std::nullopt;
        return Place{x + dx, y + dy};
    }

    struct Guess {
        std::array<float, 3> light{};
        std::array<float, 3> share{};
        std::array<float, 3> change{};  ///< because what is hidden was measured
        float radius = 0.0F;
    };

    /// The surface beside, from the nearest side, and from others that see the same.
    [[nodiscard]] std::optional<Guess> guess(int x, int y, const Around& around) const noexcept {
        int nearest = 0;
        float radius = 0.0F;
        for (std::size_t i = 0; i < 4; ++i) {
            const Found& f = around.found[i];
            if (f.distance > 0 && (nearest == 0 || f.distance < nearest)) {
                nearest = f.distance;
                radius = radiusAt(x + Around::kBack[i][0] * f.source,
                                  y + Around::kBack[i][1] * f.source);
            }
        }
        if (nearest == 0)
            return std::nullopt;
        Guess sum;
        float weights = 0.0F;
        for (std::size_t i = 0; i < 4; ++i) {
            const Found& f = around.found[i];
            if (f.distance == 0)
                continue;
            const int sx = x + Around::kBack[i][0] * f.source;
            const int sy = y + Around::kBack[i][1] * f.source;
            const float r = radiusAt(sx, sy);
            if (std::abs(layerOf(r) - layerOf(radius)) > 1)
                continue;
            const float w = 1.0F / static_cast<float>(f.distance * f.distance);
            const auto c = colourAt(sx, sy);
            const auto light = lightAt(sx, sy);
            const auto share = shareAt(sx, sy);
            for (std::size_t k = 0; k < 3; ++k) {
                sum.light[k] += w * light[k];
                sum.share[k] += w * share[k];
                if (!m_hidden.seenThen.empty())
                    sum.change[k] += w * (c[k] - m_hidden.seenThen(sx, sy, static_cast<int>(k)));
            }
            sum.radius += w * r;
            weights += w;
        }
        for (std::size_t k = 0; k < 3; ++k) {
            sum.light[k] /= weights;
            sum.share[k] /= weights;
            sum.change[k] /= weights;
        }
        sum.radius /= weights;
        return sum;
    }

    /// Where what a pixel hides was measured, if it was. Of a pixel at an edge, what was measured is partly behind
    /// the farther surface: the next one inwards is not.
    [[nodiscard]] std::optional<std::array<int, 2>>
    measuredAt(int x, int y, const Around& around) const noexcept {
        if (m_hidden.radius.empty())
            return std::nullopt;
        int dx = 0;
        int dy = 0;
        bool atEdge = false;
        for (std::size_t i = 0; i < 4; ++i)
            if (around.found[i].distance == 1) {
                atEdge = true;
                dx -= Around::kBack[i][0];
                dy -= Around::kBack[i][1];
            }
        if (!atEdge)
            return {{x, y}};
        const float own = m_radius(x, y, 0);
        const float inside = radiusAt(x + dx, y + dy);
        const float further = radiusAt(x + 2 * dx, y + 2 * dy);
        if ((dx == 0 && dy == 0) || !nearlySame(inside - own, own, inside) ||
            !nearlySame(further - inside, inside, further))
            return std::nullopt;
        return {{std::clamp(x + dx, 0, m_radius.width() - 1),
                 std::clamp(y + dy, 0, m_radius.height() - 1)}};
    }

    /// covered: by the surface that hides it; the rest of the pixel shows what is beside.
    void addHidden(int x, int y, const Around& around, float covered) {
        const int own = layerOf(m_radius(x, y, 0));
        const auto guessed = guess(x, y, around);
        int last = own;
        if (const auto at = measuredAt(x, y, around)) {
            const float r = m_hidden.radius((*at)[0], (*at)[1], 0);
            if (const int layer = layerOf(r); layer > own) {
                const bool same = guessed && std::abs(layerOf(guessed->radius) - layer) <= 1;
                std::array<float, 3> colour{};
                for (std::size_t k = 0; k < 3; ++k) {
                    colour[k] = m_hidden.colour((*at)[0], (*at)[1], static_cast<int>(k));
                    if (guessed)
                        colour[k] = std::max(0.0F, colour[k] + guessed->change[k]);
                }
                std::array<float, 3> light =
                    taken(colour, guessed ? guessed->share : shareAt(x, y));
                for (std::size_t k = 0; same && k < 3; ++k)
                    light[k] = covered * light[k] + (1.0F - covered) * guessed->light[k];
                add(x, y, light, 1.0F, r, layer);
                last = layer;
            }
        }
        if (guessed)
            if (const int layer = layerOf(guessed->radius); layer > last)
                add(x, y, guessed->light, 1.0F, guessed->radius, layer);
    }

    void addSeams(int x, int y, const Around& around) {
        std::array<std::int8_t, 8> done{};
        std::size_t count = 0;
        for (const Found& found : around.found)
            for (const std::int8_t layer : found.seams)
                if (layer != kNoLayer &&
                    std::find(done.begin(), done.begin() + static_cast<std::ptrdiff_t>(count),
                              layer) == done.begin() + static_cast<std::ptrdiff_t>(count)) {
                    done[count++] = layer;
                    add(x, y, lightAt(x, y), 1.0F, m_radius(x, y, 0), layer);
                }
    }

    const Image& m_colour;
    const Image& m_radius;
    const HiddenPieces& m_hidden;
    const TakenLight& m_taken;
    BlurSurfaces& m_out;
    std::vector<Found> m_down;
    std::vector<Found> m_up;
    std::vector<std::vector<int>> m_mixed;  ///< pixels that are in pieces, by row
    std::vector<std::atomic<bool>> m_busy;  ///< rows where a sweep along columns found anything
};

constexpr std::array kLeastRadii{0.5F,   1.0F,   2.0F,   2.83F,  4.0F,   5.66F, 8.0F,
                                 11.3F,  16.0F,  22.6F,  32.0F,  45.3F,  64.0F, 90.5F,
                                 128.0F, 181.0F, 256.0F, 362.0F, 512.0F, 724.0F};

}  // namespace

int layerOf(float signedRadius) noexcept {
    const float size = std::abs(signedRadius);
    int layer = 0;
    if (size >= 2.0F)  // two layers for each doubling from here on
        layer = std::min(static_cast<int>(std::floor(2.0F * std::log2(size))) + 1,
                         static_cast<int>(kLeastRadii.size()));
    else if (size >= 0.5F)
        layer = size < 1.0F ? 1 : 2;
    return signedRadius < 0.0F ? -layer : layer;
}

float leastRadiusOf(int layer) noexcept {
    return layer == 0 ? 0.0F : kLeastRadii[static_cast<std::size_t>(std::abs(layer) - 1)];
}

BlurSurfaces surfacesOf(const Image& colour, const Image& radius, const HiddenPieces& hidden,
                        const RunContext& run, const TakenLight& taken) {
    BlurSurfaces out;
    out.width = radius.width();
    out.height = radius.height();
    const auto width = static_cast<std::size_t>(out.width);
    const auto height = static_cast<std::size_t>(out.height);
    out.whole.resize(width * height);
    out.pieces.resize(height);
    out.layers.resize(height);
    forEachBand(out.height, kBandHeight, run, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y) {
            const float* row = radius.row(0, y);
            std::int8_t* to = out.whole.data() + width * static_cast<std::size_t>(y);
            for (std::size_t x = 0; x < width; ++x)
                to[x] = static_cast<std::int8_t>(layerOf(row[x]));
        }
    });
    Taker taker(colour, radius, hidden, taken, out);
    taker.sweepColumns(run);
    forEachBand(out.height, kBandHeight, run, [&](int y0, int y1) {
        taker.takeRows(y0, y1);
        for (int y = y0; y < y1; ++y) {
            std::uint64_t held = 0;
            const std::int8_t* own = out.wholeRow(y);
            for (std::size_t x = 0; x < width; ++x)
                if (own[x] != BlurSurfaces::kInPieces)
                    held |= std::uint64_t{1} << (own[x] + BlurSurfaces::kLayerBias);
            for (const SurfacePiece& piece : out.pieces[static_cast<std::size_t>(y)])
                held |= std::uint64_t{1} << (piece.layer + BlurSurfaces::kLayerBias);
            out.layers[static_cast<std::size_t>(y)] = held;
        }
    });
    return out;
}

}  // namespace noctis
