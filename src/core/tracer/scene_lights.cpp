#include "core/tracer/scene_lights.h"

#include "core/tracer/directions.h"
#include "core/tracer/rgb.h"

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr float kDegrees = 180.0F / kPi;

/// The strength is the largest channel, so that the colour is within 0..1.
void setPower(SceneLight& light, const LinearRgb& power) {
    light.strength = std::max(largest(power), 0.0F);
    if (light.strength > 0.0F)
        light.colour = power * (1.0F / light.strength);
}

SceneLight lightOf(const Light& from) {
    SceneLight light;
    light.group = from.group;
    light.position = from.position;
    if (from.direction.length2() > 0.0F)
        light.towards = -from.direction.normalized();
    setPower(light, from.power);
    switch (from.kind) {
    case LightKind::Sun:
        light.kind = SceneLightKind::Sun;
        break;
    case LightKind::Point:
        light.kind = SceneLightKind::Point;
        break;
    case LightKind::Spot:
        light.kind = SceneLightKind::Spot;
        // A spot shines away from where it stands: the direction to it is that of its axis turned.
        light.inner = from.innerRadians * kDegrees;
        light.outer = from.outerRadians * kDegrees;
        break;
    }
    return light;
}

SceneLight surfaceLight(const Scene& scene, const Instance& instance, const Material& material) {
    SceneLight light;
    light.kind = SceneLightKind::Area;
    light.group = material.lightGroup.empty() ? material.name : material.lightGroup;
    setPower(light, material.emission);
    const Mesh& mesh = scene.meshes[static_cast<std::size_t>(instance.mesh)];
    V3f middle(0.0F);
    V3f facing(0.0F);
    float area = 0.0F;
    for (const auto& corner : mesh.triangles) {
        const V3f a = mesh.positions[corner[0]] * instance.toWorld;
        const V3f b = mesh.positions[corner[1]] * instance.toWorld;
        const V3f c = mesh.positions[corner[2]] * instance.toWorld;
        const V3f normal = (b - a).cross(c - a) * 0.5F;
        middle += (a + b + c) / 3.0F * normal.length();
        facing += normal;
        area += normal.length();
    }
    if (area > 0.0F)
        light.position = middle / area;
    // A closed body faces every way: half of what it seems from outside.
    const bool flat = facing.length() > 0.5F * area;
    light.size = std::sqrt(flat ? area : area * 0.25F);
    light.towards = flat ? -facing.normalized() : V3f(0.0F, 1.0F, 0.0F);
    return light;
}

}  // namespace

NamedLights sceneLights(const Scene& scene, const MovedPlaces& moved) {
    NamedLights lights;
    for (const Light& light : lightsOf(scene, moved))
        lights.emplace(light.name, lightOf(light));
    for (const Instance& instance : scene.instances) {
        const Mesh& mesh = scene.meshes[static_cast<std::size_t>(instance.mesh)];
        const Material& material = scene.materials[static_cast<std::size_t>(mesh.material)];
        if (material.emits())
            lights.emplace(scene.objects[static_cast<std::size_t>(instance.object)],
                           surfaceLight(scene, instance, material));
    }
    return lights;
}

}  // namespace noctis
