#include "core/relief/integrate.h"

#include "core/image/error.h"
#include "core/image/tiles.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <numbers>
#include <numeric>

#include <opencv2/core.hpp>

namespace noctis {

namespace {

using Grid = std::vector<float>;

// --- from slopes at cells to steps between them --------------------------------------------------

/// The rise from each cell to the next along a run of slopes without a gap.
/// Source   Newton-Cotes over the neighbours: Adams-Moulton's weights at the ends.
void stepsOfRun(const float* p, int n, float* step) noexcept {
    if (n == 2) {
        step[0] = 0.5F * (p[0] + p[1]);
        return;
    }
    if (n == 3) {
        step[0] = (5.0F * p[0] + 8.0F * p[1] - p[2]) / 12.0F;
        step[1] = (5.0F * p[2] + 8.0F * p[1] - p[0]) / 12.0F;
        return;
    }
    step[0] = (9.0F * p[0] + 19.0F * p[1] - 5.0F * p[2] + p[3]) / 24.0F;
    step[n - 2] = (9.0F * p[n - 1] + 19.0F * p[n - 2] - 5.0F * p[n - 3] + p[n - 4]) / 24.0F;
    const auto four = [p](int i) {
        return (13.0F * (p[i] + p[i + 1]) - p[i - 1] - p[i + 2]) / 24.0F;
    };
    step[1] = four(1);
    step[n - 3] = four(n - 3);
    for (int i = 2; i < n - 3; ++i)
        step[i] = (802.0F * (p[i] + p[i + 1]) - 93.0F * (p[i - 1] + p[i + 2]) +
                   11.0F * (p[i - 2] + p[i + 3])) /
                  1440.0F;
}

/// Steps along a line of n cells, NaN where there is none. torn may be null; periodic adds the step from
/// the last to the first at n - 1.
void stepsOfLine(const float* p, const float* torn, int n, bool periodic, float* step) {
    std::fill(step, step + n, std::numeric_limits<float>::quiet_NaN());
    const auto joined = [&](int i) {
        return std::isfinite(p[i]) && std::isfinite(p[(i + 1) % n]) &&
               (torn == nullptr || torn[i] < 0.5F);
    };
    int from = 0;
    bool whole = periodic && n >= 6;
    for (int i = 0; whole && i < n; ++i)
        whole = joined(i);
    if (whole) {  // every cell has neighbours on both sides
        const auto at = [&](int i) { return p[(i + n) % n]; };
        for (int i = 0; i < n; ++i)
            step[i] = (802.0F * (at(i) + at(i + 1)) - 93.0F * (at(i - 1) + at(i + 2)) +
                       11.0F * (at(i - 2) + at(i + 3))) /
                      1440.0F;
        return;
    }
    for (int i = 0; i < n; ++i)
        if (i + 1 == n || !joined(i)) {
            if (i > from)
                stepsOfRun(p + from, i - from + 1, step + from);
            from = i + 1;
        }
    if (periodic && n > 1 && joined(n - 1))
        step[n - 1] = 0.5F * (p[n - 1] + p[0]);
}

// --- the equations -------------------------------------------------------------------------------

/// Steps wanted between neighbours, in metres; NaN: they are not joined.
struct Steps {
    int width = 0;
    int height = 0;
    bool periodic = false;
    Grid right;  ///< from a cell to the one on its right
    Grid down;   ///< from a cell to the one below
    bool whole = true;

    [[nodiscard]] std::size_t at(int x, int y) const noexcept {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(width) +
               static_cast<std::size_t>(x);
    }
};

Steps stepsOf(const Slopes& slopes, const IntegrationSettings& settings, const RunContext& run) {
    Steps steps;
    steps.width = slopes.right.width();
    steps.height = slopes.right.height();
    steps.periodic = settings.edges == FieldEdges::Periodic;
    const int w = steps.width;
    const int h = steps.height;
    const auto count = static_cast<std::size_t>(w) * static_cast<std::size_t>(h);
    steps.right.resize(count);
    steps.down.resize(count);
    forEachBand(h, kBandHeight, run, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y) {
            float* to = steps.right.data() + steps.at(0, y);
            stepsOfLine(slopes.right.row(0, y),
                        slopes.tornRight.empty() ? nullptr : slopes.tornRight.row(0, y), w,
                        steps.periodic, to);
            for (int x = 0; x < w; ++x)
                to[x] *= settings.metresPerPixel;
        }
    });
    // Columns some at a time, so that each cache line is read once.
    constexpr int kColumns = 16;
    forEachBand(w, kColumns, run, [&](int x0, int x1) {
        std::array<Grid, kColumns> slope;
        std::array<Grid, kColumns> torn;
        Grid step(static_cast<std::size_t>(h));
        for (int c = 0; c < x1 - x0; ++c) {
            slope[static_cast<std::size_t>(c)].resize(static_cast<std::size_t>(h));
            torn[static_cast<std::size_t>(c)].assign(static_cast<std::size_t>(h), 0.0F);
        }
        for (int y = 0; y < h; ++y) {
            const float* up = slopes.up.row(0, y);
            for (int x = x0; x < x1; ++x)
                slope[static_cast<std::size_t>(x - x0)][static_cast<std::size_t>(y)] = -up[x];
            if (slopes.tornBelow.empty())
                continue;
            const float* below = slopes.tornBelow.row(0, y);
            for (int x = x0; x < x1; ++x)
                torn[static_cast<std::size_t>(x - x0)][static_cast<std::size_t>(y)] = below[x];
        }
        for (int x = x0; x < x1; ++x) {
            const Grid& apart = torn[static_cast<std::size_t>(x - x0)];
            stepsOfLine(slope[static_cast<std::size_t>(x - x0)].data(),
                        slopes.tornBelow.empty() ? nullptr : apart.data(), h, steps.periodic,
                        step.data());
            std::swap(step, slope[static_cast<std::size_t>(x - x0)]);
        }
        for (int y = 0; y < h; ++y)
            for (int x = x0; x < x1; ++x)
                steps.down[steps.at(x, y)] =
                    slope[static_cast<std::size_t>(x - x0)][static_cast<std::size_t>(y)] *
                    settings.metresPerPixel;
    });
    const int lastX = steps.periodic ? w : w - 1;
    const int lastY = steps.periodic ? h : h - 1;
    std::atomic<bool> whole{true};
    forEachBand(h, kBandHeight, run, [&](int y0, int y1) {
        bool all = true;
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < w; ++x)
                all = all && (x >= lastX || std::isfinite(steps.right[steps.at(x, y)])) &&
                      (y >= lastY || std::isfinite(steps.down[steps.at(x, y)]));
        if (!all)
            whole = false;
    });
    steps.whole = whole;
    return steps;
}

/// Calls work(index, neighbour, step, sign) for each joined neighbour of a cell: z[neighbour] - z[index] should
/// be sign * step.
template <typename Work> void forNeighbours(const Steps& s, int x, int y, const Work& work) {
    const int w = s.width;
    const int h = s.height;
    const std::size_t here = s.at(x, y);
    if (x + 1 < w || (s.periodic && w > 1))
        if (const float d = s.right[here]; std::isfinite(d))
            work(s.at(x + 1 < w ? x + 1 : 0, y), d, 1.0F);
    if (x > 0 || (s.periodic && w > 1)) {
        const std::size_t left = s.at(x > 0 ? x - 1 : w - 1, y);
        if (const float d = s.right[left]; std::isfinite(d))
            work(left, d, -1.0F);
    }
    if (y + 1 < h || (s.periodic && h > 1))
        if (const float d = s.down[here]; std::isfinite(d))
            work(s.at(x, y + 1 < h ? y + 1 : 0), d, 1.0F);
    if (y > 0 || (s.periodic && h > 1)) {
        const std::size_t above = s.at(x, y > 0 ? y - 1 : h - 1);
        if (const float d = s.down[above]; std::isfinite(d))
            work(above, d, -1.0F);
    }
}

/// The right side: what the steps want of each cell.
Grid wantedOf(const Steps& s, const RunContext& run) {
    Grid f(s.right.size());
    const int w = s.width;
    forEachBand(s.height, kBandHeight, run, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y) {
            const bool inside = s.whole && y > 0 && y + 1 < s.height;
            const float* right = s.right.data() + s.at(0, y);
            const float* down = s.down.data() + s.at(0, y);
            const float* above = inside ? down - w : down;
            for (int x = 0; x < w; ++x) {
                if (inside && x > 0 && x + 1 < w) {
                    f[s.at(x, y)] = right[x - 1] - right[x] + above[x] - down[x];
                    continue;
                }
                float sum = 0.0F;
                forNeighbours(s, x, y,
                              [&](std::size_t, float step, float sign) { sum -= sign * step; });
                f[s.at(x, y)] = sum;
            }
        }
    });
    return f;
}

/// to = (L + anchor weights) z, over joined neighbours alone.
void applyTo(const Steps& s, const Grid& z, const Grid& anchored, Grid& to, const RunContext& run) {
    forEachBand(s.height, kBandHeight, run, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < s.width; ++x) {
                const std::size_t here = s.at(x, y);
                float sum = anchored.empty() ? 0.0F : anchored[here] * z[here];
                forNeighbours(s, x, y,
                              [&](std::size_t other, float, float) { sum += z[here] - z[other]; });
                to[here] = sum;
            }
    });
}

/// In a fixed order, whatever the number of threads.
double dot(const Grid& a, const Grid& b) {
    constexpr std::size_t kPiece = 1U << 16U;
    const std::size_t pieces = (a.size() + kPiece - 1) / kPiece;
    std::vector<double> sums(pieces);
    forEachBand(static_cast<int>(pieces), 1, {}, [&](int from, int to) {
        for (int p = from; p < to; ++p) {
            const std::size_t first = static_cast<std::size_t>(p) * kPiece;
            const std::size_t last = std::min(first + kPiece, a.size());
            double sum = 0.0;
            for (std::size_t i = first; i < last; ++i)
                sum += static_cast<double>(a[i]) * static_cast<double>(b[i]);
            sums[static_cast<std::size_t>(p)] = sum;
        }
    });
    return std::accumulate(sums.begin(), sums.end(), 0.0);
}

/// Calls work(i) for each i below a count, on all cores.
template <typename Work> void forAll(std::size_t count, const Work& work) {
    constexpr std::size_t kPiece = 1U << 16U;
    forEachBand(static_cast<int>((count + kPiece - 1) / kPiece), 1, {}, [&](int from, int to) {
        const std::size_t last = std::min(static_cast<std::size_t>(to) * kPiece, count);
        for (std::size_t i = static_cast<std::size_t>(from) * kPiece; i < last; ++i)
            work(i);
    });
}

/// Conjugate gradients, preconditioned by the solution on a whole grid.
Grid solveWeighted(const Steps& steps, const Grid& f, const Grid& anchored, float meanAnchor,
                   const IntegrationSettings& settings, const RunContext& run) {
    const std::size_t count = f.size();
    PoissonSolver solver(steps.width, steps.height, settings.edges);
    Grid z(count, 0.0F);
    Grid residual = f;
    Grid conditioned = residual;
    solver.solve(conditioned, meanAnchor, run);
    Grid way = conditioned;
    Grid applied(count);
    double energy = dot(residual, conditioned);
    const double enough =
        energy * static_cast<double>(settings.tolerance) * static_cast<double>(settings.tolerance);
    for (int round = 0; round < settings.mostRounds && energy > enough && !run.stopped(); ++round) {
        applyTo(steps, way, anchored, applied, run);
        const double curvature = dot(way, applied);
        if (!(curvature > 0.0))
            break;
        const auto along = static_cast<float>(energy / curvature);
        forAll(count, [&](std::size_t i) {
            z[i] += along * way[i];
            residual[i] -= along * applied[i];
            conditioned[i] = residual[i];
        });
        solver.solve(conditioned, meanAnchor, run);
        const double next = dot(residual, conditioned);
        const auto keep = static_cast<float>(next / energy);
        energy = next;
        forAll(count, [&](std::size_t i) { way[i] = conditioned[i] + keep * way[i]; });
        run.report(static_cast<float>(round + 1) / static_cast<float>(settings.mostRounds));
    }
    return z;
}

}  // namespace

Image heightsFromSlopes(const Slopes& slopes, const IntegrationSettings& settings,
                        const RunContext& run) {
    const Steps steps = stepsOf(slopes, settings, run);
    const int w = steps.width;
    const int h = steps.height;
    const auto isKnown = [&](int x, int y) {
        return std::isfinite(slopes.right(x, y, 0)) && std::isfinite(slopes.up(x, y, 0));
    };
    Grid f = wantedOf(steps, run);

    Grid anchored;
    double anchorSum = 0.0;
    float strength = 0.0F;
    if (!settings.anchor.empty()) {
        const float wavelength =
            settings.anchorWavelength > 0.0F
                ? settings.anchorWavelength
                : 8.0F * static_cast<float>(std::max(w, h)) * settings.metresPerPixel;
        const float perCell =
            2.0F * std::numbers::pi_v<float> * settings.metresPerPixel / wavelength;
        strength = std::min(perCell * perCell, 4.0F);
        anchored.assign(f.size(), 0.0F);
        for (int y = 0; y < h; ++y)
            for (int x = 0; x < w; ++x)
                if (const float known = settings.anchor(x, y, 0);
                    std::isfinite(known) && isKnown(x, y)) {
                    anchored[steps.at(x, y)] = strength;
                    f[steps.at(x, y)] += strength * known;
                    anchorSum += 1.0;
                }
    }
    const bool allAnchored = anchorSum == static_cast<double>(f.size());
    Grid z;
    if (steps.whole && (anchored.empty() || allAnchored)) {
        z = std::move(f);
        PoissonSolver(w, h, settings.edges).solve(z, allAnchored ? strength : 0.0F, run);
    } else {
        const auto mean = static_cast<float>(anchorSum / static_cast<double>(f.size()));
        z = solveWeighted(steps, f, anchored, strength * mean, settings, run);
    }

    // By rows, so that the sum is the same for any number of threads.
    std::vector<double> sums(static_cast<std::size_t>(h), 0.0);
    std::vector<std::size_t> counts(static_cast<std::size_t>(h), 0);
    forEachBand(h, kBandHeight, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < w; ++x)
                if (isKnown(x, y)) {
                    sums[static_cast<std::size_t>(y)] += static_cast<double>(z[steps.at(x, y)]);
                    ++counts[static_cast<std::size_t>(y)];
                }
    });
    const double sum = std::accumulate(sums.begin(), sums.end(), 0.0);
    const std::size_t known = std::accumulate(counts.begin(), counts.end(), std::size_t{0});
    if (known == 0)
        throw Error(ErrorCode::BadFile, "no slope is known anywhere because all normals are empty "
                                        "or face away; check their space and encoding");
    const auto mean = anchorSum > 0.0 ? 0.0F : static_cast<float>(sum / static_cast<double>(known));
    Image heights = Image::unset(w, h, {"Y"});
    float* plane = heights.editPlane(0);
    forEachBand(h, kBandHeight, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < w; ++x)
                plane[heights.rowStride() * y + x] = isKnown(x, y)
                                                         ? z[steps.at(x, y)] - mean
                                                         : std::numeric_limits<float>::quiet_NaN();
    });
    return heights;
}

}  // namespace noctis
