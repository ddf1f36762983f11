#include "core/steps/spread.h"

#include "core/image/tiles.h"

#include <algorithm>

namespace noctis {

namespace {

/// Points of one row, with their padding beyond the picture's sides, ready to be written.
struct ReadyRow {
    std::vector<SpreadPoint> points;  ///< scaled by their kernels' weight
    int reach = 0;
};

ReadyRow readyRow(const std::vector<SpreadPoint>& from, int width, const ApertureKernels& kernels) {
    ReadyRow ready;
    ready.points.reserve(from.size() + 64);
    const auto add = [&](SpreadPoint point, int x) {
        const ApertureKernel& kernel = kernels.at(point.kernel);
        for (float& channel : point.colour)
            channel *= kernel.weight;
        point.weight *= kernel.weight;
        point.x = x;
        ready.points.push_back(point);
    };
    for (const SpreadPoint& point : from) {
        const int reach = kernels.at(point.kernel).reach;
        ready.reach = std::max(ready.reach, reach);
        if (point.x == 0)
            for (int x = -reach; x < 0; ++x)
                add(point, x);
        add(point, point.x);
        if (point.x == width - 1)
            for (int x = width; x < width + reach; ++x)
                add(point, x);
    }
    return ready;
}

Float4 valueOf(const SpreadPoint& p) {
    return Float4{p.colour[0], p.colour[1], p.colour[2], p.weight};
}

/// Writes the differences of all of a source row's points for the output row that lies `down` below
/// it.
void addDifferences(const ReadyRow& source, int down, const ApertureKernels& kernels,
                    Float4* differences) noexcept {
    const int distance = down < 0 ? -down : down;
    for (const SpreadPoint& point : source.points) {
        const ApertureKernel& kernel = kernels.at(point.kernel);
        if (distance > kernel.reach || kernel.reach == 0)
            continue;
        const ApertureSpan& span = kernel.rows[static_cast<std::size_t>(down + kernel.reach)];
        const Float4 value = valueOf(point);
        Float4* left = differences + point.x + span.left;
        Float4* right = differences + point.x + span.right;
        left[-1] += value * span.leftPart;
        left[0] += value * (1.0F - span.leftPart);
        right[1] -= value * (1.0F - span.rightPart);
        right[2] -= value * span.rightPart;
    }
}

}  // namespace

WeightedPicture spread(int width, const SpreadRows& rows, const ApertureKernels& kernels,
                       const RunContext& run) {
    const int height = static_cast<int>(rows.size());
    std::vector<ReadyRow> ready(rows.size());
    forEachBand(height, kBandHeight, run, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            ready[static_cast<std::size_t>(y)] =
                readyRow(rows[static_cast<std::size_t>(y)], width, kernels);
    });
    int reach = 0;
    for (const ReadyRow& row : ready)
        reach = std::max(reach, row.reach);

    WeightedPicture out(width, height);
    const int margin = 2 * reach + 4;
    forEachBand(height, kBandHeight, run, [&](int y0, int y1) {
        std::vector<Float4> line(static_cast<std::size_t>(width + 2 * margin));
        for (int y = y0; y < y1 && !run.stopped(); ++y) {
            std::fill(line.begin(), line.end(), Float4{});
            bool any = false;
            for (int from = y - reach; from <= y + reach && reach > 0; ++from) {
                const ReadyRow& source =
                    ready[static_cast<std::size_t>(std::clamp(from, 0, height - 1))];
                if (std::abs(y - from) > source.reach || source.points.empty())
                    continue;
                addDifferences(source, y - from, kernels, line.data() + margin);
                any = true;
            }
            Float4* to = out.row(y);
            if (any) {
                Float4 sum{};
                for (int x = 0; x < margin; ++x)
                    sum += line[static_cast<std::size_t>(x)];
                for (int x = 0; x < width; ++x) {
                    sum += line[static_cast<std::size_t>(x + margin)];
                    to[x] = sum;
                }
            }
            // Sharp points stay where they are, bit for bit.
            for (const SpreadPoint& point : ready[static_cast<std::size_t>(y)].points)
                if (kernels.at(point.kernel).reach == 0)
                    to[point.x] += valueOf(point);
        }
    });
    return out;
}

}  // namespace noctis
