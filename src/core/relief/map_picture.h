#pragma once

#include "core/relief/height_field.h"

#include <limits>
#include <mutex>
#include <string>
#include <vector>

namespace noctis {

/// A field at full, half, quarter … size, each made when it is first asked for.
/// Threads  safe from any.
class FieldPyramid {
public:
    explicit FieldPyramid(HeightField field) {
        m_levels.reserve(kMostLevels);  // references that were returned stay valid
        m_levels.push_back(std::move(field));
    }
    FieldPyramid(const FieldPyramid&) = delete;
    FieldPyramid& operator=(const FieldPyramid&) = delete;

    [[nodiscard]] const HeightField& full() const { return m_levels.front(); }
    /// The smallest whose cells are no larger than this many of the full field's.
    [[nodiscard]] const HeightField& level(float cells) const;

private:
    static constexpr std::size_t kMostLevels = 18;
    mutable std::mutex m_mutex;
    mutable std::vector<HeightField> m_levels;
};

enum class MapLook { Grey, Ramp, Relief, Slope, Normals };

/// How a map is looked at.
struct MapPainting {
    MapLook look = MapLook::Relief;
    std::array<float, 2> range{0.0F, 1.0F};               ///< of black and white, or far and near
    V3f towardsLight{-0.6F, 0.6F, 0.53F};                 ///< in the map's axes, +y up the picture
    float contours = 0.0F;                                ///< m between lines; 0: none
    bool tiled = false;                                   ///< repeats beyond its edges
    float lit = std::numeric_limits<float>::quiet_NaN();  ///< heights about this one are tinted
};

/// The part of the map a picture shows: its top left corner in cells, and the cells a pixel of it takes.
struct MapWindow {
    float left = 0.0F;
    float top = 0.0F;
    float cellsPerPixel = 1.0F;
};

/// A picture of a map, R G B, encoded. Holes are hatched, and in Grey what is clipped is tinted.
Image mapPicture(const FieldPyramid& map, const MapPainting& painting, const MapWindow& window,
                 int width, int height);

/// What a field is higher than another of the same plane, at the first one's cells.
HeightField differenceOf(const HeightField& a, const HeightField& b);

/// Heights of another field of the same plane, along a line given in the first one's cells.
std::vector<float> sectionOfOther(const HeightField& other, const HeightField& field,
                                  const V2f& from, const V2f& to, int samples);

/// A round spacing for about that many lines over a range: 1, 2 or 5 times a power of ten.
float roundSpacing(float range, int lines);

/// A number to write on a contour line.
struct ContourLabel {
    float x;  ///< px of the picture
    float y;
    float height;
};
/// Some on each line that is in sight, none near another.
std::vector<ContourLabel> contourLabels(const FieldPyramid& map, float spacing,
                                        const MapWindow& window, int width, int height);

/// Heights along a line over a map, from one place in cells to another; NaN over holes.
std::vector<float> sectionOf(const HeightField& field, const V2f& from, const V2f& to, int samples);

}  // namespace noctis
