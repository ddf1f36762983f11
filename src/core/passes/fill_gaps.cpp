#include "core/passes/fill_gaps.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

namespace noctis {

namespace {

struct Filled {
    std::ptrdiff_t at;
    float value;
};

/// The middle of the numbers among the eight around a pixel; not a number where there are none.
float middleAround(const float* plane, std::ptrdiff_t stride, int width, int height, int x, int y) {
    std::array<float, 8> found{};
    std::size_t count = 0;
    for (int v = std::max(y - 1, 0); v <= std::min(y + 1, height - 1); ++v)
        for (int u = std::max(x - 1, 0); u <= std::min(x + 1, width - 1); ++u)
            if (const float value = plane[stride * v + u]; !std::isnan(value))
                found[count++] = value;
    if (count == 0)
        return std::nanf("");
    const auto middle = found.begin() + static_cast<std::ptrdiff_t>((count - 1) / 2);
    std::nth_element(found.begin(), middle, found.begin() + static_cast<std::ptrdiff_t>(count));
    return *middle;
}

}  // namespace

Image withoutGaps(const Image& image) {
    Image out = image;
    const int width = image.width();
    const std::ptrdiff_t stride = image.rowStride();
    for (int c = 0; c < image.channels(); ++c) {
        std::vector<std::ptrdiff_t> gaps;
        for (int y = 0; y < image.height(); ++y)
            for (int x = 0; x < width; ++x)
                if (std::isnan(image(x, y, c)))
                    gaps.push_back(stride * y + x);
        if (gaps.empty())
            continue;
        float* plane = out.editPlane(c);
        std::vector<Filled> filled;
        do {
            filled.clear();
            std::erase_if(gaps, [&](std::ptrdiff_t at) {
                const float value =
                    middleAround(plane, stride, width, image.height(),
                                 static_cast<int>(at % stride), static_cast<int>(at / stride));
                if (std::isnan(value))
                    return false;
                filled.push_back({at, value});
                return true;
            });
            // After the round, so that the order of pixels makes no difference.
            for (const Filled& each : filled)
                plane[each.at] = each.value;
        } while (!filled.empty() && !gaps.empty());
    }
    return out;
}

}  // namespace noctis
