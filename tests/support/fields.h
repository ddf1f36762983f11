#pragma once

#include "core/relief/height_field.h"
#include "core/relief/integrate.h"

#include <cmath>
#include <limits>
#include <numbers>

namespace noctis::test {

/// A smooth surface of waves, with its exact slopes. Heights in metres over cells of one millimetre.
struct Waves {
    float acrossCells = 40.0F;
    float downCells = 64.0F;
    float high = 0.01F;
    static constexpr float kCell = 0.001F;

    [[nodiscard]] float at(float x, float y) const {
        return high * std::sin(turn() * x / acrossCells) * std::cos(turn() * y / downCells);
    }
    [[nodiscard]] float right(float x, float y) const {
        return high * turn() / (acrossCells * kCell) * std::cos(turn() * x / acrossCells) *
               std::cos(turn() * y / downCells);
    }
    [[nodiscard]] float up(float x, float y) const {
        return high * turn() / (downCells * kCell) * std::sin(turn() * x / acrossCells) *
               std::sin(turn() * y / downCells);
    }
    static float turn() { return 2.0F * std::numbers::pi_v<float>; }
};

template <typename Work> Image filledBy(int width, int height, const Work& work) {
    Image image = unsetHeights(width, height);
    float* to = image.editPlane(0);
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x)
            to[image.rowStride() * y + x] = work(x, y);
    return image;
}

template <typename Surface> Image heightsBy(const Surface& s, int width, int height) {
    return filledBy(width, height, [&](int x, int y) {
        return s.at(static_cast<float>(x), static_cast<float>(y));
    });
}

template <typename Surface> Slopes slopesBy(const Surface& s, int width, int height) {
    return {filledBy(width, height,
                     [&](int x, int y) {
                         return s.right(static_cast<float>(x), static_cast<float>(y));
                     }),
            filledBy(width, height, [&](int x, int y) {
                return s.up(static_cast<float>(x), static_cast<float>(y));
            })};
}

/// Unit normals of slopes: X Y Z, +y up the picture.
inline Image normalsBy(const Slopes& slopes) {
    const int w = slopes.right.width();
    const int h = slopes.right.height();
    Image normals(w, h, {"X", "Y", "Z"});
    float* to[3] = {normals.editPlane(0), normals.editPlane(1), normals.editPlane(2)};
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x) {
            const V3f n = V3f(-slopes.right(x, y, 0), -slopes.up(x, y, 0), 1.0F).normalized();
            for (int c = 0; c < 3; ++c)
                to[c][normals.rowStride() * y + x] = n[c];
        }
    return normals;
}

/// The root mean square of what two fields differ by, up to a constant, where within(x, y).
template <typename Within> double apart(const Image& a, const Image& b, const Within& within) {
    double sum = 0.0;
    double squares = 0.0;
    double count = 0.0;
    for (int y = 0; y < a.height(); ++y)
        for (int x = 0; x < a.width(); ++x) {
            if (!within(x, y))
                continue;
            const bool known = std::isfinite(a(x, y, 0));
            if (known != std::isfinite(b(x, y, 0)))
                return std::numeric_limits<double>::infinity();  // a hole in one of them
            if (!known)
                continue;
            const auto d = static_cast<double>(a(x, y, 0)) - static_cast<double>(b(x, y, 0));
            sum += d;
            squares += d * d;
            count += 1.0;
        }
    return std::sqrt(std::max(squares / count - sum * sum / (count * count), 0.0));
}
inline double apart(const Image& a, const Image& b) {
    return apart(a, b, [](int, int) { return true; });
}

}  // namespace noctis::test
