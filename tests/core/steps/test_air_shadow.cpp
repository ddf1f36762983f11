// Light in the air that things cut, against a march with traced shadows.
#include "core/image/tiles.h"
#include "core/steps/air_scattering.h"
#include "core/steps/air_shadow.h"
#include "core/tracer/render.h"
#include "support/files.h"
#include "support/frames.h"
#include "support/scenes.h"

#include <algorithm>
#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

constexpr int kWidth = 240;
constexpr int kHeight = 136;

/// A ground, a fence of six boards with gaps, and a ball before it.
struct FencedYard {
    Scene scene;
    std::unique_ptr<Accelerator> accelerator;
    PassSet passes;
    Image distance;

    FencedYard() {
        test::addGround(scene, 30.0F);
        for (int i = 0; i < 6; ++i) {
            const float left = -1.8F + 0.6F * static_cast<float>(i);
            board(left, left + 0.35F, 0.0F, 1.5F, -1.0F, -1.2F);
        }
        test::addBall(scene, "ball", {0.9F, 0.45F, 0.8F}, 0.45F, 32);
        scene.materials = {{.name = "grey"}};
        View view;
        view.name = "front";
        view.camera = lookingAt(V3f(0.3F, 1.6F, 6.0F), V3f(0.0F, 0.9F, 0.0F), 0.75F);
        scene.views = {view};
        accelerator = std::make_unique<Accelerator>(scene);
        RenderRequest request;
        request.view = view;
        request.width = kWidth;
        request.height = kHeight;
        request.passes = passRequests({"depth", "distance"}, scene);
        passes = renderPasses(scene, *accelerator, request);
        distance = resolvePass(passes, PassKind::Distance).image;
    }

    void board(float x0, float x1, float y0, float y1, float front, float back) {
        const auto side = [&](const V3f& a, const V3f& b, const V3f& c, const V3f& d) {
            test::addQuad(scene, "fence", a, b, c, d);
        };
        side({x0, y0, front}, {x1, y0, front}, {x1, y1, front}, {x0, y1, front});
        side({x1, y0, back}, {x0, y0, back}, {x0, y1, back}, {x1, y1, back});
        side({x0, y0, back}, {x0, y0, front}, {x0, y1, front}, {x0, y1, back});
        side({x1, y0, front}, {x1, y0, back}, {x1, y1, back}, {x1, y1, front});
        side({x0, y1, front}, {x1, y1, front}, {x1, y1, back}, {x0, y1, back});
    }

    /// What arrives along each pixel's ray, in short steps, each with a traced shadow.
    [[nodiscard]] Image traced(const SceneLight& light, const AirShadowSettings& s) const {
        Image out = Image::filled(kWidth, kHeight, 1, 0.0F);
        float* to = out.editPlane(0);
        const FrameRays rays(*passes.camera, kWidth, kHeight);
        const AirScattering air(light, s.density, s.scatter, s.size);
        forEachBand(kHeight, 4, {}, [&](int y0, int y1) {
            for (int y = y0; y < y1; ++y)
                for (int x = 0; x < kWidth; ++x) {
                    const CameraRay ray =
                        rays.through(static_cast<float>(x) + 0.5F, static_cast<float>(y) + 0.5F);
                    to[out.rowStride() * y + x] = marched(air, light, ray, distance(x, y, 0));
                }
        });
        return out;
    }

    [[nodiscard]] float marched(const AirScattering& air, const SceneLight& light,
                                const CameraRay& ray, float end) const {
        float sum = 0.0F;
        float since = 0.0F;  // the light up to where it was last cut or let through
        bool open = false;
        const auto arriving = [&](float metres) {
            return air.along(ray.origin, ray.direction, metres).r;
        };
        const float last = std::min(end, 60.0F);
        for (float t = 0.0F; t < last;) {
            const float next = std::min(t + 0.03F + 0.02F * t, last);
            const V3f place = ray.origin + ray.direction * (0.5F * (t + next));
            const V3f way = light.kind == SceneLightKind::Sun ? light.towards.normalized() * 100.0F
                                                              : light.position - place;
            const float length = way.length();
            const bool lit = !accelerator->occluded(place, way / length, 0.0F, 0.999F * length);
            if (lit != open) {
                const float here = arriving(t);
                sum += open ? here - since : 0.0F;
                since = here;
                open = lit;
            }
            t = next;
        }
        if (open)
            sum += arriving(end) - since;
        return sum;
    }

    /// Of the added light, its 99th percentile as white; and of the light as if nothing cut it.
    [[nodiscard]] std::pair<double, double> decibels(const SceneLight& light,
                                                     const AirShadowSettings& s) const {
        const Image truth = traced(light, s);
        const Image share = airShadow(distance, {}, *passes.camera, light, s);
        const FrameRays rays(*passes.camera, kWidth, kHeight);
        const AirScattering air(light, s.density, s.scatter, s.size);
        std::vector<float> values;
        double error = 0.0;
        double none = 0.0;
        for (int y = 0; y < kHeight; ++y)
            for (int x = 0; x < kWidth; ++x) {
                const CameraRay ray =
                    rays.through(static_cast<float>(x) + 0.5F, static_cast<float>(y) + 0.5F);
                const float all = air.along(ray.origin, ray.direction, distance(x, y, 0)).r;
                values.push_back(truth(x, y, 0));
                error += std::pow(static_cast<double>(all * share(x, y, 0) - truth(x, y, 0)), 2.0);
                none += std::pow(static_cast<double>(all - truth(x, y, 0)), 2.0);
            }
        std::ranges::sort(values);
        const auto white = static_cast<double>(values[values.size() * 99 / 100]);
        const auto of = [&](double sum) {
            return -10.0 * std::log10(sum / static_cast<double>(values.size()) / (white * white));
        };
        return {of(error), of(none)};
    }
};

SceneLight lightOf(SceneLightKind kind, const V3f& position, const V3f& towards) {
    SceneLight light;
    light.kind = kind;
    light.position = position;
    light.towards = towards;
    light.inner = 30.0F;
    light.outer = 45.0F;
    return light;
}

}  // namespace

TEST_CASE("light in the air that things cut is near the traced one", "[steps][airlight][truth]") {
    const FencedYard yard;
    const std::vector<std::pair<const char*, SceneLight>> lights{
        {"lamp behind the fence",
         lightOf(SceneLightKind::Point, V3f(0.2F, 1.0F, -2.5F), V3f(0, 1, 0))},
        {"lamp before it", lightOf(SceneLightKind::Point, V3f(-0.6F, 0.8F, 0.3F), V3f(0, 1, 0))},
        {"lamp beside the picture",
         lightOf(SceneLightKind::Point, V3f(-7.0F, 2.0F, -1.5F), V3f(0, 1, 0))},
        {"sun behind", lightOf(SceneLightKind::Sun, {}, V3f(-0.2F, 0.35F, -1.0F))},
        {"sun from the side", lightOf(SceneLightKind::Sun, {}, V3f(-1.0F, 0.6F, -0.2F))},
        {"sun from the viewer", lightOf(SceneLightKind::Sun, {}, V3f(0.3F, 0.5F, 1.0F))},
        {"spot", lightOf(SceneLightKind::Spot, V3f(-2.5F, 2.5F, -3.0F), V3f(-0.5F, 0.5F, -0.8F))}};
    for (const auto& [name, light] : lights)
        for (const float scatter : {0.0F, 0.6F})
            for (const float density : {0.03F, 0.2F}) {
                const AirShadowSettings s{
                    .density = density, .scatter = scatter, .thickness = 0.2F, .softness = 0.0F};
                const auto [ours, none] = yard.decibels(light, s);
                INFO(name << ", scatter " << scatter << ", density " << density << ": " << ours
                          << " dB, uncut " << none);
                CHECK(ours > 24.0);
                CHECK(ours > none + 1.0);
            }
}

TEST_CASE("shafts have the same bits on any number of threads, and what isn't seen cuts nothing",
          "[steps][airlight]") {
    const FencedYard yard;
    const SceneLight lamp = lightOf(SceneLightKind::Point, V3f(0.2F, 1.0F, -2.5F), V3f(0, 1, 0));
    for (const float softness : {0.0F, 1.0F}) {
        const AirShadowSettings s{.softness = softness};
        const Image all = airShadow(yard.distance, {}, *yard.passes.camera, lamp, s);
        for (const int threads : {1, 2, 7}) {
            const ThreadLimit limit(threads);
            CHECK(test::sameBits(airShadow(yard.distance, {}, *yard.passes.camera, lamp, s), all));
        }
        const Image sky = Image::filled(64, 40, 1, kNothingHit);
        const Image open = airShadow(sky, {}, *yard.passes.camera, lamp, s);
        for (int x = 0; x < 64; ++x)
            CHECK(open(x, 20, 0) == Approx(1.0F).margin(1e-5));
    }
}

TEST_CASE("shafts neither end nor begin at a near thing's outline", "[steps][airlight]") {
    // A near post before a far wall, lit from behind the camera: nothing cuts the light before either.
    const Camera camera = lookingAt(V3f(0, 1, 5), V3f(0, 1, 0), 0.7F);
    Image distance = Image::filled(160, 90, 1, 20.0F);
    float* to = distance.editPlane(0);
    for (int y = 0; y < 90; ++y)
        for (int x = 70; x < 90; ++x)
            to[distance.rowStride() * y + x] = 3.0F;
    const SceneLight sun = lightOf(SceneLightKind::Sun, {}, V3f(0.0F, 0.4F, 1.0F));
    const Image share = airShadow(distance, {}, camera, sun, {.softness = 0.0F});
    for (int x = 60; x < 100; ++x)
        for (int y = 10; y < 80; ++y)
            if (x >= 70 && x < 90)
                CHECK(share(x, y, 0) > 0.97F);
}
