#include "core/image/resample.h"

#include "core/image/tiles.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace noctis {

namespace {

constexpr int kBandHeight = 16;

float blockMean(const float* plane, std::ptrdiff_t stride, int x0, int y0, int x1, int y1) {
    float sum = 0.0F;
    for (int y = y0; y < y1; ++y)
        for (int x = x0; x < x1; ++x)
            sum += plane[stride * y + x];
    return sum / static_cast<float>((x1 - x0) * (y1 - y0));
}

template <typename Sample>
Image shrink(const Image& image, int factor, const RunContext& run, Sample sample) {
    if (factor <= 1 || image.empty())
        return image;
    const int width = (image.width() + factor - 1) / factor;
    const int height = (image.height() + factor - 1) / factor;
    std::vector<std::string> names;
    for (int c = 0; c < image.channels(); ++c)
        names.push_back(image.channelName(c));
    Image out = Image::unset(width, height, std::move(names));
    for (int c = 0; c < image.channels(); ++c) {
        const float* from = image.plane(c);
        float* to = out.editPlane(c);
        forEachBand(height, kBandHeight, run, [&](int y0, int y1) {
            for (int y = y0; y < y1; ++y)
                for (int x = 0; x < width; ++x)
                    to[out.rowStride() * y + x] =
                        sample(from, image.rowStride(), x * factor, y * factor,
                               std::min((x + 1) * factor, image.width()),
                               std::min((y + 1) * factor, image.height()));
        });
    }
    return out;
}

}  // namespace

Image shrinkByMean(const Image& image, int factor, const RunContext& run) {
    return shrink(image, factor, run, blockMean);
}

Image shrinkByCentre(const Image& image, int factor, const RunContext& run) {
    return shrink(image, factor, run,
                  [](const float* plane, std::ptrdiff_t stride, int x0, int y0, int x1, int y1) {
                      return plane[stride * ((y0 + y1) / 2) + (x0 + x1) / 2];
                  });
}

}  // namespace noctis
