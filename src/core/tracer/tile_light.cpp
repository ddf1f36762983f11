#include "core/tracer/tile_light.h"

#include "core/tracer/bsdf.h"
#include "core/tracer/rgb.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace noctis {

namespace {

/// Shadow rays at a place that was not seen before; mirrored places get one.
constexpr int kLampsMet = 3;
constexpr int kLampsMirrored = 2;
/// How many panes of glass a ray passes; mirrors in mirrors show the sky.
constexpr int kTurns = 2;
/// What was seen in pixels of that many of the picture's own is sharp enough to be shown again.
constexpr float kCoarsestShown = 1.5F;
/// How much of the sky over a surface lights it, where it isn't known what stands in the way.
constexpr float kEvenSurround = 0.5F;
constexpr float kLeastShown = 0.004F;
/// The cosine from the mirrored direction beyond which the roughest of mirrors has less than 1/250 of a
/// highlight's brightness.
constexpr float kHighlightEnds = 0.5F;
constexpr float kShortOfLight = 0.99F;
/// Rougher surfaces have no highlights to speak of.
constexpr float kShinesUpTo = 0.7F;
/// The cosine from a surface's normal of the direction midway between viewer and sun, from which on it shines.
constexpr float kShinesFrom = 0.85F;

/// Light that a ray still has to fetch, for one pixel of the tile.
struct Sought {
    LinearRgb weight{1.0F, 1.0F, 1.0F};
    int pixel = 0;
    float share = 1.0F;  ///< of it that the pixel shows
};

/// What a smooth surface mirrors to a pixel.
struct Mirrored {
    PacketRay ray;
    LinearRgb gloss{};
    int instance = -1;
    int pixel = 0;
    bool traced = false;
};

/// One tile, turn by turn: what the rays met is shaded, and sends out the rays of the next turn.
class TileLight {
public:
    explicit TileLight(const MovingLight& from) : m_from(from) {
        m_clay.baseColour = from.settings.clayColour;
        m_clay.roughness = 1.0F;
        from.lighting.towardsSuns([this](const V3f& sun) { m_suns.push_back(sun); });
    }

    /// As lightTile.
    void draw(const TileRays& seen, const std::vector<Hit>& hits, const std::vector<V3f>& normals,
              int width, std::vector<LinearRgb>& light) {
        m_light = &light;
        m_width = width;
        m_pixels = static_cast<int>(light.size());
        m_mirrorOf.assign(light.size(), -1);
        // Mirrored light is gathered separately, in a second half, and added to the pixels at the end.
        light.resize(2 * light.size());
        std::vector<PacketRay> rays = seen.rays;
        std::vector<Hit> met = hits;
        std::vector<V3f> across = normals;
        std::vector<Sought> sought;
        for (const int pixel : seen.pixels)
            sought.push_back({{1.0F, 1.0F, 1.0F}, pixel});
        for (m_turn = 0;; ++m_turn) {
            for (std::size_t i = 0; i < rays.size(); ++i)
                if (!showAgain(rays[i], met[i], across[i], sought[i]))
                    shade(rays[i], met[i], sought[i]);
            if (m_turn == 0)
                followMirrors();
            if (m_nextRays.empty())
                break;
            std::swap(rays, m_nextRays);
            std::swap(sought, m_nextSought);
            m_nextRays.clear();
            m_nextSought.clear();
            met.resize(rays.size());
            across.resize(rays.size());
            intersectAll(m_from.accelerator, rays.data(), rays.size(), met.data(), across.data());
        }
        std::vector<unsigned char> blocked(m_shadowRays.size());
        occludedAll(m_from.accelerator, m_shadowRays.data(), m_shadowRays.size(), blocked.data());
        for (std::size_t i = 0; i < blocked.size(); ++i)
            if (blocked[i] == 0)
                add(m_shadowed[i].pixel, m_shadowed[i].weight);
        layMirrored();
        light.resize(static_cast<std::size_t>(m_pixels));
    }

private:
    void add(int pixel, const LinearRgb& light) noexcept {
        LinearRgb& sum = (*m_light)[static_cast<std::size_t>(pixel)];
        sum = sum + light;
    }

    /// Shows what was seen of a matt surface, in light and colour, without its textures or BSDF; false where
    /// that is not known.
    bool showAgain(const PacketRay& ray, const Hit& hit, const V3f& normal, const Sought& sought) {
        if (m_from.before == nullptr || m_from.settings.clay || !hit.any())
            return false;
        const Scene& scene = m_from.accelerator.scene();
        const Instance& instance = scene.instances[static_cast<std::size_t>(hit.instance)];
        const Mesh& mesh = scene.meshes[static_cast<std::size_t>(instance.mesh)];
        const Material& material = scene.materials[static_cast<std::size_t>(mesh.material)];
        if (material.emits() || material.transmission > 0.0F)
            return false;
        const bool mayShine = material.roughness < kShinesUpTo || material.roughnessTexture >= 0;
        if (m_turn == 0 && mayShine && shines(ray.direction, normal))
            return false;  // a highlight stays with the viewer
        // A mirror need not be sharp.
        const float coarsest =
            m_turn > 0 ? kNothingHit : kCoarsestShown * m_from.size.at(hit.distance);
        LinearRgb light{};
        if (!m_from.before->mattAt(ray.origin + ray.direction * hit.distance, normal, coarsest,
                                   light))
            return false;
        add(sought.pixel, sought.weight * light);
        return true;
    }

    /// Whether a sun is mirrored nearly to the viewer.
    [[nodiscard]] bool shines(const V3f& direction, const V3f& normal) const noexcept {
        return std::any_of(m_suns.begin(), m_suns.end(), [&](const V3f& sun) {
            return sun.dot(normal) > 0.0F &&
                   (sun - direction).normalized().dot(normal) > kShinesFrom;
        });
    }

    void shade(const PacketRay& ray, const Hit& hit, const Sought& sought) {
        if (!hit.any()) {
            if (m_turn > 0 || (m_from.settings.backdrop && !showGround(ray, sought)))
                add(sought.pixel, sought.weight * beyond(ray.direction));
            return;
        }
        const Surface surface = m_from.accelerator.surfaceAt(hit, ray.origin, ray.direction);
        const Scene& scene = m_from.accelerator.scene();
        const Material& own = scene.materials[static_cast<std::size_t>(surface.material)];
        const Material& material = m_from.settings.clay && !own.emits() ? m_clay : own;
        if (material.emits())
            add(sought.pixel, sought.weight * emissionOf(surface, material, scene));
        const Bsdf bsdf(surface, material, scene, -ray.direction);
        const float roughness = bsdf.roughness();
        const LinearRgb gloss = bsdf.glossColour();
        const bool mirrors = roughness < kMirrorsUpTo;
        LinearRgb colour = bsdf.diffuseColour();
        if (!mirrors)  // it mirrors all around it, and less of it the rougher it is
            colour = colour + gloss * ((1.0F - roughness) * (1.0F - roughness));
        addMatt(surface, {sought.weight * colour, sought.pixel, sought.share});
        const LinearRgb through = sought.weight * bsdf.transmissionColour();
        if (m_turn < kTurns && largest(through) * sought.share > kLeastShown)
            follow(surface, ray.direction, {through, sought.pixel, sought.share});
        if (!mirrors && (m_turn > 0 || roughness >= kShinesUpTo ||
                         !shines(ray.direction, surface.geometricNormal)))
            return;
        const V3f& n = surface.normal;
        V3f away = ray.direction - n * (2.0F * ray.direction.dot(n));
        // A normal map may turn it into the surface; it grazes it then.
        const float into = away.dot(surface.geometricNormal);
        if (into < 0.0F)
            away = (away - surface.geometricNormal * (1.001F * into)).normalized();
        if (!mirrors)
            return addHighlights(surface, bsdf, away, sought);
        if (m_turn > 0)  // a mirror in a mirror
            return add(sought.pixel, sought.weight * gloss * m_from.lighting.skyRadiance(away));
        m_mirrorOf[static_cast<std::size_t>(sought.pixel)] = static_cast<int>(m_mirrors.size());
        m_mirrors.push_back({{leavingFrom(surface, away), away, kNothingHit, 0.0F},
                             sought.weight * gloss,
                             hit.instance,
                             sought.pixel});
        addHighlights(surface, bsdf, away, sought);
    }

    /// The mirror that a pixel of the tile shows, if it is of the same thing.
    [[nodiscard]] const Mirrored* mirrorAt(int x, int y, int instance) const noexcept {
        if (x < 0 || y < 0 || x >= m_width || (y * m_width + x) >= m_pixels)
            return nullptr;
        const int index = m_mirrorOf[static_cast<std::size_t>(y * m_width + x)];
        const Mirrored* mirror = index < 0 ? nullptr : &m_mirrors[static_cast<std::size_t>(index)];
        return mirror != nullptr && mirror->instance == instance ? mirror : nullptr;
    }

    /// Calls visit(mirror) for the pixels beside a mirror that show the same one.
    template <typename Visit> void besides(const Mirrored& mirror, const Visit& visit) const {
        const int x = mirror.pixel % m_width;
        const int y = mirror.pixel / m_width;
        for (const auto& [dx, dy] : {std::pair{-1, -1}, {1, -1}, {-1, 1}, {1, 1}})
            if (const Mirrored* beside = mirrorAt(x + dx, y + dy, mirror.instance))
                visit(*beside);
    }

    /// Traces every second pixel's ray, as on a chessboard, and those without a traced neighbour: rays from
    /// rippled water are scattered and cost the most.
    void followMirrors() {
        for (Mirrored& mirror : m_mirrors)
            mirror.traced = mirror.pixel / m_width % 2 == 0;
        for (Mirrored& mirror : m_mirrors) {
            bool standsIn = mirror.traced;
            besides(mirror, [&](const Mirrored& beside) { standsIn = standsIn || beside.traced; });
            mirror.traced = mirror.traced || !standsIn;
            if (!mirror.traced)
                continue;
            m_nextRays.push_back(mirror.ray);
            m_nextSought.push_back(
                {{1.0F, 1.0F, 1.0F}, m_pixels + mirror.pixel, largest(mirror.gloss)});
        }
    }

    void layMirrored() {
        for (const Mirrored& mirror : m_mirrors) {
            LinearRgb light{};
            int count = 0;
            const auto take = [&](const Mirrored& from) {
                if (!from.traced)
                    return;
                light = light + (*m_light)[static_cast<std::size_t>(m_pixels + from.pixel)];
                ++count;
            };
            if (mirror.traced)
                take(mirror);
            else
                besides(mirror, take);
            add(mirror.pixel, mirror.gloss * light * (1.0F / static_cast<float>(count)));
        }
    }

    void follow(const Surface& from, const V3f& direction, const Sought& sought) {
        m_nextRays.push_back({leavingFrom(from, direction), direction, kNothingHit, 0.0F});
        m_nextSought.push_back(sought);
    }

    /// The ground that stands in, as it was seen, or with the key light's shadow alone; false where there is none.
    bool showGround(const PacketRay& ray, const Sought& sought) {
        const auto& ground = m_from.lighting.ground();
        const std::optional<V3f> place =
            ground ? ground->met(ray.origin, ray.direction) : std::nullopt;
        if (!place)
            return false;
        LinearRgb seen{};
        if (m_from.before != nullptr && StandInGround::hasOneColour(ray.direction) &&
            m_from.before->at(*place, {0.0F, 1.0F, 0.0F}, seen)) {
            add(sought.pixel, sought.weight * seen);
            return true;
        }
        const LinearRgb colour = sought.weight * m_from.lighting.skyRadiance(ray.direction);
        const auto [key, sky] = ground->parts({}, {});
        add(sought.pixel, colour * sky.share);
        if (key.share > 0.0F) {
            m_shadowRays.push_back({*place, key.direction, kNothingHit, 0.0F});
            m_shadowed.push_back({colour * key.share, sought.pixel, sought.share});
        }
        return true;
    }

    /// A mirror shows the sky alone: suns are highlights on it.
    [[nodiscard]] LinearRgb beyond(const V3f& direction) const noexcept {
        if (m_turn > 0)
            return m_from.lighting.skyRadiance(direction);
        LinearRgb light{};
        m_from.lighting.beyond(direction,
                               [&](const LinearRgb& radiance, int) { light = light + radiance; });
        return light;
    }

    /// Light that arrives unless something stands between the surface and its lamp.
    void addUnlessBlocked(const Surface& surface, const LightSample& lamp, const Sought& light) {
        if (largest(light.weight) * light.share < kLeastShown ||
            lamp.direction.dot(surface.geometricNormal) <= 0.0F)
            return;
        m_shadowRays.push_back(
            {leavingFrom(surface, lamp.direction), lamp.direction,
             std::isfinite(lamp.distance) ? lamp.distance * kShortOfLight : kNothingHit, 0.0F});
        m_shadowed.push_back(light);
    }

    /// The lamps that no ray meets but by chance, on a smooth surface; a sun is never brighter than its
    /// mirror image.
    void addHighlights(const Surface& surface, const Bsdf& bsdf, const V3f& away,
                       const Sought& sought) {
        std::array<LightSample, kLampsMirrored> lamps;
        const int count =
            m_from.lighting.middles(surface.position, surface.normal,
                                    Lighting::Lamps::WithoutSurface, lamps.data(), kLampsMirrored);
        for (int i = 0; i < count; ++i) {
            const LightSample& lamp = lamps[static_cast<std::size_t>(i)];
            if (lamp.direction.dot(away) < kHighlightEnds)
                continue;
            float chance = 0.0F;
            LinearRgb light =
                bsdf.evaluate(lamp.direction, chance).gloss * lamp.radiance * (1.0F / lamp.pdf);
            if (!lamp.delta) {
                const LinearRgb mirrored = bsdf.glossColour() * lamp.radiance;
                light = {std::min(light.r, mirrored.r), std::min(light.g, mirrored.g),
                         std::min(light.b, mirrored.b)};
            }
            addUnlessBlocked(surface, lamp, {sought.weight * light, sought.pixel, sought.share});
        }
    }

    /// Light on a matt surface; sought.weight holds its colour.
    void addMatt(const Surface& surface, const Sought& sought) {
        LinearRgb light{};
        if (m_from.before != nullptr &&
            m_from.before->at(surface.position, surface.geometricNormal, light))
            return add(sought.pixel, sought.weight * light);
        add(sought.pixel,
            sought.weight * m_from.lighting.skyRadiance(surface.normal) * kEvenSurround);
        std::array<LightSample, kLampsMet> lamps;
        const int count =
            m_from.lighting.middles(surface.position, surface.normal, Lighting::Lamps::All,
                                    lamps.data(), m_turn == 0 ? kLampsMet : 1);
        for (int i = 0; i < count; ++i) {
            const LightSample& lamp = lamps[static_cast<std::size_t>(i)];
            const float share = lamp.direction.dot(surface.normal) / (kPi * lamp.pdf);
            addUnlessBlocked(surface, lamp,
                             {sought.weight * lamp.radiance * share, sought.pixel, sought.share});
        }
    }

    const MovingLight& m_from;
    Material m_clay;
    std::vector<V3f> m_suns;  ///< directions towards them
    int m_turn = 0;
    int m_width = 0;
    int m_pixels = 0;
    std::vector<LinearRgb>* m_light = nullptr;
    std::vector<Mirrored> m_mirrors;
    std::vector<int> m_mirrorOf;  ///< one a pixel, into m_mirrors; -1 for none
    std::vector<PacketRay> m_nextRays;
    std::vector<Sought> m_nextSought;
    std::vector<PacketRay> m_shadowRays;
    std::vector<Sought> m_shadowed;  ///< weight: the light that comes if it is not blocked
};

}  // namespace

void lightTile(const MovingLight& from, const TileRays& seen, const std::vector<Hit>& hits,
               const std::vector<V3f>& normals, int width, std::vector<LinearRgb>& light) {
    TileLight(from).draw(seen, hits, normals, width, light);
}

}  // namespace noctis
