#include "core/image/resample.h"

#include "core/image/tiles.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include <opencv2/imgproc.hpp>

namespace noctis {

namespace {

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

Image resized(const Image& image, int width, int height, Resampling how) {
    if (image.width() == width && image.height() == height)
        return image;
    const int flag = how == Resampling::Nearest  ? cv::INTER_NEAREST_EXACT
                     : how == Resampling::Linear ? cv::INTER_LINEAR
                     : how == Resampling::Cubic  ? cv::INTER_CUBIC
                                                 : cv::INTER_AREA;
    std::vector<std::string> names;
    for (int c = 0; c < image.channels(); ++c)
        names.push_back(image.channelName(c));
    Image out = Image::unset(width, height, std::move(names));
    for (int c = 0; c < image.channels(); ++c) {
        cv::Mat from(image.height(), image.width(), CV_32F);
        for (int y = 0; y < image.height(); ++y)
            std::copy_n(image.row(c, y), image.width(), from.ptr<float>(y));
        cv::Mat to;
        cv::resize(from, to, {width, height}, 0, 0, flag);
        float* plane = out.editPlane(c);
        for (int y = 0; y < height; ++y)
            std::copy_n(to.ptr<float>(y), width, plane + out.rowStride() * y);
    }
    return out;
}

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
