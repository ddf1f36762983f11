#pragma once

#include "core/image/image.h"
#include "core/image/tiles.h"

#include <array>
#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace noctis {

/// How pictures are laid out on a sheet.
struct SheetLayout {
    int columns = 0;          ///< 0: as many as make the sheet nearly square
    bool trimmed = true;      ///< all to the one box that holds what is seen in any of them
    int padding = 2;          ///< px of nothing around each cell
    bool powerOfTwo = false;  ///< the sheet's sides; the rest of it is empty
    /// px of a picture: the place that stays put from one to the next; none: the middle of its width, at the foot of what is
    /// seen in any of them.
    std::optional<std::array<int, 2>> pivot{};
    bool operator==(const SheetLayout&) const = default;
};

/// Where one picture is on a sheet.
struct SheetCell {
    std::string view;
    int frame = 1;
    std::array<int, 2> at{};      ///< px of the sheet, top left
    std::array<int, 2> size{};    ///< px
    std::array<int, 2> offset{};  ///< px of the picture it was cut from
    std::array<int, 2> pivot{};   ///< px of the cell; may lie beside it
    bool operator==(const SheetCell&) const = default;
};

/// The box of what is seen of a picture, by its channel A; the whole picture where it has none, empty where nothing is seen.
Tile seenBox(const Image& picture);

/// The box that holds both; an empty one holds nothing.
Tile boxAround(const Tile& a, const Tile& b);

/// Where pictures of one size go, in their order, row by row. seen: the box of what is seen in any of them.
/// Errors   Error(BadSetting) for a sheet beyond kMaximumSide or kMaximumPixels.
struct SheetPlan {
    int width = 0;
    int height = 0;
    std::vector<SheetCell> cells;  ///< view and frame unset
};
SheetPlan sheetPlanOf(int count, int width, int height, const Tile& seen,
                      const SheetLayout& layout);

/// Copies a picture into its cell.
void putCell(Image& sheet, const Image& picture, const SheetCell& cell);

/// The colours of what is seen, carried on to where A is 0, so that a scaled sprite has no dark rim. A stays.
/// Shape    straight R G B A; without A, the same picture.
Image withColourExtended(const Image& straight);

/// The JSON of a sheet; see docs/guide.md.
std::string sheetToText(const std::filesystem::path& picture, const SheetPlan& plan);
/// Where it goes: beside the picture.
std::filesystem::path sheetTextFileOf(const std::filesystem::path& picture);

}  // namespace noctis
