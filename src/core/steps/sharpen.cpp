#include "core/steps/sharpen.h"

#include "core/image/pyramid_blur.h"
#include "core/image/tiles.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include <opencv2/imgproc.hpp>

namespace noctis {

namespace {

constexpr float kLeastRadius = 0.2F;  ///< px; below, nothing is finer than a pixel
constexpr float kDark = 1e-6F;

/// The luminance of the straight colour, and what it is weighted by.
Image luminance(const Image& picture) {
    Image out(picture.width(), picture.height(), {"Y"});
    float* to = out.editPlane(0);
    const bool covered = picture.channels() > 3;
    for (int y = 0; y < out.height(); ++y)
        for (int x = 0; x < out.width(); ++x) {
            const float light = 0.2126F * picture(x, y, 0) + 0.7152F * picture(x, y, 1) +
                                0.0722F * picture(x, y, 2);
            const float alpha = covered ? picture(x, y, 3) : 1.0F;
            to[out.rowStride() * y + x] =
                std::isfinite(light) && alpha > kDark ? light / alpha : 0.0F;
        }
    return out;
}

cv::Mat matOf(const Image& image) {
    // Read only.
    return {image.height(), image.width(), CV_32F, const_cast<float*>(image.plane(0)),
            static_cast<std::size_t>(image.rowStride()) * sizeof(float)};
}

/// Of how much is left to sharpen where a lens has blurred: all at no blur, nothing from the radius on.
float sharpPart(const Image& blurRadius, int x, int y, float radius) noexcept {
    if (blurRadius.empty())
        return 1.0F;
    const float blurred = blurRadius(x, y, 0);
    return std::clamp(1.0F - blurred / std::max(radius, 0.5F), 0.0F, 1.0F);
}

}  // namespace

Image sharpened(const Image& picture, const Image& blurRadius, float pixelScale,
                const SharpenSettings& s, const RunContext& run) {
    const float radius = s.radius * pixelScale;
    if (s.strength == 0.0F || radius < kLeastRadius)
        return picture;
    const Image light = luminance(picture);
    const Image around = wideBlur(light, radius, {run.stop, {}});
    if (run.stopped())
        return picture;
    // The brightest and darkest of what is around, which halos are limited by.
    const int reach = std::max(1, static_cast<int>(std::lround(radius)));
    const cv::Mat disc =
        cv::getStructuringElement(cv::MORPH_ELLIPSE, {2 * reach + 1, 2 * reach + 1});
    cv::Mat brightest;
    cv::Mat darkest;
    cv::dilate(matOf(light), brightest, disc, {-1, -1}, 1, cv::BORDER_REPLICATE);
    cv::erode(matOf(light), darkest, disc, {-1, -1}, 1, cv::BORDER_REPLICATE);
    Image out = picture;
    const std::array<float*, 3> to{out.editPlane(0), out.editPlane(1), out.editPlane(2)};
    forEachBand(out.height(), kBandHeight, run, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y) {
            const float* most = brightest.ptr<float>(y);
            const float* least = darkest.ptr<float>(y);
            for (int x = 0; x < out.width(); ++x) {
                const float own = light(x, y, 0);
                const float detail = own - around(x, y, 0);
                const float spared = s.threshold * std::abs(around(x, y, 0));
                const float strong = std::max(std::abs(detail) - spared, 0.0F);
                if (!(own > kDark) || !(strong > 0.0F))
                    continue;
                const float wanted = own + s.strength * sharpPart(blurRadius, x, y, radius) *
                                               std::copysign(strong, detail);
                const float held = std::clamp(wanted, std::max(least[x], 0.0F) / (1.0F + s.limit),
                                              std::max(most[x], 0.0F) * (1.0F + s.limit));
                const float by = held / own;
                for (float* plane : to)
                    plane[out.rowStride() * y + x] *= by;
            }
        }
    });
    return out;
}

StepType sharpenStep() {
    using S = SharpenSettings;
    return StepBuilder<S>("sharpen", "Sharpen")
        .version(1)
        .phase(Phase::Finish)
        .help("Makes fine detail stand out, and leaves alone what the lens has blurred.")
        .number(&S::radius, "radius", "Radius", Unit::Pixel, {0.0F, 64.0F, 8.0F},
                "How coarse the detail is that is made stronger, in pixels of the full picture.")
        .number(&S::strength, "strength", "Strength", Unit::Percent, {-1.0F, 8.0F, 2.0F},
                "How much stronger; below 0 it is made softer.")
        .number(&S::threshold, "threshold", "Threshold", Unit::Percent, {0.0F, 1.0F, 0.2F},
                "Detail fainter than this, in percent of the brightness around it, stays: noise.")
        .number(&S::limit, "limit", "Halo", Unit::Percent, {0.0F, 8.0F, 1.0F},
                "How far beyond the brightest and darkest around it an edge may go, in percent of "
                "these; none leaves no halo.")
        .preset("For the screen", {{"radius", 0.8F}, {"strength", 0.4F}, {"limit", 0.1F}})
        .preset("Crisp", {{"radius", 1.5F}, {"strength", 1.0F}, {"limit", 0.3F}})
        .reads([](const S&) {
            return std::vector<PassNeed>{wanted(PassKind::BlurRadius, "what the lens has blurred")};
        })
        .summary([](const S& s) {
            return fmt::format("{} · {}", formatNumber(s.strength, Unit::Percent),
                               formatNumber(s.radius, Unit::Pixel));
        })
        .area([](const WorkingFrame& frame, const S& s, const RunContext& run) {
            WorkingFrame out = frame;
            const float scale = frame.context().pixelScale();
            Image blurred = frame.passIfThere({PassKind::BlurRadius, {}});
            if (!blurred.empty() && scale < 1.0F) {
                float* px = blurred.editPlane(0);
                for (int y = 0; y < blurred.height(); ++y)
                    for (int x = 0; x < blurred.width(); ++x)
                        px[blurred.rowStride() * y + x] *= scale;
            }
            out.setPicture(sharpened(frame.picture(), blurred, scale, s, run));
            return out;
        })
        .build();
}

}  // namespace noctis
