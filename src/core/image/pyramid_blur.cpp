#include "core/image/pyramid_blur.h"

#include "core/image/plane_matrix.h"
#include "core/image/tiles.h"

#include <algorithm>
#include <cmath>

#include <opencv2/imgproc.hpp>

namespace noctis {

namespace {

constexpr float kCoarsest = 2.0F;   ///< px; a Gaussian is no narrower than this at its level
constexpr float kNarrowest = 0.2F;  ///< px; narrower is a point
constexpr double kTail = 3.5;       ///< deviations
/// Pixels of each level around the picture: light that a level's filters carry out may come back in.
constexpr int kMargin = 3;

cv::Mat padded(const cv::Mat& from) {
    // Two pixels here are one of the next level; left and top alike, so that the levels stay aligned.
    cv::Mat to;
    cv::copyMakeBorder(from, to, 2 * kMargin, 2 * kMargin + from.rows % 2, 2 * kMargin,
                       2 * kMargin + from.cols % 2, cv::BORDER_CONSTANT, cv::Scalar(0.0));
    return to;
}

/// Half the size, by the weights 1 3 3 1, so that each pixel's light keeps its place.
cv::Mat halved(const cv::Mat& from) {
    static const cv::Mat kernel = (cv::Mat_<float>(1, 3) << 0.25F, 0.5F, 0.25F);
    cv::Mat smooth;
    cv::sepFilter2D(from, smooth, CV_32F, kernel, kernel, {-1, -1}, 0.0, cv::BORDER_CONSTANT);
    cv::Mat to;
    cv::resize(smooth, to, {from.cols / 2, from.rows / 2}, 0.0, 0.0, cv::INTER_AREA);
    return to;
}

/// The deviation that is left for a level, where halving and doubling have blurred already.
float leftAt(int level, float deviation) {
    const float scale = std::ldexp(1.0F, -level);
    const float own = 0.5F * (1.0F - scale * scale);
    return std::sqrt(std::max(deviation * deviation * scale * scale - own, 0.0F));
}

int levelOf(float deviation) {
    int level = 0;
    while (std::ldexp(deviation, -level - 1) >= kCoarsest)
        ++level;
    return level;
}

void addBlurred(const cv::Mat& light, float deviation, double share, cv::Mat& sum) {
    if (deviation < kNarrowest) {
        cv::scaleAdd(light, share, sum, sum);
        return;
    }
    const auto sigma = static_cast<double>(deviation);
    const int size = 2 * static_cast<int>(std::ceil(kTail * sigma)) + 1;
    const cv::Mat kernel = cv::getGaussianKernel(size, sigma, CV_32F);
    cv::Mat blurred;
    cv::sepFilter2D(light, blurred, CV_32F, kernel, kernel, {-1, -1}, 0.0, cv::BORDER_CONSTANT);
    cv::scaleAdd(blurred, share, sum, sum);
}

/// The Gaussians of a level and of coarser ones, of an image at that level.
cv::Mat blurredFrom(const cv::Mat& light, int level, std::span<const GaussianPart> parts) {
    cv::Mat sum = cv::Mat::zeros(light.size(), CV_32F);
    bool coarser = false;
    for (const GaussianPart& part : parts) {
        const int own = levelOf(part.deviation);
        coarser = coarser || own > level;
        if (own == level)
            addBlurred(light, leftAt(level, part.deviation), static_cast<double>(part.share), sum);
    }
    if (!coarser)
        return sum;
    const cv::Mat wide = padded(light);
    const cv::Mat far = blurredFrom(halved(wide), level + 1, parts);
    cv::Mat doubled;
    cv::resize(far, doubled, wide.size(), 0.0, 0.0, cv::INTER_LINEAR);
    sum += doubled(cv::Rect(2 * kMargin, 2 * kMargin, light.cols, light.rows));
    return sum;
}

}  // namespace

Image pyramidBlur(const Image& image, std::span<const GaussianPart> parts, const RunContext& run) {
    Image out = image;
    std::vector<float*> planes;
    for (int c = 0; c < out.channels(); ++c)
        planes.push_back(out.editPlane(c));
    forEachBand(out.channels(), 1, run, [&](int channel, int) {
        const cv::Mat blurred = blurredFrom(readMatrixOf(image, channel), 0, parts);
        blurred.copyTo(matrixOf(out, planes[static_cast<std::size_t>(channel)]));
    });
    return out;
}

Image wideBlur(const Image& image, float deviation, const RunContext& run) {
    Image with = image;
    with.append(Image(image.width(), image.height(), {"weight"}, 1.0F));
    const GaussianPart whole{deviation, 1.0F};
    const Image sums = pyramidBlur(with, {&whole, 1}, run);
    if (run.stopped())
        return image;
    Image out = image;
    for (int c = 0; c < image.channels(); ++c) {
        float* to = out.editPlane(c);
        for (int y = 0; y < out.height(); ++y) {
            const float* sum = sums.row(c, y);
            const float* weight = sums.row(image.channels(), y);
            for (int x = 0; x < out.width(); ++x)
                to[out.rowStride() * y + x] = sum[x] / std::max(weight[x], 1e-3F);
        }
    }
    return out;
}

}  // namespace noctis
