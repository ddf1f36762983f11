#include "core/tracer/lighting.h"

#include "core/tracer/bsdf.h"
#include "core/tracer/directions.h"
#include "core/tracer/pick_by_sums.h"
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

/// The radiance at which a sun's disc gives its stated irradiance.
LinearRgb sunRadiance(const Light& light) {
    return light.power * (1.0F / (2.0F * kPi * (1.0F - sunCosine(light))));
}

/// A lamp with a radius is a small sphere that looks evenly bright, as a disc: a point of its near side,
/// from its centre, for a soft shadow. What stands inside the lamp casts none.
V3f towardsLamp(float radius, const V3f& viewer, const Sample2& u) {
    const V2f onDisc = discFromSquare(u.x, u.y);
    const float height = std::sqrt(std::max(0.0F, 1.0F - onDisc.length2()));
    return TangentFrame(viewer).toWorld({onDisc.x, onDisc.y, height}) * radius;
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
    prepareMiddles();
    prepareSky();
    prepareGround();
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
    // A light wholly behind the surface keeps a little weight, for shading normals that lean.
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
        out.direction = TangentFrame(-light.direction).toWorld(coneFromSquare(u.x, u.y, cosine));
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

Lighting::SurfacePoint Lighting::pointOf(const Emitter& e, const Sample2& u) const noexcept {
    float within = 0.0F;
    const std::size_t triangle = pickBySums(e.areas.data(), e.areas.size(), u.x, within);
    const auto c = worldCorners(m_scene, e.instance, triangle);
    const float root = std::sqrt(within);
    const float b1 = 1.0F - root;
    const float b2 = u.y * root;
    const Mesh& mesh = m_scene.meshes[static_cast<std::size_t>(
        m_scene.instances[static_cast<std::size_t>(e.instance)].mesh)];
    const Material& material = m_scene.materials[static_cast<std::size_t>(mesh.material)];
    Surface surface;
    if (!mesh.texture.empty()) {
        const auto& corner = mesh.triangles[triangle];
        surface.texture = mesh.texture[corner[0]] * (1.0F - b1 - b2) +
                          mesh.texture[corner[1]] * b1 + mesh.texture[corner[2]] * b2;
    }
    return {c[0] * (1.0F - b1 - b2) + c[1] * b1 + c[2] * b2,
            (c[1] - c[0]).cross(c[2] - c[0]).normalized(), emissionOf(surface, material, m_scene)};
}

void Lighting::sampleSurface(const Emitter& e, const V3f& position, const Sample2& u,
                             LightSample& out) const noexcept {
    sampleTowards(pointOf(e, u), e.areas.back(), position, out);
}

void Lighting::sampleTowards(const SurfacePoint& point, float area, const V3f& position,
                             LightSample& out) noexcept {
    const V3f to = point.position - position;
    out.distance = to.length();
    if (out.distance <= 1e-6F)
        return;
    out.direction = to / out.distance;
    const float cosine = std::abs(point.normal.dot(out.direction));
    if (cosine <= 1e-6F)
        return;
    out.radiance = point.radiance;
    out.pdf = out.distance * out.distance / (cosine * area);
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
