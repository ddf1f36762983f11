#include "core/scene/vertex_frames.h"

#include <cmath>
#include <map>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

using Triangle = std::array<std::uint32_t, 3>;

V3f flatNormal(const Mesh& mesh, const Triangle& t) {
    return (mesh.positions[t[1]] - mesh.positions[t[0]])
        .cross(mesh.positions[t[2]] - mesh.positions[t[0]])
        .normalized();
}

/// A ball of radius 1 about (x, 0, 0), each triangle with corners of its own.
Mesh ball(float x, int rings) {
    Mesh mesh;
    const auto at = [&](int i, int j) {
        const float v = static_cast<float>(i) / static_cast<float>(rings) * 3.14159265F;
        const float u =
            static_cast<float>(j % (2 * rings)) / static_cast<float>(rings) * 3.14159265F;
        return V3f(x + std::sin(v) * std::cos(u), std::cos(v), -std::sin(v) * std::sin(u));
    };
    const auto add = [&](const V3f& a, const V3f& b, const V3f& c) {
        if (!((b - a).cross(c - a).length() > 1e-5F))
            return;
        const auto first = static_cast<std::uint32_t>(mesh.positions.size());
        mesh.positions.insert(mesh.positions.end(), {a, b, c});
        mesh.triangles.push_back({first, first + 1, first + 2});
    };
    for (int i = 0; i < rings; ++i)
        for (int j = 0; j < 2 * rings; ++j) {
            add(at(i, j), at(i + 1, j), at(i + 1, j + 1));
            add(at(i, j), at(i + 1, j + 1), at(i, j + 1));
        }
    return mesh;
}

/// A cube of side 2 about the origin whose corners are shared.
Mesh cube() {
    Mesh mesh;
    for (int i = 0; i < 8; ++i)
        mesh.positions.emplace_back((i & 1) != 0 ? 1 : -1, (i & 2) != 0 ? 1 : -1,
                                    (i & 4) != 0 ? 1 : -1);
    const std::array<std::array<std::uint32_t, 4>, 6> sides{
        {{0, 4, 6, 2}, {1, 3, 7, 5}, {0, 1, 5, 4}, {2, 6, 7, 3}, {0, 2, 3, 1}, {4, 5, 7, 6}}};
    for (const auto& s : sides) {
        mesh.triangles.push_back({s[0], s[1], s[2]});
        mesh.triangles.push_back({s[0], s[2], s[3]});
    }
    return mesh;
}

/// A square in x and z, seen from above, whose texture runs along x, or against it.
Mesh square(float x0, bool mirrored) {
    Mesh mesh;
    mesh.positions = {{x0, 0, 0}, {x0 + 1, 0, 0}, {x0 + 1, 0, -1}, {x0, 0, -1}};
    mesh.normals.assign(4, V3f(0, 1, 0));
    const float first = mirrored ? 1.0F : 0.0F;
    mesh.texture = {{first, 0}, {1 - first, 0}, {1 - first, 1}, {first, 1}};
    mesh.triangles = {Triangle{0, 1, 2}, Triangle{0, 2, 3}};
    return mesh;
}

}  // namespace

TEST_CASE("a round thing gets the normals of a ball, across its seams", "[scene][vertices]") {
    Mesh mesh = ball(3.0F, 24);
    addSmoothNormals(mesh, 40.0F);
    REQUIRE(mesh.normals.size() == mesh.positions.size());
    float worst = 1.0F;
    for (std::size_t i = 0; i < mesh.positions.size(); ++i)
        worst = std::min(worst, mesh.normals[i].dot(mesh.positions[i] - V3f(3, 0, 0)));
    CHECK(worst > 0.9995F);
}

TEST_CASE("edges sharper than the crease stay edges", "[scene][vertices]") {
    Mesh mesh = cube();
    addSmoothNormals(mesh, 40.0F);
    CHECK(mesh.positions.size() == 24);
    for (const Triangle& t : mesh.triangles)
        for (const std::uint32_t vertex : t)
            CHECK((mesh.normals[vertex] - flatNormal(mesh, t)).length() < 1e-5F);
    Mesh round = cube();
    addSmoothNormals(round, 100.0F);
    CHECK(round.positions.size() == 8);
    CHECK((round.normals[0] - round.positions[0].normalized()).length() < 1e-3F);
}

TEST_CASE("what is close together but apart isn't smoothed, however large the mesh is",
          "[scene][vertices]") {
    Mesh mesh;
    // Two steps of a centimetre in a plain of a kilometre.
    mesh.positions = {{-500, 0, 500},   {500, 0, 500},   {500, 0, 0},     {-500, 0, 0},
                      {-500, 0.01F, 0}, {500, 0.01F, 0}, {500, 0.3F, -1}, {-500, 0.3F, -1}};
    mesh.triangles = {Triangle{0, 1, 2}, Triangle{0, 2, 3}, Triangle{4, 5, 6}, Triangle{4, 6, 7}};
    addSmoothNormals(mesh, 40.0F);
    REQUIRE(mesh.positions.size() == 8);
    for (const Triangle& t : mesh.triangles)
        for (const std::uint32_t vertex : t)
            CHECK((mesh.normals[vertex] - flatNormal(mesh, t)).length() < 1e-5F);
}

TEST_CASE("a fan of very many triangles is smooth at its tip", "[scene][vertices]") {
    Mesh mesh;
    constexpr int kSides = 20'000;
    mesh.positions.emplace_back(0, 0.2F, 0);
    for (int i = 0; i < kSides; ++i) {
        const float u = 6.2831853F * static_cast<float>(i) / kSides;
        mesh.positions.emplace_back(std::cos(u), 0, -std::sin(u));
        mesh.triangles.push_back({0, static_cast<std::uint32_t>(1 + i),
                                  static_cast<std::uint32_t>(1 + (i + 1) % kSides)});
    }
    addSmoothNormals(mesh, 40.0F);
    for (std::size_t i = 0; i < mesh.positions.size(); ++i)
        if (mesh.positions[i].y > 0.1F)
            CHECK(mesh.normals[i].y > 0.999F);
}

TEST_CASE("tangents run along u, and mirrored texture has its own", "[scene][vertices]") {
    Mesh mesh = square(0, false);
    const Mesh other = square(1, true);
    for (const Triangle& t : other.triangles)
        mesh.triangles.push_back({t[0] + 4, t[1] + 4, t[2] + 4});
    mesh.positions.insert(mesh.positions.end(), other.positions.begin(), other.positions.end());
    mesh.normals.insert(mesh.normals.end(), other.normals.begin(), other.normals.end());
    mesh.texture.insert(mesh.texture.end(), other.texture.begin(), other.texture.end());
    // Joined at x = 1, where both have u = 1.
    for (Triangle& t : mesh.triangles)
        for (std::uint32_t& vertex : t)
            vertex = vertex == 4 ? 1 : vertex == 7 ? 2 : vertex;
    addTangents(mesh);
    REQUIRE(mesh.tangents.size() == mesh.positions.size());
    CHECK(mesh.positions.size() == 8);
    for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
        for (const std::uint32_t vertex : mesh.triangles[t]) {
            const float way = t < 2 ? 1.0F : -1.0F;
            CHECK((mesh.tangents[vertex] - V3f(way, 0, 0)).length() < 1e-6F);
            CHECK(mesh.handedness[vertex] == way);
        }
}

TEST_CASE("texture without area leaves tangents that are at right angles to the normals",
          "[scene][vertices]") {
    Mesh mesh = square(0, false);
    mesh.texture.assign(4, V2f(0.3F, 0.3F));
    addTangents(mesh);
    REQUIRE(mesh.tangents.size() == 4);
    for (std::size_t i = 0; i < 4; ++i) {
        CHECK(mesh.tangents[i].length() == Approx(1.0F));
        CHECK(std::abs(mesh.tangents[i].dot(mesh.normals[i])) < 1e-6F);
    }
}
