#include "core/dispatch/sheet.h"

#include "core/image/error.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstdint>

#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <opencv2/imgproc.hpp>

namespace noctis {

namespace {

/// Half a step of 8 bits: what is fainter is seen in no file.
constexpr float kSeen = 0.5F / 255.0F;

int columnsOf(int count, int width, int height, int asked) {
    if (asked > 0)
        return std::min(asked, count);
    const double cells = static_cast<double>(count) * height / std::max(width, 1);
    // Rather one column more, so that a preview, whose sides are rounded, has as many.
    return std::clamp(static_cast<int>(std::lround(std::sqrt(cells) + 0.01)), 1, count);
}

int sideOf(std::int64_t side, bool powerOfTwo) {
    const std::int64_t whole =
        powerOfTwo ? static_cast<std::int64_t>(std::bit_ceil(static_cast<std::uint64_t>(side)))
                   : side;
    if (whole > kMaximumSide)
        throw Error(ErrorCode::BadSetting,
                    fmt::format("the sheet would have a side of {} px; at most {} can be written. "
                                "Make the pictures smaller, or choose other columns",
                                whole, kMaximumSide));
    return static_cast<int>(whole);
}

}  // namespace

Tile seenBox(const Image& picture) {
    const int alpha = picture.channel("A");
    const Tile whole{0, 0, picture.width(), picture.height()};
    if (alpha < 0)
        return whole;
    Tile box{picture.width(), picture.height(), 0, 0};
    for (int y = 0; y < picture.height(); ++y) {
        const float* row = picture.row(alpha, y);
        const auto* const end = row + picture.width();
        const auto sees = [](float a) { return a >= kSeen; };
        const auto* const first = std::find_if(row, end, sees);
        if (first == end)
            continue;
        int last = picture.width() - 1;
        while (!sees(row[last]))
            --last;
        box.x0 = std::min(box.x0, static_cast<int>(first - row));
        box.x1 = std::max(box.x1, last + 1);
        box.y0 = std::min(box.y0, y);
        box.y1 = y + 1;
    }
    return box.y1 > 0 ? box : Tile{0, 0, 0, 0};
}

Tile boxAround(const Tile& a, const Tile& b) {
    if (a.x1 <= a.x0)
        return b;
    if (b.x1 <= b.x0)
        return a;
    return {std::min(a.x0, b.x0), std::min(a.y0, b.y0), std::max(a.x1, b.x1), std::max(a.y1, b.y1)};
}

SheetPlan sheetPlanOf(int count, int width, int height, const Tile& seen,
                      const SheetLayout& layout) {
    const bool some = seen.x1 > seen.x0;
    const Tile box = layout.trimmed && some ? seen : Tile{0, 0, width, height};
    // Of whole pictures, so that a preview of smaller ones has as many.
    const int columns = columnsOf(count, width, height, layout.columns);
    const int rows = (count + columns - 1) / columns;
    const auto step = [&](int side) { return std::int64_t{side} + 2 * layout.padding; };
    SheetPlan plan;
    plan.width = sideOf(columns * step(box.width()), layout.powerOfTwo);
    plan.height = sideOf(rows * step(box.height()), layout.powerOfTwo);
    if (static_cast<std::size_t>(plan.width) * static_cast<std::size_t>(plan.height) >
        kMaximumPixels)
        throw Error(ErrorCode::BadSetting,
                    fmt::format("a sheet of {} x {} px is too large to be written; make the "
                                "pictures smaller",
                                plan.width, plan.height));
    const std::array<int, 2> pivot =
        layout.pivot.value_or(std::array{width / 2, some ? seen.y1 : height});
    for (int i = 0; i < count; ++i) {
        SheetCell& cell = plan.cells.emplace_back();
        cell.at = {static_cast<int>(i % columns * step(box.width())) + layout.padding,
                   static_cast<int>(i / columns * step(box.height())) + layout.padding};
        cell.size = {box.width(), box.height()};
        cell.offset = {box.x0, box.y0};
        cell.pivot = {pivot[0] - box.x0, pivot[1] - box.y0};
    }
    return plan;
}

void putCell(Image& sheet, const Image& picture, const SheetCell& cell) {
    for (int c = 0; c < sheet.channels(); ++c) {
        float* to = sheet.editPlane(c);
        for (int y = 0; y < cell.size[1]; ++y) {
            const float* from = picture.row(c, cell.offset[1] + y) + cell.offset[0];
            std::copy(from, from + cell.size[0],
                      to + sheet.rowStride() * (cell.at[1] + y) + cell.at[0]);
        }
    }
}

Image withColourExtended(const Image& straight) {
    const int alpha = straight.channel("A");
    if (alpha < 0)
        return straight;
    cv::Mat hidden(straight.height(), straight.width(), CV_8U);
    bool seen = false;
    for (int y = 0; y < straight.height(); ++y)
        for (int x = 0; x < straight.width(); ++x) {
            const bool visible = straight(x, y, alpha) >= kSeen;
            hidden.at<std::uint8_t>(y, x) = visible ? 0 : 255;
            seen = seen || visible;
        }
    if (!seen)
        return straight;
    cv::Mat distance;
    cv::Mat nearest;
    cv::distanceTransform(hidden, distance, nearest, cv::DIST_L2, cv::DIST_MASK_5,
                          cv::DIST_LABEL_PIXEL);
    std::vector<cv::Point> places(static_cast<std::size_t>(hidden.total()) + 1);
    for (int y = 0; y < hidden.rows; ++y)
        for (int x = 0; x < hidden.cols; ++x)
            if (hidden.at<std::uint8_t>(y, x) == 0)
                places[static_cast<std::size_t>(nearest.at<int>(y, x))] = {x, y};
    Image out = straight;
    for (int c = 0; c < straight.channels(); ++c) {
        if (c == alpha)
            continue;
        float* to = out.editPlane(c);
        for (int y = 0; y < hidden.rows; ++y)
            for (int x = 0; x < hidden.cols; ++x)
                if (hidden.at<std::uint8_t>(y, x) != 0) {
                    const cv::Point from = places[static_cast<std::size_t>(nearest.at<int>(y, x))];
                    to[out.rowStride() * y + x] = straight(from.x, from.y, c);
                }
    }
    return out;
}

std::string sheetToText(const std::filesystem::path& picture, const SheetPlan& plan) {
    nlohmann::json cells = nlohmann::json::array();
    for (const SheetCell& cell : plan.cells)
        cells.push_back({{"view", cell.view},
                         {"frame", cell.frame},
                         {"at", cell.at},
                         {"size", cell.size},
                         {"offset", cell.offset},
                         {"pivot", cell.pivot}});
    const nlohmann::json json{{"format", "noctis-sheet"},
                              {"version", 1},
                              {"picture", picture.filename().string()},
                              {"size", {plan.width, plan.height}},
                              {"cells", cells}};
    return json.dump(2) + "\n";
}

std::filesystem::path sheetTextFileOf(const std::filesystem::path& picture) {
    std::filesystem::path file = picture;
    return file.replace_extension(".json");
}

}  // namespace noctis
