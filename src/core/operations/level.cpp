#include "core/operations/each_height.h"
#include "core/relief/relief_type.h"

#include <numbers>

#include <fmt/format.h>

namespace noctis {

namespace {

enum class LevelBy { Plane, Points, Lowest, Mean };

struct LevelSettings {
    LevelBy by = LevelBy::Plane;
    PlaceList points{};
};

/// Through three places of the map, px.
FittedPlane planeOf(const HeightField& field, const PlaceList& points, int factor) {
    Image marked = unsetHeights(field.width(), field.height());
    float* to = marked.editPlane(0);
    for (int y = 0; y < field.height(); ++y)
        std::fill_n(to + marked.rowStride() * y, field.width(),
                    std::numeric_limits<float>::quiet_NaN());
    for (const V2f& point : points) {
        const int x = std::clamp(static_cast<int>(point.x) / factor, 0, field.width() - 1);
        const int y = std::clamp(static_cast<int>(point.y) / factor, 0, field.height() - 1);
        to[marked.rowStride() * y + x] = field.heights(x, y, 0);
    }
    return planeThrough(marked);
}

}  // namespace

OperationType levelOperation() {
    using S = LevelSettings;
    return OperationBuilder<S>("level", "Level")
        .help("Removes a tilt, or sets where height 0 is.")
        .choice(&S::by, "by", "By",
                {{"plane", "Plane through everything"},
                 {"points", "Plane through points"},
                 {"lowest", "Lowest is 0"},
                 {"mean", "Mean is 0"}},
                "What becomes level and gets height 0.")
        .places(&S::points, "points", "Points",
                "Three or more places of the map that should be level, px.")
        .onlyWhen("by=points")
        .apply([](const HeightField& field, const S& s, const OperationContext& context,
                  const RunContext&) {
            HeightField out = field;
            FittedPlane plane;
            const HeightStatistics statistics = heightStatisticsOf(field.heights);
            if (s.by == LevelBy::Plane)
                plane = planeThrough(field.heights);
            else if (s.by == LevelBy::Points)
                plane = planeOf(field, s.points, context.factor);
            else
                plane.c = s.by == LevelBy::Lowest ? static_cast<double>(statistics.lowest)
                                                  : statistics.mean;
            forEachHeight(out, [&](float h, int x, int y) {
                return static_cast<float>(static_cast<double>(h) - plane.at(x, y));
            });
            out.range.reset();
            out.level = s.by == LevelBy::Lowest ? "the lowest height"
                        : s.by == LevelBy::Mean ? "the mean height"
                                                : "the plane that was removed";
            return out;
        })
        .summary([](const S& s) {
            switch (s.by) {
            case LevelBy::Plane:
                return std::string("the plane through everything removed");
            case LevelBy::Points:
                return fmt::format("the plane through {} points removed", s.points.size());
            case LevelBy::Lowest:
                return std::string("the lowest height is 0");
            default:
                return std::string("the mean height is 0");
            }
        })
        .build();
}

}  // namespace noctis
