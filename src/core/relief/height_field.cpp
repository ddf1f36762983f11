#include "core/relief/height_field.h"

#include "core/image/error.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

namespace noctis {

Image unsetHeights(int width, int height) { return Image::unset(width, height, {"Y"}); }

V2f placeOf(const HeightField& field, int x, int y, int sourceWidth, int sourceHeight) noexcept {
    if (!field.places.empty())
        return {field.places(x, y, 0), field.places(x, y, 1)};
    return {(static_cast<float>(x) + 0.5F) * static_cast<float>(sourceWidth) /
                static_cast<float>(field.width()),
            (static_cast<float>(y) + 0.5F) * static_cast<float>(sourceHeight) /
                static_cast<float>(field.height())};
}

V2f cellOf(const HeightField& field, const V2f& place, int sourceWidth, int sourceHeight) noexcept {
    if (field.places.empty())
        return {place.x * static_cast<float>(field.width()) / static_cast<float>(sourceWidth),
                place.y * static_cast<float>(field.height()) / static_cast<float>(sourceHeight)};
    V2f best(std::numeric_limits<float>::quiet_NaN());
    float nearest = kNothingHit;
    const auto look = [&](int x0, int y0, int x1, int y1, int step) {
        for (int y = std::max(y0, 0); y < std::min(y1, field.height()); y += step)
            for (int x = std::max(x0, 0); x < std::min(x1, field.width()); x += step) {
                const float away =
                    (placeOf(field, x, y, sourceWidth, sourceHeight) - place).length2();
                if (away < nearest) {
                    nearest = away;
                    best = {static_cast<float>(x) + 0.5F, static_cast<float>(y) + 0.5F};
                }
            }
    };
    // In steps first: cells beside each other show places beside each other.
    constexpr int kStep = 8;
    look(0, 0, field.width(), field.height(), kStep);
    if (nearest < kNothingHit) {
        const V2f about = best;
        look(static_cast<int>(about.x) - kStep, static_cast<int>(about.y) - kStep,
             static_cast<int>(about.x) + kStep + 1, static_cast<int>(about.y) + kStep + 1, 1);
    }
    return best;
}

HeightStatistics heightStatisticsOf(const Image& heights) {
    HeightStatistics statistics;
    float lowest = kNothingHit;
    float highest = -kNothingHit;
    double sum = 0.0;
    for (int y = 0; y < heights.height(); ++y) {
        const float* row = heights.row(0, y);
        double rowSum = 0.0;
        for (int x = 0; x < heights.width(); ++x) {
            if (!std::isfinite(row[x])) {
                ++statistics.holes;
                continue;
            }
            ++statistics.known;
            lowest = std::min(lowest, row[x]);
            highest = std::max(highest, row[x]);
            rowSum += static_cast<double>(row[x]);
        }
        sum += rowSum;
    }
    if (statistics.known > 0) {
        statistics.lowest = lowest;
        statistics.highest = highest;
        statistics.mean = sum / static_cast<double>(statistics.known);
    }
    return statistics;
}

std::array<float, 2> writtenRange(const HeightField& field) {
    if (field.range)
        return *field.range;
    const HeightStatistics statistics = heightStatisticsOf(field.heights);
    return {statistics.lowest, statistics.highest};
}

FittedPlane planeThrough(const Image& heights) {
    const double middleX = 0.5 * (heights.width() - 1);
    const double middleY = 0.5 * (heights.height() - 1);
    double n = 0, sx = 0, sy = 0, sz = 0, xx = 0, xy = 0, yy = 0, xz = 0, yz = 0;
    for (int y = 0; y < heights.height(); ++y) {
        const float* row = heights.row(0, y);
        const double v = y - middleY;
        for (int x = 0; x < heights.width(); ++x) {
            if (!std::isfinite(row[x]))
                continue;
            const double u = x - middleX;
            const auto z = static_cast<double>(row[x]);
            n += 1.0;
            sx += u;
            sy += v;
            sz += z;
            xx += u * u;
            xy += u * v;
            yy += v * v;
            xz += u * z;
            yz += v * z;
        }
    }
    FittedPlane plane;
    if (n < 1.0)
        return plane;
    xx -= sx * sx / n;
    xy -= sx * sy / n;
    yy -= sy * sy / n;
    xz -= sx * sz / n;
    yz -= sy * sz / n;
    const double determinant = xx * yy - xy * xy;
    if (determinant > 1e-9 * xx * yy && determinant > 0.0) {
        plane.a = (xz * yy - yz * xy) / determinant;
        plane.b = (yz * xx - xz * xy) / determinant;
    }
    const double atMiddle = (sz - plane.a * sx - plane.b * sy) / n;
    plane.c = atMiddle - plane.a * middleX - plane.b * middleY;
    return plane;
}

float heightAt(const Image& heights, float x, float y) noexcept {
    const float u = std::clamp(x, 0.0F, static_cast<float>(heights.width() - 1));
    const float v = std::clamp(y, 0.0F, static_cast<float>(heights.height() - 1));
    const int x0 = std::min(static_cast<int>(u), std::max(heights.width() - 2, 0));
    const int y0 = std::min(static_cast<int>(v), std::max(heights.height() - 2, 0));
    const int x1 = std::min(x0 + 1, heights.width() - 1);
    const int y1 = std::min(y0 + 1, heights.height() - 1);
    const float s = u - static_cast<float>(x0);
    const float t = v - static_cast<float>(y0);
    const float above = heights(x0, y0, 0) * (1.0F - s) + heights(x1, y0, 0) * s;
    const float below = heights(x0, y1, 0) * (1.0F - s) + heights(x1, y1, 0) * s;
    return above * (1.0F - t) + below * t;
}

V3f scenePoint(const HeightField& field, float x, float y, float height) noexcept {
    const float m = field.metresPerPixel;
    return field.plane.origin + field.plane.right * ((x + 0.5F) * m) -
           field.plane.up * ((y + 0.5F) * m) + field.plane.normal * height;
}

double LengthUnit::number(float length) const noexcept {
    const double value = static_cast<double>(length) / static_cast<double>(metres);
    constexpr double kRounding = 1e-5;
    return std::abs(value) < kRounding ? 0.0 : value;
}

LengthUnit lengthUnitFor(float largest) {
    const float size = std::abs(largest);
    if (size >= 1.0F)
        return {1.0F, "m"};
    return size >= 1e-3F || size == 0.0F ? LengthUnit{1e-3F, "mm"} : LengthUnit{1e-6F, "µm"};
}

std::string lengthText(double metres) {
    if (!std::isfinite(metres))
        return "none";
    const LengthUnit unit = lengthUnitFor(static_cast<float>(metres));
    const double value = metres / static_cast<double>(unit.metres);
    const double size = std::abs(value);
    const int decimals = size == 0.0 ? 0 : size >= 99.95 ? 1 : size >= 9.995 ? 2 : 3;
    return fmt::format("{:.{}f}\u2009{}", value, decimals, unit.name);
}

void requireCells(double width, double height) {
    if (!(width >= 1.0 && height >= 1.0) || width > kMaximumSide || height > kMaximumSide ||
        width * height > static_cast<double>(kMostCells))
        throw Error(ErrorCode::TooLarge,
                    fmt::format("a map of {:.0f} x {:.0f} is too large ({} million cells and sides "
                                "of {} at most); use more metres per pixel or a smaller part",
                                width, height, kMostCells / 1000000, kMaximumSide));
}

}  // namespace noctis
