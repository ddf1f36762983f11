#include "core/tracer/lighting.h"

#include "core/tracer/bsdf.h"
#include "core/tracer/directions.h"
#include "core/tracer/rgb.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace noctis {

namespace {

std::array<V3f, 3> worldCorners(const Scene& scene, int instance, std::size_t triangle) {
    const Instance& placed = scene.instances[static_cast<std::size_t>(instance)];
    const Mesh& mesh = scene.meshes[static_cast<std::size_t>(placed.mesh)];
    const auto& corner = mesh.triangles[triangle];
    return {mesh.positions[corner[0]] * placed.toWorld, mesh.positions[corner[1]] * placed.toWorld,
            mesh.positions[corner[2]] * placed.toWorld};
}

float sunCosine(const Light& light) { return std::cos(0.5F * std::max(light.angleRadians, 1e-4F)); }

/// A sun's radiance, so that its disc gives the irradiance it is said to have.
LinearRgb sunRadiance(const Light& light) {
    return light.power * (1.0F / (2.0F * kPi * (1.0F - sunCosine(light))));
}

/// A lamp with a radius is a small sphere that looks evenly bright, as a disc: a point of its near side,
/// from its centre, for a soft shadow. What stands inside the lamp throws none.
V3f towardsLamp(float radius, const V3f& viewer, const Sample2& u) {
    const V2f onDisc = discFromSquare(u.x, u.y);
    const float height = std::sqrt(std::max(0.0F, 1.0F - onDisc.length2()));
    return Frame(viewer).toWorld({onDisc.x, onDisc.y, height}) * radius;
}

/// Picks from sums that grow; gives the index and how far within it.
std::size_t pick(const float* sums, std::size_t count, float u, float& within) {
    const float target = u * sums[count - 1];
    const auto* found = std::upper_bound(sums, sums + count, target);
    const auto index = std::min(static_cast<std::size_t>(found - sums), count - 1);
    const float before = index == 0 ? 0.0F : sums[index - 1];
    within =
        std::clamp((target - before) / std::max(sums[index] - before, 1e-20F), 0.0F, 0.999999F);
    return index;
}

}  // namespace

Lighting::Lighting(const Scene& scene, std::vector<Light> lights, const Sky& sky)
    : m_scene(scene), m_lights(std::move(lights)), m_sky(sky), m_groups(lightGroups(scene)) {
    // The sky keeps the group that the scene gives it, whatever stands in for it.
    m_skyGroup = groupNamed(scene.sky ? scene.sky->group : Sky{}.group);
    if (!m_sky.panorama.empty())
        std::erase_if(m_lights, [](const Light& light) { return light.standIn; });
    addLights();
    addSurfaces();
    prepareSky();
}

int Lighting::groupNamed(const std::string& name) const {
    const auto found = std::find(m_groups.begin(), m_groups.end(), name);
    return found == m_groups.end() ? 0 : static_cast<int>(found - m_groups.begin());
}

void Lighting::addLights() {
    for (std::size_t i = 0; i < m_lights.size(); ++i) {
        const Light& light = m_lights[i];
        Emitter emitter;
        emitter.kind = light.kind == LightKind::Sun ? Emitter::Kind::Sun : Emitter::Kind::Delta;
        emitter.light = static_cast<int>(i);
        emitter.centre = light.position;
        emitter.power = luminance(light.power);
        emitter.group = groupNamed(light.group.empty() ? light.name : light.group);
        if (light.kind == LightKind::Sun)
            emitter.radiance = sunRadiance(light);
        if (emitter.power > 0.0F)
            m_emitters.push_back(emitter);
    }
}

int Lighting::groupOf(int instance) const noexcept {
    const int emitter = m_emitterOfInstance[static_cast<std::size_t>(instance)];
    return emitter < 0 ? m_skyGroup : m_emitters[static_cast<std::size_t>(emitter)].group;
}

std::vector<int> Lighting::emittersNamed(const std::string& name) const {
    std::vector<int> found;
    for (std::size_t i = 0; i < m_emitters.size(); ++i) {
        const Emitter& e = m_emitters[i];
        const bool is =
            e.kind == Emitter::Kind::Sky ? name == "environment"
            : e.kind == Emitter::Kind::Surface
                ? m_scene.objects[static_cast<std::size_t>(
                      m_scene.instances[static_cast<std::size_t>(e.instance)].object)] == name
                : m_lights[static_cast<std::size_t>(e.light)].name == name;
        if (is)
            found.push_back(static_cast<int>(i));
    }
    return found;
}

bool Lighting::meetsSun(const Emitter& sun, const V3f& direction) const noexcept {
    const Light& light = m_lights[static_cast<std::size_t>(sun.light)];
    return -light.direction.dot(direction) > sunCosine(light);
}

void Lighting::addSurfaces() {
    m_emitterOfInstance.assign(m_scene.instances.size(), -1);
    for (std::size_t i = 0; i < m_scene.instances.size(); ++i) {
        const Mesh& mesh = m_scene.meshes[static_cast<std::size_t>(m_scene.instances[i].mesh)];
        const Material& material = m_scene.materials[static_cast<std::size_t>(mesh.material)];
        if (!material.emits() || mesh.triangles.empty())
            continue;
        Emitter emitter;
        emitter.kind = Emitter::Kind::Surface;
        emitter.instance = static_cast<int>(i);
        Box3f box;
        float area = 0.0F;
        for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
            const auto corners = worldCorners(m_scene, emitter.instance, t);
            area += 0.5F * (corners[1] - corners[0]).cross(corners[2] - corners[0]).length();
            emitter.areas.push_back(area);
            for (const V3f& corner : corners)
                box.extendBy(corner);
        }
        emitter.centre = box.center();
        emitter.radius = 0.5F * box.size().length();
        emitter.power = luminance(material.emission) * area;
        emitter.group =
            groupNamed(material.lightGroup.empty() ? material.name : material.lightGroup);
        if (area > 0.0F) {
            m_emitterOfInstance[i] = static_cast<int>(m_emitters.size());
            m_emitters.push_back(std::move(emitter));
        }
    }
}

void Lighting::prepareSky() {
    Emitter emitter;
    emitter.kind = Emitter::Kind::Sky;
    emitter.group = m_skyGroup;
    const Image& panorama = m_sky.panorama;
    if (!panorama.empty()) {
        float total = 0.0F;
        for (int y = 0; y < panorama.height(); ++y) {
            const float sine = std::sin(kPi * (static_cast<float>(y) + 0.5F) /
                                        static_cast<float>(panorama.height()));
            float row = 0.0F;
            for (int x = 0; x < panorama.width(); ++x) {
                row += sine * luminance({panorama(x, y, 0), panorama(x, y, 1), panorama(x, y, 2)}) +
                       1e-9F;
                m_skyColumns.push_back(row);
            }
            total += row;
            m_skyRows.push_back(total);
        }
        emitter.power =
            kPi * total * 2.0F / static_cast<float>(panorama.width() * panorama.height());
    } else {
        emitter.power = kPi * luminance(mix(m_sky.zenith, m_sky.horizon, 0.5F));
    }
    emitter.power *= m_sky.strength;
    if (emitter.power > 0.0F)
        m_emitters.push_back(emitter);
}

float Lighting::importance(const Emitter& e, const V3f& position,
                           const V3f& normal) const noexcept {
    if (e.kind == Emitter::Kind::Sky)
        return e.power;
    if (e.kind == Emitter::Kind::Sun) {
        const Light& light = m_lights[static_cast<std::size_t>(e.light)];
        return e.power * std::max(-light.direction.dot(normal), 0.02F);
    }
    const V3f to = e.centre - position;
    const float d2 = std::max(to.length2(), e.radius * e.radius + 1e-8F);
    const float d = std::sqrt(d2);
    // A light wholly behind the surface still keeps a little, for shading normals that lean.
    const float facing = std::clamp((to.dot(normal) + e.radius) / d, 0.02F, 1.0F);
    return e.power * facing / d2;
}

float Lighting::chanceOf(std::size_t emitter, const V3f& position,
                         const V3f& normal) const noexcept {
    float total = 0.0F;
    for (const Emitter& e : m_emitters)
        total += importance(e, position, normal);
    return total > 0.0F ? importance(m_emitters[emitter], position, normal) / total : 0.0F;
}

LightSample Lighting::sample(const V3f& position, const V3f& normal, float choice,
                             const Sample2& u) const noexcept {
    LightSample out;
    float total = 0.0F;
    for (const Emitter& e : m_emitters)
        total += importance(e, position, normal);
    if (!(total > 0.0F))
        return out;
    float target = choice * total;
    std::size_t index = 0;
    while (index + 1 < m_emitters.size() &&
           target >= importance(m_emitters[index], position, normal))
        target -= importance(m_emitters[index++], position, normal);
    const float chance = importance(m_emitters[index], position, normal) / total;
    out = sampleOne(static_cast<int>(index), position, normal, u);
    out.pdf *= chance;
    return out;
}

LightSample Lighting::sampleOne(int emitter, const V3f& position, const V3f& normal,
                                const Sample2& u) const noexcept {
    LightSample out;
    const Emitter& e = m_emitters[static_cast<std::size_t>(emitter)];
    out.group = e.group;
    switch (e.kind) {
    case Emitter::Kind::Delta: {
        const Light& light = m_lights[static_cast<std::size_t>(e.light)];
        const V3f toCentre = light.position - position;
        const float d2 = toCentre.length2();
        if (d2 <= 0.0F)
            return out;
        const V3f to = toCentre + towardsLamp(light.radius, -toCentre / std::sqrt(d2), u);
        out.distance = to.length();
        if (out.distance <= 0.0F)
            return out;
        out.direction = to / out.distance;
        float strength = 1.0F / d2;
        if (light.kind == LightKind::Spot) {
            const float angle =
                std::acos(std::clamp(-out.direction.dot(light.direction), -1.0F, 1.0F));
            const float t =
                std::clamp((light.outerRadians - angle) / (light.outerRadians - light.innerRadians),
                           0.0F, 1.0F);
            strength *= t * t * (3.0F - 2.0F * t);
        }
        out.radiance = light.power * strength;
        out.pdf = 1.0F;
        out.delta = true;
        break;
    }
    case Emitter::Kind::Sun: {
        const Light& light = m_lights[static_cast<std::size_t>(e.light)];
        const float cosine = sunCosine(light);
        out.direction = Frame(-light.direction).toWorld(coneFromSquare(u.x, u.y, cosine));
        out.distance = kNothingHit;
        out.radiance = e.radiance;
        out.pdf = 1.0F / (2.0F * kPi * (1.0F - cosine));
        break;
    }
    case Emitter::Kind::Surface:
        sampleSurface(e, position, u, out);
        break;
    case Emitter::Kind::Sky:
        sampleSky(normal, u, out);
        break;
    }
    return out;
}

int Lighting::middles(const V3f& position, const V3f& normal, Lamps which, LightSample* samples,
                      int most) const noexcept {
    // The strongest are found by their importance, which is cheaper than a sample.
    constexpr int kMost = 4;
    std::array<std::pair<float, int>, kMost> strongest{};
    most = std::min(most, kMost);
    int count = 0;
    for (std::size_t e = 0; e < m_emitters.size(); ++e) {
        const Emitter::Kind kind = m_emitters[e].kind;
        if (kind == Emitter::Kind::Sky ||
            (kind == Emitter::Kind::Surface && which == Lamps::WithoutSurface))
            continue;
        const float light = importance(m_emitters[e], position, normal);
        int at = std::min(count, most - 1);
        if (count == most && light <= strongest[static_cast<std::size_t>(at)].first)
            continue;
        for (; at > 0 && strongest[static_cast<std::size_t>(at - 1)].first < light; --at)
            strongest[static_cast<std::size_t>(at)] = strongest[static_cast<std::size_t>(at - 1)];
        strongest[static_cast<std::size_t>(at)] = {light, static_cast<int>(e)};
        count = std::min(count + 1, most);
    }
    int found = 0;
    for (int i = 0; i < count; ++i) {
        samples[found] = sampleOne(strongest[static_cast<std::size_t>(i)].second, position, normal,
                                   Sample2{0.5F, 0.5F});
        if (samples[found].pdf > 0.0F && samples[found].direction.dot(normal) > 0.0F)
            ++found;
    }
    return found;
}

void Lighting::sampleSurface(const Emitter& e, const V3f& position, const Sample2& u,
                             LightSample& out) const noexcept {
    float within = 0.0F;
    const std::size_t triangle = pick(e.areas.data(), e.areas.size(), u.x, within);
    const auto c = worldCorners(m_scene, e.instance, triangle);
    const float root = std::sqrt(within);
    const float b1 = 1.0F - root;
    const float b2 = u.y * root;
    const V3f point = c[0] * (1.0F - b1 - b2) + c[1] * b1 + c[2] * b2;
    const V3f to = point - position;
    out.distance = to.length();
    if (out.distance <= 1e-6F)
        return;
    out.direction = to / out.distance;
    const V3f normal = (c[1] - c[0]).cross(c[2] - c[0]).normalized();
    const float cosine = std::abs(normal.dot(out.direction));
    if (cosine <= 1e-6F)
        return;
    const Mesh& mesh = m_scene.meshes[static_cast<std::size_t>(
        m_scene.instances[static_cast<std::size_t>(e.instance)].mesh)];
    const Material& material = m_scene.materials[static_cast<std::size_t>(mesh.material)];
    Surface surface;
    if (!mesh.texture.empty()) {
        const auto& corner = mesh.triangles[triangle];
        surface.texture = mesh.texture[corner[0]] * (1.0F - b1 - b2) +
                          mesh.texture[corner[1]] * b1 + mesh.texture[corner[2]] * b2;
    }
    out.radiance = emissionOf(surface, material, m_scene);
    out.pdf = out.distance * out.distance / (cosine * e.areas.back());
}

float Lighting::pdfOfSurface(const V3f& position, const V3f& normal, const Hit& hit,
                             const Surface& surface, const V3f& direction) const noexcept {
    const int index = m_emitterOfInstance[static_cast<std::size_t>(hit.instance)];
    if (index < 0)
        return 0.0F;
    const Emitter& e = m_emitters[static_cast<std::size_t>(index)];
    const float cosine = std::abs(surface.geometricNormal.dot(direction));
    return chanceOf(static_cast<std::size_t>(index), position, normal) * hit.distance *
           hit.distance / (std::max(cosine, 1e-6F) * e.areas.back());
}

LinearRgb Lighting::skyRadiance(const V3f& d) const noexcept {
    if (!m_sky.panorama.empty()) {
        const float u = 0.5F + std::atan2(d.x, -d.z) / (2.0F * kPi);
        const float v = std::acos(std::clamp(d.y, -1.0F, 1.0F)) / kPi;
        const int x = std::clamp(static_cast<int>(u * static_cast<float>(m_sky.panorama.width())),
                                 0, m_sky.panorama.width() - 1);
        const int y = std::clamp(static_cast<int>(v * static_cast<float>(m_sky.panorama.height())),
                                 0, m_sky.panorama.height() - 1);
        return LinearRgb{m_sky.panorama(x, y, 0), m_sky.panorama(x, y, 1),
                         m_sky.panorama(x, y, 2)} *
               m_sky.strength;
    }
    if (d.y < 0.0F)
        return mix(m_sky.horizon, m_sky.ground, std::min(1.0F, -d.y * 8.0F)) * m_sky.strength;
    // Air thickens fast towards the horizon.
    const float height = std::pow(std::min(d.y, 1.0F), 0.42F);
    return mix(m_sky.horizon, m_sky.zenith, height) * m_sky.strength;
}

void Lighting::sampleSky(const V3f& normal, const Sample2& u, LightSample& out) const noexcept {
    out.distance = kNothingHit;
    if (m_sky.panorama.empty()) {
        const V2f disc = discFromSquare(u.x, u.y);
        out.direction = Frame(normal).toWorld(
            {disc.x, disc.y, std::sqrt(std::max(0.0F, 1.0F - disc.x * disc.x - disc.y * disc.y))});
    } else {
        float withinRow = 0.0F;
        float withinColumn = 0.0F;
        const auto width = static_cast<std::size_t>(m_sky.panorama.width());
        const std::size_t y = pick(m_skyRows.data(), m_skyRows.size(), u.y, withinRow);
        const std::size_t x = pick(m_skyColumns.data() + y * width, width, u.x, withinColumn);
        const float theta =
            kPi * (static_cast<float>(y) + withinRow) / static_cast<float>(m_sky.panorama.height());
        const float phi =
            2.0F * kPi *
            ((static_cast<float>(x) + withinColumn) / static_cast<float>(width) - 0.5F);
        out.direction = {std::sin(theta) * std::sin(phi), std::cos(theta),
                         -std::sin(theta) * std::cos(phi)};
    }
    out.pdf = skyPdf(normal, out.direction);
    out.radiance = skyRadiance(out.direction);
}

float Lighting::skyPdf(const V3f& normal, const V3f& d) const noexcept {
    if (m_sky.panorama.empty())
        return std::max(0.0F, d.dot(normal)) / kPi;
    const int width = m_sky.panorama.width();
    const int height = m_sky.panorama.height();
    const float u = 0.5F + std::atan2(d.x, -d.z) / (2.0F * kPi);
    const float theta = std::acos(std::clamp(d.y, -1.0F, 1.0F));
    const int x = std::clamp(static_cast<int>(u * static_cast<float>(width)), 0, width - 1);
    const int y =
        std::clamp(static_cast<int>(theta / kPi * static_cast<float>(height)), 0, height - 1);
    const std::size_t cell =
        static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x);
    const float weight = m_skyColumns[cell] - (x > 0 ? m_skyColumns[cell - 1] : 0.0F);
    const float chance = weight / m_skyRows.back() * static_cast<float>(width * height);
    return chance / (2.0F * kPi * kPi * std::max(std::sin(theta), 1e-4F));
}

float Lighting::pdfBeyond(const V3f& position, const V3f& normal,
                          const V3f& direction) const noexcept {
    float pdf = 0.0F;
    for (std::size_t i = 0; i < m_emitters.size(); ++i) {
        const Emitter& e = m_emitters[i];
        if (e.kind == Emitter::Kind::Sky) {
            pdf += chanceOf(i, position, normal) * skyPdf(normal, direction);
        } else if (e.kind == Emitter::Kind::Sun) {
            const Light& light = m_lights[static_cast<std::size_t>(e.light)];
            const float cosine = sunCosine(light);
            if (-light.direction.dot(direction) > cosine)
                pdf += chanceOf(i, position, normal) / (2.0F * kPi * (1.0F - cosine));
        }
    }
    return pdf;
}

}  // namespace noctis
