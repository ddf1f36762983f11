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

/// How a path left its first surface: what part of its light is matt, mirrored, refracted.
struct Shares {
    LinearRgb diffuse{};
    LinearRgb gloss{};
    LinearRgb transmission{};
};

LinearRgb part(const LinearRgb& of, const LinearRgb& sum) {
    const auto share = [](float a, float b) { return b > 0.0F ? a / b : 0.0F; };
    return {share(of.r, sum.r), share(of.g, sum.g), share(of.b, sum.b)};
}

Shares sharesOf(const Scattered& value) {
    const LinearRgb sum = value.sum();
    return {part(value.diffuse, sum), part(value.gloss, sum), {}};
}

/// Traces one path; what it finds is put where it belongs at once. Rays is an Accelerator, or stands in
/// for one.
template <typename Rays> class Path {
public:
    Path(const Rays& accelerator, const Lighting& lighting, const BeautySettings& settings,
         PixelSampler& sampler, PathLight& out) noexcept
        : m_accelerator(accelerator), m_lighting(lighting), m_settings(settings),
          m_sampler(sampler), m_out(out), m_clay(clayOf(settings)) {}

    void trace(const CameraRay& ray) noexcept {
        const Scene& scene = m_accelerator.scene();
        V3f origin = ray.origin;
        V3f direction = ray.direction;
        for (m_bounce = 0; m_bounce <= m_settings.bounces; ++m_bounce) {
            const Hit hit = m_accelerator.intersect(origin, direction, 0.0F, kNothingHit);
            if (!hit.any()) {
                if (m_bounce > 0)
                    addBeyond(direction);
                else if (m_settings.backdrop)
                    addBackdrop(origin, direction);
                else
                    m_out.alpha = 0.0F;
                return;
            }
            const Surface surface = m_accelerator.surfaceAt(hit, origin, direction);
            const Material& own = scene.materials[static_cast<std::size_t>(surface.material)];
            const Material& material = m_settings.clay && !own.emits() ? m_clay : own;
            if (material.emits())
                addEmission(hit, surface, material, direction);
            if (m_bounce == m_settings.bounces)
                return;
            const Bsdf bsdf(surface, material, scene, -direction);
            if (m_bounce == 0) {
                m_out.diffuseColour = bsdf.diffuseColour();
                m_out.glossColour = bsdf.glossColour();
                m_out.transmissionColour = bsdf.transmissionColour();
            }
            addLamps(surface, bsdf);
            if (!turn(surface, bsdf, direction))
                return;
            origin = leavingFrom(surface, direction);
        }
    }

private:
    static Material clayOf(const BeautySettings& settings) {
        Material clay;
        clay.baseColour = settings.clayColour;
        clay.roughness = 1.0F;
        return clay;
    }

    /// Draws the next direction; false where the path ends.
    bool turn(const Surface& surface, const Bsdf& bsdf, V3f& direction) noexcept {
        const float lobe = m_sampler.next1();
        const BsdfSample next = bsdf.sample(lobe, m_sampler.next2());
        if (m_bounce == 0)
            m_shares = next.transmitted ? Shares{{}, {}, {1.0F, 1.0F, 1.0F}} : sharesOf(next.value);
        m_throughput = m_throughput * next.weight;
        if (m_bounce >= kBouncesBeforeRoulette) {
            const float survival = std::min(0.95F, largest(m_throughput));
            if (m_sampler.next1() >= survival)
                return false;
            m_throughput = m_throughput * (1.0F / survival);
        }
        m_last = surface;
        m_lastPdf = next.pdf;
        m_seenDirectly = next.transmitted;
        direction = next.direction;
        return largest(m_throughput) > 0.0F;
    }

    /// Light that met the path by chance at this bounce: direct, if it left the first surface just now.
    void addFound(const LinearRgb& light, int group, LightPart seen) noexcept {
        if (m_bounce == 0)
            add(light, group, [&](const LinearRgb& kept) { put(seen, kept); });
        else
            addShared(light, group, m_shares, m_bounce == 1);
    }

    void addBeyond(const V3f& direction) noexcept {
        const float other =
            m_seenDirectly ? 0.0F : m_lighting.pdfBeyond(m_last.position, m_last.normal, direction);
        const float weight = m_seenDirectly ? 1.0F : m_lastPdf / (m_lastPdf + other);
        m_lighting.beyond(direction, [&](const LinearRgb& radiance, int group) {
            addFound(m_throughput * radiance * weight, group, LightPart::Backdrop);
        });
    }

    void addBackdrop(const V3f& origin, const V3f& direction) noexcept {
        const auto& ground = m_lighting.ground();
        const std::optional<V3f> place = ground ? ground->met(origin, direction) : std::nullopt;
        if (!place)
            return addBeyond(direction);
        const LinearRgb colour = m_lighting.skyRadiance(direction);
        const Sample2 onKey = m_sampler.next2();
        for (const StandInGround::Part& part : ground->parts(onKey, m_sampler.next2()))
            if (part.share > 0.0F &&
                !m_accelerator.occluded(*place, part.direction, 0.0F, kNothingHit))
                addFound(colour * part.share, part.group, LightPart::Backdrop);
    }

    void addEmission(const Hit& hit, const Surface& surface, const Material& material,
                     const V3f& direction) noexcept {
        const float other = m_seenDirectly ? 0.0F
                                           : m_lighting.pdfOfSurface(m_last.position, m_last.normal,
                                                                     hit, surface, direction);
        const float weight = m_seenDirectly ? 1.0F : m_lastPdf / (m_lastPdf + other);
        addFound(m_throughput * emissionOf(surface, material, m_accelerator.scene()) * weight,
                 m_lighting.groupOf(hit.instance), LightPart::Emission);
    }

    void addLamps(const Surface& surface, const Bsdf& bsdf) noexcept {
        const float choice = m_sampler.next1();
        const LightSample light =
            m_lighting.sample(surface.position, surface.normal, choice, m_sampler.next2());
        if (light.pdf <= 0.0F)
            return;
        float scattered = 0.0F;
        const Scattered value = bsdf.evaluate(light.direction, scattered);
        if (scattered <= 0.0F)
            return;
        const float to =
            std::isfinite(light.distance) ? light.distance * kShortOfLight : kNothingHit;
        if (m_accelerator.occluded(leavingFrom(surface, light.direction), light.direction, 0.0F,
                                   to))
            return;
        const float weight = light.delta ? 1.0F : light.pdf / (light.pdf + scattered);
        addShared(m_throughput * value.sum() * light.radiance * (weight / light.pdf), light.group,
                  m_bounce == 0 ? sharesOf(value) : m_shares, m_bounce == 0);
    }

    void addShared(const LinearRgb& light, int group, const Shares& shares, bool direct) noexcept {
        add(light, group, [&](const LinearRgb& kept) {
            put(direct ? LightPart::DiffuseDirect : LightPart::DiffuseIndirect,
                kept * shares.diffuse);
            put(direct ? LightPart::SpecularDirect : LightPart::SpecularIndirect,
                kept * shares.gloss);
            put(direct ? LightPart::TransmissionDirect : LightPart::TransmissionIndirect,
                kept * shares.transmission);
        });
    }

    template <typename Split>
    void add(const LinearRgb& light, int group, const Split& split) noexcept {
        if (!std::isfinite(light.r + light.g + light.b))
            return;
        const float peak = largest(light);
        const bool cut = m_bounce > 0 && m_settings.clamp > 0.0F && peak > m_settings.clamp;
        const LinearRgb kept = cut ? light * (m_settings.clamp / peak) : light;
        m_out.total = m_out.total + kept;
        split(kept);
        if (!m_out.groups.empty()) {
            LinearRgb& sum = m_out.groups[static_cast<std::size_t>(group)];
            sum = sum + kept;
        }
    }

    void put(LightPart where, const LinearRgb& light) noexcept {
        LinearRgb& sum = m_out.parts[static_cast<std::size_t>(where)];
        sum = sum + light;
    }

    const Rays& m_accelerator;
    const Lighting& m_lighting;
    const BeautySettings& m_settings;
    PixelSampler& m_sampler;
    PathLight& m_out;
    Material m_clay;
    int m_bounce = 0;
    LinearRgb m_throughput{1.0F, 1.0F, 1.0F};
    Shares m_shares;
    Surface m_last;
    float m_lastPdf = 0.0F;
    bool m_seenDirectly = true;  ///< light sampling could not have found what the path meets next
};

/// Traces as the accelerator does, and reports each ray.
struct ToldRays {
    const Accelerator& accelerator;
    const std::function<void(const PathRay&)>& visit;

    [[nodiscard]] const Scene& scene() const noexcept { return accelerator.scene(); }
    [[nodiscard]] Hit intersect(const V3f& origin, const V3f& direction, float from,
                                float to) const {
        const Hit hit = accelerator.intersect(origin, direction, from, to);
        visit({origin, direction, from, to, false, hit.any()});
        return hit;
    }
    [[nodiscard]] bool occluded(const V3f& origin, const V3f& direction, float from,
                                float to) const {
        const bool blocked = accelerator.occluded(origin, direction, from, to);
        visit({origin, direction, from, to, true, blocked});
        return blocked;
    }
    [[nodiscard]] Surface surfaceAt(const Hit& hit, const V3f& origin,
                                    const V3f& direction) const noexcept {
        return accelerator.surfaceAt(hit, origin, direction);
    }
};

}  // namespace

void visitPathRays(const Accelerator& accelerator, const Lighting& lighting, const CameraRay& ray,
                   const BeautySettings& settings, PixelSampler& sampler,
                   const std::function<void(const PathRay&)>& visit) {
    PathLight light;
    const ToldRays rays{accelerator, visit};
    Path(rays, lighting, settings, sampler, light).trace(ray);
}

void tracePath(const Accelerator& accelerator, const Lighting& lighting, const CameraRay& ray,
               const BeautySettings& settings, PixelSampler& sampler, PathLight& out) noexcept {
    out.total = {};
    out.alpha = 1.0F;
    out.parts.fill({});
    std::fill(out.groups.begin(), out.groups.end(), LinearRgb{});
    out.diffuseColour = out.glossColour = out.transmissionColour = {};
    Path(accelerator, lighting, settings, sampler, out).trace(ray);
}

}  // namespace noctis
