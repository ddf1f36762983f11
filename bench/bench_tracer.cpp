#include "core/tracer/render.h"
#include "harness.h"

#include <algorithm>
#include <cmath>
#include <functional>

#include <embree3/rtcore.h>
#include <fmt/format.h>

namespace bench {

namespace {

using namespace noctis;

constexpr int kWidth = 960;
constexpr int kHeight = 540;
/// What a clean pass must gain on the demo at least, dB.
constexpr double kGain = 8.0;

Image occlusionOf(const Demo& demo, const Accelerator& accelerator, int samples, float clean) {
    RenderRequest request;
    request.view = demo.scene().views.front();
    request.width = kWidth;
    request.height = kHeight;
    request.passes = {passRequest(PassKind::Occlusion)};
    for (const std::string& setting :
         {fmt::format("occlusion.samples={}", samples), std::string("occlusion.reach=2"),
          fmt::format("occlusion.denoise={}", clean)})
        applyPassSetting(request.passes, setting);
    return renderPasses(demo.scene(), accelerator, request).passes.front().image;
}

using Counts = std::function<bool(int x, int y)>;

/// PSNR over the pixels that count.
double decibels(const Image& a, const Image& b, const Counts& counts) {
    double sum = 0.0;
    int pixels = 0;
    for (int y = 0; y < kHeight; ++y)
        for (int x = 0; x < kWidth; ++x)
            if (counts(x, y)) {
                sum += std::pow(static_cast<double>(a(x, y, 0) - b(x, y, 0)), 2.0);
                ++pixels;
            }
    return -10.0 * std::log10(sum / std::max(pixels, 1));
}

/// Pixels beside which the distance jumps by a tenth: where cleaning could bleed.
Counts besideSteps(const Demo& demo, const Accelerator& accelerator) {
    RenderRequest request;
    request.view = demo.scene().views.front();
    request.width = kWidth;
    request.height = kHeight;
    request.passes = {passRequest(PassKind::Depth)};
    const Image depth = renderPasses(demo.scene(), accelerator, request).passes.front().image;
    return [depth](int x, int y) {
        const float here = depth(x, y, 0);
        const auto jumps = [&](int u, int v) {
            const float there =
                depth(std::clamp(u, 0, kWidth - 1), std::clamp(v, 0, kHeight - 1), 0);
            return std::isfinite(here) && !(std::abs(there - here) < 0.1F * here);
        };
        return jumps(x - 1, y) || jumps(x + 1, y) || jumps(x, y - 1) || jumps(x, y + 1);
    };
}

/// One flat mesh of all triangles, as Embree alone would be given it.
void buildBare(RTCDevice device, const Scene& scene) {
    const RTCScene all = rtcNewScene(device);
    rtcSetSceneFlags(all, RTC_SCENE_FLAG_ROBUST);
    std::size_t vertices = 0;
    std::size_t triangles = 0;
    for (const Instance& instance : scene.instances) {
        const Mesh& mesh = scene.meshes[static_cast<std::size_t>(instance.mesh)];
        vertices += mesh.positions.size();
        triangles += mesh.triangles.size();
    }
    const RTCGeometry geometry = rtcNewGeometry(device, RTC_GEOMETRY_TYPE_TRIANGLE);
    auto* v = static_cast<float*>(rtcSetNewGeometryBuffer(
        geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3, 3 * sizeof(float), vertices));
    auto* t = static_cast<unsigned*>(rtcSetNewGeometryBuffer(
        geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, 3 * sizeof(unsigned), triangles));
    unsigned first = 0;
    for (const Instance& instance : scene.instances) {
        const Mesh& mesh = scene.meshes[static_cast<std::size_t>(instance.mesh)];
        for (const V3f& position : mesh.positions) {
            const V3f world = position * instance.toWorld;
            *v++ = world.x;
            *v++ = world.y;
            *v++ = world.z;
        }
        for (const auto& corner : mesh.triangles)
            for (const std::uint32_t c : corner)
                *t++ = first + c;
        first += static_cast<unsigned>(mesh.positions.size());
    }
    rtcCommitGeometry(geometry);
    rtcAttachGeometry(all, geometry);
    rtcReleaseGeometry(geometry);
    rtcCommitScene(all);
    rtcReleaseScene(all);
}

}  // namespace

void tracer(const Demo& demo, const Filter& wanted, std::vector<Row>& rows) {
    const std::string cleanName = "occlusion, 16 samples cleaned";
    const std::string buildName = "tree of the demo";
    if (wanted(cleanName)) {
        const Accelerator accelerator(demo.scene());
        const Image truth = occlusionOf(demo, accelerator, 1024, 0.0F);
        const Image noisy = occlusionOf(demo, accelerator, 16, 0.0F);
        const Image smooth = occlusionOf(demo, accelerator, 16, 1.0F);
        const Counts all = [](int, int) { return true; };
        const Counts steps = besideSteps(demo, accelerator);
        const double raw = decibels(noisy, truth, all);
        const double clean = decibels(smooth, truth, all);
        const auto check = [&] {
            return clean - raw >= kGain
                       ? std::string()
                       : fmt::format("gains {:.1f} dB of {:.1f}", clean - raw, kGain);
        };
        rows.push_back(run(
            {cleanName, check, [&] { (void)occlusionOf(demo, accelerator, 16, 1.0F); },
             [&] { (void)occlusionOf(demo, accelerator, 256, 0.0F); }, 1.0, false,
             fmt::format("256 raw samples; raw 16: {:.1f} dB, cleaned: {:.1f} dB; beside steps in "
                         "depth {:.1f} and {:.1f} dB",
                         raw, clean, decibels(noisy, truth, steps), decibels(smooth, truth, steps)),
             3}));
    }
    if (wanted(buildName)) {
        const RTCDevice device = rtcNewDevice(nullptr);
        rows.push_back(run({buildName,
                            {},
                            [&] { const Accelerator built(demo.scene()); },
                            [&] { buildBare(device, demo.scene()); },
                            1.2,
                            false,
                            "Embree's own build of all triangles in one mesh",
                            5}));
        rtcReleaseDevice(device);
    }
}

}  // namespace bench
