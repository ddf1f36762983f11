#include "core/image/colour.h"
#include "core/passes/pass_file.h"
#include "core/scene/import.h"
#include "core/steps/depth_of_field.h"
#include "core/tracer/render.h"
#include "harness.h"

#include <cmath>

#include <fmt/format.h>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>

namespace bench {

namespace {

using namespace noctis;

constexpr int kWidth = 1920;
constexpr int kHeight = 1080;

DepthOfFieldSettings byRadius(float radius) {
    DepthOfFieldSettings s;
    s.lens = LensMode::Radius;
    s.radius = radius;
    s.limit = 512.0F;
    return s;
}

Image testPicture() {
    Image image(kWidth, kHeight, {"R", "G", "B"});
    for (int c = 0; c < 3; ++c) {
        float* plane = image.editPlane(c);
        for (int y = 0; y < kHeight; ++y)
            for (int x = 0; x < kWidth; ++x)
                plane[image.rowStride() * y + x] =
                    0.5F + 0.4F * std::sin(0.05F * static_cast<float>(x + c * 11)) *
                               std::cos(0.07F * static_cast<float>(y));
    }
    return image;
}

cv::Mat discKernel(int radius) {
    cv::Mat kernel(2 * radius + 1, 2 * radius + 1, CV_32F);
    for (int y = -radius; y <= radius; ++y)
        for (int x = -radius; x <= radius; ++x)
            kernel.at<float>(y + radius, x + radius) =
                x * x + y * y <= radius * radius ? 1.0F : 0.0F;
    kernel /= cv::sum(kernel)[0];
    return kernel;
}

/// The step against a traced lens, on the demo. Told as dB; the noise of both is part of it.
void psnr(const Demo& demo, std::vector<Row>& rows) {
    constexpr int w = 480;
    constexpr int h = 270;
    const Scene scene = importScene(demo.folder / "saltern_quay.gltf");
    const Accelerator accelerator(scene);
    RenderRequest request;
    request.view = viewNamed(scene, "quay view");
    request.width = w;
    request.height = h;
    request.passes = {passRequest(PassKind::Beauty), passRequest(PassKind::Depth)};
    applyPassSetting(request.passes, "beauty.samples=128");
    applyPassSetting(request.passes, "beauty.clamp=6");
    const PassSet pinhole = renderPasses(scene, accelerator, request);
    DepthOfFieldSettings settings;
    settings.focus = 7.35F;
    settings.fNumber = 0.35F;
    settings.sensorWidth = 36.0F;
    settings.focalLength = 0.5F * 36.0F * h / w / std::tan(0.5F * request.view.camera.yfovRadians);
    request.lens = TracedLens::ofFNumber(settings.fNumber, settings.focalLength, settings.focus);
    request.seed = 1;
    const Image truth = renderPasses(scene, accelerator, request).passes[0].image;
    const Image ours =
        applyDepthOfField(pinhole.passes[0].image, pinhole.passes[1].image, settings, w);
    const auto decibels = [&](const Image& image) {
        const Image a = viewed(image, ViewTransform::Film, 0.5F);
        const Image b = viewed(truth, ViewTransform::Film, 0.5F);
        double sum = 0.0;
        for (int c = 0; c < 3; ++c)
            for (int y = 0; y < h; ++y)
                for (int x = 0; x < w; ++x)
                    sum += std::pow(static_cast<double>(a(x, y, c) - b(x, y, c)), 2.0);
        return -10.0 * std::log10(sum / (3.0 * w * h));
    };
    Row row;
    row.name = "dof against traced lens";
    row.ours = decibels(ours);
    row.reference = decibels(pinhole.passes[0].image);
    row.ratio = row.ours / row.reference;
    row.unit = "dB";
    row.note = "PSNR as viewed; the reference is the sharp picture";
    rows.push_back(row);
}

}  // namespace

void depthOfField(const Demo& demo, const Filter& wanted, std::vector<Row>& rows) {
    const Image picture = testPicture();
    const Image depth = Image::filled(kWidth, kHeight, 1, kNothingHit);
    cv::Mat reference;
    std::vector<cv::Mat> planes;
    for (int c = 0; c < 3; ++c) {
        cv::Mat plane(kHeight, kWidth, CV_32F);
        for (int y = 0; y < kHeight; ++y)
            std::copy_n(picture.row(c, y), kWidth, plane.ptr<float>(y));
        planes.push_back(plane);
    }
    cv::merge(planes, reference);
    for (const int radius : {8, 16, 32, 64, 128}) {
        const std::string name = fmt::format("depth of field, radius {}", radius);
        if (!wanted(name))
            continue;
        const cv::Mat kernel = discKernel(radius);
        cv::Mat blurred;
        const auto check = [&] {
            const Image ours =
                applyDepthOfField(picture, depth, byRadius(static_cast<float>(radius)), kWidth);
            cv::filter2D(reference, blurred, -1, kernel, {-1, -1}, 0.0, cv::BORDER_REPLICATE);
            double worst = 0.0;
            for (int y = 200; y < kHeight - 200; y += 13)
                for (int x = 200; x < kWidth - 200; x += 13)
                    worst = std::max(worst, std::abs(static_cast<double>(
                                                ours(x, y, 1) - blurred.at<cv::Vec3f>(y, x)[1])));
            return worst < 0.01 ? std::string()
                                : fmt::format("differs from the disc by {:.4f}", worst);
        };
        rows.push_back(run(
            {name, check,
             [&] {
                 (void)applyDepthOfField(picture, depth, byRadius(static_cast<float>(radius)),
                                         kWidth);
             },
             [&] {
                 cv::filter2D(reference, blurred, -1, kernel, {-1, -1}, 0.0, cv::BORDER_REPLICATE);
             },
             radius == 32 ? 1.0 : 0.0, false, "cv::filter2D, a disc; every pixel blurred", 5}));
    }
    if (wanted("dof against traced lens"))
        psnr(demo, rows);
}

}  // namespace bench
