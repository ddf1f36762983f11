#include "core/tracer/path.h"
#include "core/tracer/render.h"
#include "core/tracer/rgb.h"
#include "harness.h"

#include <algorithm>

#include <embree3/rtcore.h>
#include <fmt/format.h>

namespace bench {

namespace {

using namespace noctis;

constexpr int kWidth = 192;
constexpr int kHeight = 108;
constexpr int kSamples = 2;

/// Calls work(ray, sampler) for each path of a small picture.
template <typename Work> void overPaths(const Camera& camera, const Work& work) {
    for (int y = 0; y < kHeight; ++y)
        for (int x = 0; x < kWidth; ++x)
            for (std::uint32_t i = 0; i < kSamples; ++i) {
                PixelSampler sampler(x, y, i, 0);
                const Sample2 within = sampler.next2();
                (void)sampler.next2();
                work(cameraRay(camera, static_cast<float>(x) + within.x,
                               static_cast<float>(y) + within.y, kWidth, kHeight),
                     sampler);
            }
}

std::size_t bareQueries(RTCScene scene, const std::vector<PathRay>& rays) {
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    std::size_t met = 0;
    for (const PathRay& each : rays) {
        RTCRayHit query{};
        query.ray = {each.origin.x,
                     each.origin.y,
                     each.origin.z,
                     each.from,
                     each.direction.x,
                     each.direction.y,
                     each.direction.z,
                     0.0F,
                     each.to,
                     ~0U,
                     0,
                     0};
        query.hit.geomID = RTC_INVALID_GEOMETRY_ID;
        query.hit.instID[0] = RTC_INVALID_GEOMETRY_ID;
        if (each.anyHit) {
            rtcOccluded1(scene, &context, &query.ray);
            met += query.ray.tfar < 0.0F ? 1 : 0;
        } else {
            rtcIntersect1(scene, &context, &query);
            met += query.hit.geomID != RTC_INVALID_GEOMETRY_ID ? 1 : 0;
        }
    }
    return met;
}

}  // namespace

/// All of path tracing, shading and light sampling with it, beside Embree's part of it alone.
void beauty(const Demo& demo, const Filter& wanted, std::vector<Row>& rows) {
    const std::string name = "beauty rays";
    if (!wanted(name))
        return;
    const Scene& scene = demo.scene();
    const Accelerator accelerator(scene);
    const Lighting lighting(scene, scene.lights, scene.sky.value_or(Sky{}));
    const BeautySettings settings;
    const Camera camera = viewNamed(scene, "quay view").camera;
    std::vector<PathRay> rays;
    overPaths(camera, [&](const CameraRay& ray, PixelSampler& sampler) {
        visitPathRays(accelerator, lighting, ray, settings, sampler,
                      [&](const PathRay& each) { rays.push_back(each); });
    });
    std::size_t met = 0;
    for (const PathRay& ray : rays)
        met += ray.met ? 1 : 0;
    double light = 0.0;
    const auto ours = [&] {
        PathLight out;
        overPaths(camera, [&](const CameraRay& ray, PixelSampler& sampler) {
            tracePath(accelerator, lighting, ray, settings, sampler, out);
            light += static_cast<double>(luminance(out.total));
        });
    };
    std::size_t bare = 0;
    const auto reference = [&] { bare = bareQueries(accelerator.embree(), rays); };
    const auto check = [&] {
        reference();
        return bare == met ? std::string()
                           : fmt::format("{} rays met something, Embree says {}", met, bare);
    };
    rows.push_back(run(
        {name, check, ours, reference, 0.4, true,
         fmt::format("bare Embree, single; {:.2f} M rays, {:.0f} % of them shadow "
                     "rays, one core; ours shades, too",
                     static_cast<double>(rays.size()) / 1e6,
                     100.0 *
                         static_cast<double>(std::count_if(
                             rays.begin(), rays.end(), [](const PathRay& r) { return r.anyHit; })) /
                         static_cast<double>(rays.size())),
         7}));
}

}  // namespace bench
