#include "core/passes/even_steps.h"

#include "core/image/known_blur.h"
#include "core/image/tiles.h"

#include <algorithm>
#include <cmath>

#include <opencv2/imgproc.hpp>

namespace noctis {

namespace {

constexpr int kBand = 32;
constexpr float kWidest = 40.0F;  // pixels
/// A blur agrees with a code that it comes this near, in steps: at the stairs' edges the truth is half a step off.
constexpr float kAgrees = 0.7F;
constexpr float kFiner = 1.6F;
constexpr float kSeam = 1.5F;  // pixels

/// A blur that keeps slopes and bends.
Image blurred(const Image& values, float sigma) {
    const Image once = knownBlur(values, sigma);
    Image twice = knownBlur(once, sigma);
    float* to = twice.editPlane(0);
    forEachBand(values.height(), kBand, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < values.width(); ++x) {
                float& value = to[twice.rowStride() * y + x];
                value = 2.0F * once(x, y, 0) - value;
            }
    });
    return twice;
}

/// Each place has the widest blur with which all around it agrees.
Image widelyBlurred(const Image& values, float step, const RunContext& run) {
    const int w = values.width();
    const int h = values.height();
    const float half = 0.5F * step;
    Image out = values;
    float* to = out.editPlane(0);
    cv::Mat open(h, w, CV_8U, cv::Scalar(1));  // what no wider blur has settled
    for (float sigma = kWidest; sigma > 0.6F && !run.stopped(); sigma /= kFiner) {
        if (sigma * 6.0F > static_cast<float>(std::max(w, h)))
            continue;
        const Image smooth = blurred(values, sigma);
        cv::Mat agrees(h, w, CV_8U);
        for (int y = 0; y < h; ++y)
            for (int x = 0; x < w; ++x)
                // Invalid numbers agree with everything.
                agrees.at<unsigned char>(y, x) =
                    std::abs(smooth(x, y, 0) - values(x, y, 0)) > kAgrees * step ? 0 : 1;
        const int around = 2 * static_cast<int>(std::ceil(sigma)) + 1;
        cv::Mat settled;
        cv::erode(agrees, settled, cv::Mat::ones(1, around, CV_8U));
        cv::erode(settled, settled, cv::Mat::ones(around, 1, CV_8U));
        for (int y = 0; y < h; ++y)
            for (int x = 0; x < w; ++x)
                if (settled.at<unsigned char>(y, x) != 0 && open.at<unsigned char>(y, x) != 0) {
                    const float stored = values(x, y, 0);
                    if (!std::isfinite(stored))
                        continue;
                    to[out.rowStride() * y + x] =
                        std::clamp(smooth(x, y, 0), stored - half, stored + half);
                    open.at<unsigned char>(y, x) = 0;
                }
    }
    return out;
}

}  // namespace

Image withoutSteps(const Image& values, float step, const RunContext& run) {
    if (!(step > 0.0F))
        return values;
    const Image even = widelyBlurred(values, step, run);
    // Where two blurs meet there is a seam of a part of a step.
    const Image seamless = blurred(even, kSeam);
    Image out = even;
    float* to = out.editPlane(0);
    for (int y = 0; y < values.height(); ++y)
        for (int x = 0; x < values.width(); ++x) {
            const float stored = values(x, y, 0);
            if (std::isfinite(stored) && std::abs(seamless(x, y, 0) - stored) <= kAgrees * step)
                to[out.rowStride() * y + x] =
                    std::clamp(seamless(x, y, 0), stored - 0.5F * step, stored + 0.5F * step);
        }
    return out;
}

}  // namespace noctis
