#include "core/tracer/path.h"

#include "core/tracer/bsdf.h"
#include "core/tracer/rgb.h"

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr int kBouncesBeforeRoulette = 3;
/// Shadow rays end this part short of the lamp, to miss its own surface.
constexpr float kShortOfLight = 0.9995F;

LinearRgb limited(const LinearRgb& light, float limit) {
    const float peak = largest(light);
    return limit > 0.0F && peak > limit ? light * (limit / peak) : light;
}

LinearRgb directLight(const Accelerator& accelerator, const Lighting& lighting,
                      const Surface& surface, const Bsdf& bsdf, PixelSampler& sampler) noexcept {
    const float choice = sampler.next1();
    const LightSample light =
        lighting.sample(surface.position, surface.normal, choice, sampler.next2());
    if (light.pdf <= 0.0F)
        return {};
    float scattered = 0.0F;
    const LinearRgb value = bsdf.evaluate(light.direction, scattered);
    if (scattered <= 0.0F)
        return {};
    const float to = std::isfinite(light.distance) ? light.distance * kShortOfLight : kNothingHit;
    if (accelerator.occluded(leavingFrom(surface, light.direction), light.direction, 0.0F, to))
        return {};
    const float weight = light.delta ? 1.0F : light.pdf / (light.pdf + scattered);
    return value * light.radiance * (weight / light.pdf);
}

}  // namespace

LinearRgb tracePath(const Accelerator& accelerator, const Lighting& lighting, const CameraRay& ray,
                    const BeautySettings& settings, PixelSampler& sampler) noexcept {
    const Scene& scene = accelerator.scene();
    LinearRgb light;
    LinearRgb throughput{1.0F, 1.0F, 1.0F};
    V3f origin = ray.origin;
    V3f direction = ray.direction;
    Surface last;
    float lastPdf = 0.0F;
    bool seenDirectly = true;  // no light sampling could have found what this ray meets

    for (int bounce = 0; bounce <= settings.bounces; ++bounce) {
        const Hit hit = accelerator.intersect(origin, direction, 0.0F, kNothingHit);
        const float limit = bounce == 0 ? 0.0F : settings.clamp;
        if (!hit.any()) {
            const float other =
                seenDirectly ? 0.0F : lighting.pdfBeyond(last.position, last.normal, direction);
            const float weight = seenDirectly ? 1.0F : lastPdf / (lastPdf + other);
            light = light + limited(throughput * lighting.beyond(direction) * weight, limit);
            break;
        }
        const Surface surface = accelerator.surfaceAt(hit, origin, direction);
        const Material& material = scene.materials[static_cast<std::size_t>(surface.material)];
        if (material.emits()) {
            const float other = seenDirectly ? 0.0F
                                             : lighting.pdfOfSurface(last.position, last.normal,
                                                                     hit, surface, direction);
            const float weight = seenDirectly ? 1.0F : lastPdf / (lastPdf + other);
            light =
                light + limited(throughput * emissionOf(surface, material, scene) * weight, limit);
        }
        if (bounce == settings.bounces)
            break;
        const Bsdf bsdf(surface, material, scene, -direction);
        light =
            light +
            limited(throughput * directLight(accelerator, lighting, surface, bsdf, sampler), limit);
        const float lobe = sampler.next1();
        const BsdfSample next = bsdf.sample(lobe, sampler.next2());
        throughput = throughput * next.weight;
        if (bounce >= kBouncesBeforeRoulette) {
            const float survival = std::min(0.95F, largest(throughput));
            if (sampler.next1() >= survival)
                break;
            throughput = throughput * (1.0F / survival);
        }
        if (!(largest(throughput) > 0.0F))
            break;
        last = surface;
        lastPdf = next.pdf;
        seenDirectly = next.transmitted;
        direction = next.direction;
        origin = leavingFrom(surface, direction);
    }
    const bool sound = std::isfinite(light.r) && std::isfinite(light.g) && std::isfinite(light.b);
    return sound ? light : LinearRgb{};
}

}  // namespace noctis
