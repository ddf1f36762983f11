#include "core/tracer/refined_passes.h"

#include "core/tracer/directions.h"
#include "core/tracer/rgb.h"

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

/// Shadow rays end this part short of the lamp, to miss its own surface.
constexpr float kShortOfLight = 0.9995F;

float reachOf(const LightSample& light) {
    return std::isfinite(light.distance) ? light.distance * kShortOfLight : kNothingHit;
}

Image oneChannel(const RefinedFrame& frame) { return Image(frame.width, frame.height, {"Y"}); }

class ShadowPass : public RefinedPasses {
public:
    ShadowPass(const RefinedFrame& frame, const PassRequest& request)
        : m_frame(frame), m_name(request.name()), m_settings(shadowSettings(request.settings)),
          m_occluders(frame.parts.of(m_settings.of)), m_receivers(frame.parts.of(m_settings.on)),
          m_emitters(frame.lighting.emittersNamed(request.subject)), m_sums(oneChannel(frame)),
          m_plane(m_sums.editPlane(0)) {}

    [[nodiscard]] PassKind kind() const override { return PassKind::Shadow; }
    [[nodiscard]] int samples() const override { return m_settings.samples; }

    void trace(const Tile& tile, int from, int to) noexcept override {
        for (int y = tile.y0; y < tile.y1; ++y)
            for (int x = tile.x0; x < tile.x1; ++x)
                m_plane[m_sums.rowStride() * y + x] += openAt(x, y, from, to);
    }

    [[nodiscard]] std::vector<Pass> passes(const std::vector<int>& samplesOfTile,
                                           const std::vector<Tile>& tiles) const override {
        Pass pass;
        pass.name = m_name;
        pass.kind = PassKind::Shadow;
        pass.image = averageOf(m_sums, 0, {"Y"}, samplesOfTile, tiles);
        if (m_emitters.empty())
            pass.warnings.emplace_back("The light is off, so the pass is empty.");
        return {pass};
    }

private:
    [[nodiscard]] float openAt(int x, int y, int from, int to) const noexcept {
        const auto all = static_cast<float>(to - from);
        const CameraRay ray = rayThrough(m_frame, x, y);
        const Hit hit = m_receivers.intersect(ray.origin, ray.direction, 0.0F, kNothingHit);
        if (!hit.any() || m_emitters.empty())
            return all;
        const Surface surface = m_receivers.surfaceAt(hit, ray.origin, ray.direction);
        float open = 0.0F;
        for (int i = from; i < to; ++i) {
            PixelSampler sampler(x, y, static_cast<std::uint32_t>(i), m_frame.seed);
            const auto emitter = m_emitters[static_cast<std::size_t>(i) % m_emitters.size()];
            const LightSample light = m_frame.lighting.sampleOne(emitter, surface.position,
                                                                 surface.normal, sampler.next2());
            if (light.direction.dot(surface.geometricNormal) <= 0.0F)
                continue;
            const bool closed = m_occluders.occluded(
                leavingFrom(surface, light.direction), light.direction, 0.0F,
                m_settings.reach > 0.0F ? std::min(m_settings.reach, reachOf(light))
                                        : reachOf(light));
            open += closed ? 0.0F : 1.0F;
        }
        return open;
    }

    RefinedFrame m_frame;
    std::string m_name;
    ShadowSettings m_settings;
    const Accelerator& m_occluders;
    const Accelerator& m_receivers;
    std::vector<int> m_emitters;
    Image m_sums;
    float* m_plane;
};

/// The part of all light that things keep from an unseen ground. The fraction of each sample's light
/// that is blocked is averaged by its strength, so that a lamp's shadow is as dark as the lamp is strong.
class GroundShadowPass : public RefinedPasses {
public:
    GroundShadowPass(const RefinedFrame& frame, const PassRequest& request)
        : m_frame(frame), m_name(request.name()),
          m_settings(groundShadowSettings(request.settings)),
          m_occluders(frame.parts.of(m_settings.of)), m_blocked(oneChannel(frame)),
          m_all(oneChannel(frame)), m_blockedPlane(m_blocked.editPlane(0)),
          m_allPlane(m_all.editPlane(0)) {}

    [[nodiscard]] PassKind kind() const override { return PassKind::GroundShadow; }
    [[nodiscard]] int samples() const override { return m_settings.samples; }

    void trace(const Tile& tile, int from, int to) noexcept override {
        for (int y = tile.y0; y < tile.y1; ++y)
            for (int x = tile.x0; x < tile.x1; ++x)
                for (int i = from; i < to; ++i)
                    traceOne(x, y, i);
    }

    [[nodiscard]] std::vector<Pass> passes(const std::vector<int>&,
                                           const std::vector<Tile>&) const override {
        Pass pass;
        pass.name = m_name;
        pass.kind = PassKind::GroundShadow;
        pass.image = m_blocked;
        float* out = pass.image.editPlane(0);
        for (std::ptrdiff_t i = 0; i < m_all.rowStride() * m_all.height(); ++i)
            out[i] = m_all.plane(0)[i] > 0.0F ? out[i] / m_all.plane(0)[i] : 0.0F;
        return {pass};
    }

private:
    void traceOne(int x, int y, int i) const noexcept {
        PixelSampler sampler(x, y, static_cast<std::uint32_t>(i), m_frame.seed);
        const Sample2 within = sampler.next2();
        const CameraRay ray = rayThrough(m_frame, x, y, within);
        const float distance = (m_settings.level - ray.origin.y) / ray.direction.y;
        if (!(distance > 0.0F) || !std::isfinite(distance))
            return;
        const V3f up(0.0F, ray.origin.y > m_settings.level ? 1.0F : -1.0F, 0.0F);
        const V3f place = ray.origin + ray.direction * distance;
        const float choice = sampler.next1();
        const LightSample light = m_frame.lighting.sample(place, up, choice, sampler.next2());
        const float cosine = light.direction.dot(up);
        if (light.pdf <= 0.0F || cosine <= 0.0F)
            return;
        const float strength = luminance(light.radiance) * cosine / light.pdf;
        const V3f from = place + up * (1e-4F + 1e-6F * distance);
        const std::ptrdiff_t at = m_all.rowStride() * y + x;
        m_allPlane[at] += strength;
        if (m_occluders.occluded(from, light.direction, 0.0F, reachOf(light)))
            m_blockedPlane[at] += strength;
    }

    RefinedFrame m_frame;
    std::string m_name;
    GroundShadowSettings m_settings;
    const Accelerator& m_occluders;
    Image m_blocked;
    Image m_all;
    float* m_blockedPlane;
    float* m_allPlane;
};

}  // namespace

std::unique_ptr<RefinedPasses> shadowPass(const RefinedFrame& frame, const PassRequest& request) {
    return std::make_unique<ShadowPass>(frame, request);
}

std::unique_ptr<RefinedPasses> groundShadowPass(const RefinedFrame& frame,
                                                const PassRequest& request) {
    return std::make_unique<GroundShadowPass>(frame, request);
}

}  // namespace noctis
