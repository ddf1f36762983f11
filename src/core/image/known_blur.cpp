#include "core/image/known_blur.h"

#include "core/image/tiles.h"

#include <algorithm>
#include <cmath>

#include <opencv2/imgproc.hpp>

namespace noctis {

namespace {

/// Wider blurs are taken at a smaller size.
constexpr float kWidestSigma = 6.0F;

void gaussian(cv::Mat& image, float sigma) {
    const int factor = std::max(1, static_cast<int>(sigma / kWidestSigma));
    if (factor == 1) {
        cv::GaussianBlur(image, image, {0, 0}, static_cast<double>(sigma), 0.0, cv::BORDER_REFLECT);
        return;
    }
    // Padded to whole blocks, so that samples keep their places.
    const cv::Size size = image.size();
    cv::Mat padded;
    cv::copyMakeBorder(image, padded, 0, (factor - size.height % factor) % factor, 0,
                       (factor - size.width % factor) % factor, cv::BORDER_REPLICATE);
    cv::Mat small;
    cv::resize(padded, small, {padded.cols / factor, padded.rows / factor}, 0, 0, cv::INTER_AREA);
    cv::GaussianBlur(small, small, {0, 0}, static_cast<double>(sigma) / factor, 0.0,
                     cv::BORDER_REFLECT);
    cv::resize(small, padded, padded.size(), 0, 0, cv::INTER_CUBIC);
    padded(cv::Rect({0, 0}, size)).copyTo(image);
}

}  // namespace

Image knownBlur(const Image& image, float sigma) {
    const int w = image.width();
    const int h = image.height();
    cv::Mat sum(h, w, CV_32F);
    cv::Mat weight(h, w, CV_32F);
    bool all = true;
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x) {
            const float value = image(x, y, 0);
            const bool known = std::isfinite(value);
            all = all && known;
            sum.at<float>(y, x) = known ? value : 0.0F;
            weight.at<float>(y, x) = known ? 1.0F : 0.0F;
        }
    gaussian(sum, sigma);
    if (!all)
        gaussian(weight, sigma);
    Image out = Image::unset(w, h, {image.channelName(0)});
    float* to = out.editPlane(0);
    forEachBand(h, kBandHeight, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < w; ++x)
                to[out.rowStride() * y + x] =
                    std::isfinite(image(x, y, 0))
                        ? sum.at<float>(y, x) / std::max(weight.at<float>(y, x), 1e-12F)
                        : image(x, y, 0);
    });
    return out;
}

}  // namespace noctis
