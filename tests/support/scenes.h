#pragma once

#include "core/scene/scene.h"

#include <cmath>
#include <map>

namespace noctis::test {

inline void addQuad(Scene& scene, const std::string& name, const V3f& a, const V3f& b, const V3f& c,
                    const V3f& d) {
    Mesh mesh;
    mesh.name = name;
    mesh.positions = {a, b, c, d};
    mesh.triangles = {{0, 1, 2}, {0, 2, 3}};
    scene.instances.push_back(
        {static_cast<int>(scene.meshes.size()), static_cast<int>(scene.objects.size()), M44f()});
    scene.objects.push_back(name);
    scene.meshes.push_back(std::move(mesh));
    if (scene.materials.empty())
        scene.materials.push_back({.name = "grey"});
}

/// A level ground through the origin, reaching so far each way.
inline void addGround(Scene& scene, float reach) {
    addQuad(scene, "ground", {-reach, 0, reach}, {reach, 0, reach}, {reach, 0, -reach},
            {-reach, 0, -reach});
}

/// A finely divided ball; its corners lie on the sphere, its normals are the sphere's.
inline void addBall(Scene& scene, const std::string& name, const V3f& centre, float radius,
                    int rings) {
    Mesh mesh;
    mesh.name = name;
    const int sides = rings * 2;
    constexpr double kPi = 3.14159265358979323846;
    for (int i = 0; i <= rings; ++i)
        for (int j = 0; j <= sides; ++j) {
            const double theta = kPi * i / rings;
            const double phi = 2.0 * kPi * j / sides;
            const V3f n(static_cast<float>(std::sin(theta) * std::cos(phi)),
                        static_cast<float>(std::cos(theta)),
                        static_cast<float>(std::sin(theta) * std::sin(phi)));
            mesh.normals.push_back(n);
            mesh.positions.push_back(centre + n * radius);
        }
    for (int i = 0; i < rings; ++i)
        for (int j = 0; j < sides; ++j) {
            const auto q = static_cast<std::uint32_t>(i * (sides + 1) + j);
            const auto below = q + static_cast<std::uint32_t>(sides + 1);
            if (i > 0)
                mesh.triangles.push_back({q, q + 1, below});
            if (i < rings - 1)
                mesh.triangles.push_back({q + 1, below + 1, below});
        }
    scene.instances.push_back(
        {static_cast<int>(scene.meshes.size()), static_cast<int>(scene.objects.size()), M44f()});
    scene.objects.push_back(name);
    scene.meshes.push_back(std::move(mesh));
    if (scene.materials.empty())
        scene.materials.push_back({.name = "grey"});
}

}  // namespace noctis::test
