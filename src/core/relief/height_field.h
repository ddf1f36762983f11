#pragma once

#include "core/image/camera.h"
#include "core/image/image.h"
#include "core/settings/value.h"

#include <array>
#include <limits>
#include <optional>
#include <string>

namespace noctis {

// What holds for every height: metres above a level, along the normal of the field's plane; NaN is a
// hole, a cell of which nothing is known.
inline constexpr float kNotKnown = std::numeric_limits<float>::quiet_NaN();

/// Where a field lies in the scene. Cell (x, y) has its middle at
/// origin + right · (x + 0.5) · metresPerPixel - up · (y + 0.5) · metresPerPixel, at height 0.
struct HeightPlane {
    V3f origin{0.0F};  ///< under the top left corner
    V3f right{1.0F, 0.0F, 0.0F};
    V3f up{0.0F, 0.0F, -1.0F};     ///< up the picture
    V3f normal{0.0F, 1.0F, 0.0F};  ///< the way heights are counted
    bool operator==(const HeightPlane&) const = default;
};

/// Heights on a plane of the scene.
struct HeightField {
    Image heights;                  ///< one channel, Y
    float metresPerPixel = 0.001F;  ///< of the plane, both ways
    HeightPlane plane;
    /// The place in the source's frame that each cell shows, px: x and y, NaN for none. Empty: rows and
    /// columns are the source's.
    Image places{};
    float exaggeration = 1.0F;  ///< what heights were multiplied by since they were measured
    /// The heights that black and white stand for when they are written; unset: the lowest and highest.
    std::optional<std::array<float, 2>> range{};
    std::string level;                    ///< what height 0 is, in a few words
    std::vector<std::string> notes{};     ///< what was guessed and why, whole sentences
    std::vector<std::string> warnings{};  ///< what was found wrong

    [[nodiscard]] int width() const noexcept { return heights.width(); }
    [[nodiscard]] int height() const noexcept { return heights.height(); }
};

/// The place of the source's frame, which is so large, that a cell shows, px; NaN for none.
V2f placeOf(const HeightField& field, int x, int y, int sourceWidth, int sourceHeight) noexcept;
/// The middle of the cell that shows a place of the source's frame, cells; the nearest there is. Of a field without
/// any place NaN.
V2f cellOf(const HeightField& field, const V2f& place, int sourceWidth, int sourceHeight) noexcept;

/// A field of this size with every height unset.
Image unsetHeights(int width, int height);

/// What a field holds.
struct HeightStatistics {
    float lowest = 0.0F;
    float highest = 0.0F;
    double mean = 0.0;
    std::size_t known = 0;
    std::size_t holes = 0;

    [[nodiscard]] float range() const noexcept { return highest - lowest; }
    /// 0..1.
    [[nodiscard]] double holeFraction() const noexcept {
        return known + holes == 0 ? 0.0
                                  : static_cast<double>(holes) / static_cast<double>(known + holes);
    }
};
HeightStatistics heightStatisticsOf(const Image& heights);

/// The lowest and highest height of what is written: range, or the field's own.
std::array<float, 2> writtenRange(const HeightField& field);

/// A plane z = a x + b y + c over cells, x to the right and y down, in metres a cell.
struct FittedPlane {
    double a = 0.0;
    double b = 0.0;
    double c = 0.0;
    [[nodiscard]] double at(double x, double y) const noexcept { return a * x + b * y + c; }
};
/// By least squares through all that is known. Level through the mean where that decides nothing.
FittedPlane planeThrough(const Image& heights);

/// The height at a place in cells, straight between four; NaN if one of them is a hole.
float heightAt(const Image& heights, float x, float y) noexcept;

/// The point of the scene a cell's height stands for.
V3f scenePoint(const HeightField& field, float x, float y, float height) noexcept;

/// The units lengths are shown in.
struct LengthUnit {
    float metres;
    const char* name;

    /// A length's number in it; what is nothing but rounding is 0.
    [[nodiscard]] double number(float length) const noexcept;
};
/// By the largest of them: m, mm or µm.
LengthUnit lengthUnitFor(float largest);

/// A length as makers read it: "0.43 µm", "28.0 mm", "1.20 m".
std::string lengthText(double metres);

/// Fields beyond this many cells are refused: working on one takes about ten times its floats.
inline constexpr std::size_t kMostCells = std::size_t{1} << 26U;
/// Errors   Error(TooLarge), saying how to get fewer.
void requireCells(double width, double height);

}  // namespace noctis
