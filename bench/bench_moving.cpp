#include "core/image/psnr.h"
#include "core/tracer/moving_picture.h"
#include "harness.h"

#include <algorithm>
#include <chrono>
#include <cmath>

#include <fmt/format.h>

namespace bench {

namespace {

using namespace noctis;

/// Turned about a place some metres ahead of it.
Camera turned(const Camera& camera, float degrees, float ahead) {
    const V3f pivot = V3f(0, 0, -ahead) * camera.cameraToWorld;
    M44f there;
    there.setTranslation(-pivot);
    M44f turn;
    turn.setAxisAngle(V3f(0, 1, 0), degrees * 3.14159265F / 180.0F);
    M44f back;
    back.setTranslation(pivot);
    Camera other = camera;
    other.cameraToWorld = camera.cameraToWorld * there * turn * back;
    return other;
}

RenderRequest quayView(const Scene& scene, int width, int height, int samples) {
    RenderRequest request;
    request.view = viewNamed(scene, "quay view");
    request.width = width;
    request.height = height;
    request.passes = {passRequest(PassKind::Beauty)};
    applyPassSetting(request.passes, fmt::format("beauty.samples={}", samples));
    applyPassSetting(request.passes, "beauty.clamp=6");
    return request;
}

}  // namespace

/// Pictures of a moving view of the demo: how many a second, and how near they come to the converged one.
void moving(const Demo& demo, const Filter& wanted, std::vector<Row>& rows) {
    const std::string name = "moving picture";
    if (!wanted(name))
        return;
    const Scene& scene = demo.scene();
    const Accelerator accelerator(scene);
    RenderRequest still = quayView(scene, 960, 540, 64);
    for (const PassKind kind : keptWith(PassKind::Beauty))
        still.passes.push_back(passRequest(kind));
    const auto before = seenBefore(renderPasses(scene, accelerator, still));
    MovingPicture picture;
    for (const float degrees : {3.0F, 12.0F, 30.0F}) {
        RenderRequest request = quayView(scene, 480, 270, 256);
        request.view.camera = turned(request.view.camera, degrees, 8.0F);
        const Image truth = renderPasses(scene, accelerator, request).passes[0].image;
        const auto measure = [&](const SeenBefore* carried, const std::string& what, double least) {
            Image drawn;
            std::vector<double> times;
            for (int i = 0; i < 9; ++i) {
                const auto begun = std::chrono::steady_clock::now();
                drawn = picture.draw(scene, accelerator, request, carried).passes[0].image;
                times.push_back(std::chrono::duration<double, std::milli>(
                                    std::chrono::steady_clock::now() - begun)
                                    .count());
            }
            std::sort(times.begin(), times.end());
            Row row;
            row.name = fmt::format("{} {}, {:.0f} degrees", name, what, degrees);
            row.ours = times[times.size() / 2];
            row.reference = least;
            row.ratio = row.ours / least;
            row.target = 1.0;
            row.spread = (times.back() - times.front()) / row.ours;
            const double decibels = psnrOf(drawn, truth);
            row.note =
                fmt::format("480 wide; {:.1f} dB to the converged picture, 24 wanted", decibels);
            if (decibels < 24.0)
                row.wrong = row.note;
            rows.push_back(row);
        };
        measure(&*before, "carried", 50.0);
        measure(nullptr, "lit anew", 80.0);
    }
}

}  // namespace bench
