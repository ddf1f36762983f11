#include "core/steps/screen_shadow.h"
#include "core/tracer/render.h"
#include "core/tracer/scene_lights.h"
#include "harness.h"

#include <cmath>

#include <fmt/format.h>

namespace bench {

namespace {

using namespace noctis;

constexpr int kWidth = 640;
constexpr int kHeight = 360;
constexpr float kLengths[] = {0.3F, 1.0F, 3.0F, 10.0F};
constexpr float kThickness = 0.5F;  ///< m
/// A thing is in a layer that lies this near to it, as a part of its depth.
constexpr float kSameSurface = 0.02F;

V3f towards(const SceneLight& light, const V3f& place) {
    return light.kind == SceneLightKind::Sun ? light.towards.normalized()
                                             : (light.position - place).normalized();
}

/// What a shadow of the demo is measured with: the passes of a view, and the ray of each pixel.
struct Quay {
    const Accelerator& accelerator;
    const PassSet& set;

    [[nodiscard]] const Image& image(const std::string& name) const {
        return set.find(std::string_view(name))->image;
    }
    [[nodiscard]] V3f normalAt(int x, int y, const char* pass = "normal") const {
        const Image& n = image(pass);
        return {n(x, y, 0), n(x, y, 1), n(x, y, 2)};
    }
    /// The face itself, too: what only its smoothed normal turns towards the light is black in the traced shadow.
    [[nodiscard]] bool faces(int x, int y, const V3f& light) const {
        return normalAt(x, y).dot(light) > 0.0F &&
               normalAt(x, y, "facing_normal").dot(light) > 0.0F;
    }
    [[nodiscard]] V3f placeAt(int x, int y) const {
        const CameraRay ray = cameraRay(*set.camera, static_cast<float>(x) + 0.5F,
                                        static_cast<float>(y) + 0.5F, kWidth, kHeight);
        return ray.origin + ray.direction * (image("depth")(x, y, 0) / ray.planarPerDistance);
    }
    /// Whether what shades the pixel, if anything does, is in one of the two stored layers.
    [[nodiscard]] bool casterIsStored(int x, int y, const SceneLight& light, float length) const {
        const V3f place = placeAt(x, y);
        const V3f from = place + normalAt(x, y) * (1e-3F + 1e-4F * image("depth")(x, y, 0));
        const V3f way = towards(light, place);
        const Hit hit = accelerator.intersect(from, way, 0.0F, length);
        if (!hit.any())
            return true;
        const V3f seen = project(*set.camera, from + way * hit.distance, kWidth, kHeight);
        const int u = static_cast<int>(std::floor(seen.x));
        const int v = static_cast<int>(std::floor(seen.y));
        if (!(seen.z > 0.0F) || u < 0 || v < 0 || u >= kWidth || v >= kHeight)
            return false;
        const auto near = [&](const char* layer) {
            return std::abs(image(layer)(u, v, 0) - seen.z) < kSameSurface * seen.z;
        };
        return near("depth") || near("behind.depth");
    }
};

double decibels(double error, double count) {
    return -10.0 * std::log10(error / std::max(count, 1.0));
}

void measure(const Quay& quay, const std::string& name, const SceneLight& light, float softness,
             float length, std::vector<Row>& rows) {
    const Image ours = screenShadow(
        {*quay.set.camera, quay.image("depth"), quay.image("normal"), quay.image("behind.depth")},
        light, {.length = length, .thickness = kThickness, .softness = softness});
    const Image& truth = quay.image("shadow." + name);
    double error = 0.0;
    double none = 0.0;
    double count = 0.0;
    double storedError = 0.0;
    double storedCount = 0.0;
    for (int y = 0; y < kHeight; ++y)
        for (int x = 0; x < kWidth; ++x) {
            if (!std::isfinite(quay.image("depth")(x, y, 0)) ||
                !quay.faces(x, y, towards(light, quay.placeAt(x, y))))
                continue;
            const double traced = static_cast<double>(truth(x, y, 0));
            const double off = std::pow(static_cast<double>(ours(x, y, 0)) - traced, 2.0);
            error += off;
            none += std::pow(1.0 - traced, 2.0);
            count += 1.0;
            if (!quay.casterIsStored(x, y, light, length))
                continue;
            storedError += off;
            storedCount += 1.0;
        }
    Row row;
    row.name = fmt::format("contact shadow of {}, {:g} m", name, static_cast<double>(length));
    row.ours = decibels(error, count);
    row.reference = decibels(none, count);
    row.ratio = row.ours - row.reference;
    row.unit = "dB";
    row.note = fmt::format("{:.1f} dB where the caster is in a layer ({:.0f} %); the reference is "
                           "no shadow, the ratio the difference",
                           decibels(storedError, storedCount), 100.0 * storedCount / count);
    rows.push_back(row);
}

}  // namespace

void contact(const Demo& demo, const Filter& wanted, std::vector<Row>& rows) {
    if (!wanted("contact shadow of"))
        return;
    Scene scene = demo.scene();
    Light low;  // beside the demo's two, a sun from the left
    low.name = "low sun";
    low.kind = LightKind::Sun;
    low.direction = V3f(0.8F, -0.35F, -0.4F).normalized();
    low.angleRadians = 0.07F;
    scene.lights.push_back(low);
    const Accelerator accelerator(scene);
    const NamedLights lights = sceneLights(scene, {});
    for (const float length : kLengths) {
        RenderRequest request;
        request.view = viewNamed(scene, "quay view");
        request.width = kWidth;
        request.height = kHeight;
        std::vector<std::string> names{"depth", "normal", "facing_normal", "behind.depth"};
        for (const Light& light : scene.lights)
            names.push_back("shadow." + light.name);
        request.passes = passRequests(names, scene);
        for (const Light& light : scene.lights) {
            applyPassSetting(request.passes, fmt::format("shadow.{}.samples=64", light.name));
            applyPassSetting(request.passes, fmt::format("shadow.{}.reach={}", light.name, length));
        }
        const PassSet set = renderPasses(scene, accelerator, request);
        for (const Light& light : scene.lights) {
            const float half =
                light.kind == LightKind::Sun ? light.angleRadians * 0.5F * 57.29578F : 0.5F;
            measure({accelerator, set}, light.name, lights.at(light.name), half, length, rows);
        }
    }
}

}  // namespace bench
