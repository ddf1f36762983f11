#include "core/scene/import.h"

#include "core/image/error.h"
#include "core/image/image_file.h"
#include "support/files.h"

#include <algorithm>
#include <cmath>
#include <fstream>

#include <catch2/catch.hpp>

using namespace noctis;
using test::Folder;

namespace {

const char* kQuad = "v 0 0 0\nv 2 0 0\nv 2 1 0\nv 0 1 0\n";

/// A glTF with one triangle, a camera, a sun, a locator and a strong emitter, its buffer inside.
const char* kGltf = R"({
 "asset": {"version": "2.0"}, "scene": 0, "scenes": [{"nodes": [0, 1, 2, 3]}],
 "extensionsUsed": ["KHR_lights_punctual", "KHR_materials_emissive_strength"],
 "extensions": {"KHR_lights_punctual": {"lights": [{"name": "moon", "type": "directional", "color": [1, 0.5, 0.25], "intensity": 2}]}},
 "nodes": [{"name": "leaf", "mesh": 0, "translation": [1, 2, 3]},
           {"name": "quay view", "camera": 0, "translation": [0, 1, 9]},
           {"name": "moon", "extensions": {"KHR_lights_punctual": {"light": 0}}},
           {"name": "mark", "translation": [4, 5, 6]}],
 "cameras": [{"name": "quay view", "type": "perspective", "perspective": {"yfov": 0.6, "znear": 0.1, "zfar": 100, "aspectRatio": 1.7777}}],
 "materials": [{"name": "lamp", "pbrMetallicRoughness": {"baseColorFactor": [0.2, 0.4, 0.6, 1], "roughnessFactor": 0.3, "metallicFactor": 0.9},
                "emissiveFactor": [1, 0.5, 0.25], "extensions": {"KHR_materials_emissive_strength": {"emissiveStrength": 12}}}],
 "meshes": [{"name": "leaf", "primitives": [{"attributes": {"POSITION": 0}, "material": 0}]}],
 "accessors": [{"bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC3", "min": [0, 0, 0], "max": [1, 1, 0]}],
 "bufferViews": [{"buffer": 0, "byteLength": 36}],
 "buffers": [{"byteLength": 36, "uri": "data:application/octet-stream;base64,AAAAAAAAAAAAAAAAAACAPwAAAAAAAAAAAAAAAAAAgD8AAAAA"}]
})";

bool anyHolds(const std::vector<std::string>& sentences, const std::string& word) {
    return std::any_of(sentences.begin(), sentences.end(),
                       [&](const std::string& s) { return s.find(word) != std::string::npos; });
}

}  // namespace

TEST_CASE("an OBJ is read with its objects, and a view is made that holds it", "[scene]") {
    const Folder folder;
    const Scene scene =
        importScene(folder.write("a.obj", std::string("o board\n") + kQuad + "f 1 2 3 4\n"));
    CHECK(triangleCount(scene) == 2);
    CHECK(scene.objects == std::vector<std::string>{"board"});
    CHECK(boundsOf(scene).size().equalWithAbsError(V3f(2, 1, 0), 1e-6F));
    REQUIRE(scene.views.size() == 1);
    for (const V3f& corner : {V3f(0, 0, 0), V3f(2, 1, 0)}) {
        const V3f p = project(scene.views[0].camera, corner, 1600, 900);
        CHECK((p.x > 0 && p.x < 1600 && p.y > 0 && p.y < 900 && p.z > 0));
    }
    CHECK(anyHolds(scene.notes, "no camera"));
    CHECK(anyHolds(scene.notes, "metres"));
    CHECK(anyHolds(scene.notes, "key light"));
    REQUIRE(scene.lights.size() == 1);
    CHECK(scene.lights[0].standIn);
    CHECK(scene.lights[0].direction.y < -0.5F);
}

TEST_CASE("a missing MTL is named, and the scene is used", "[scene]") {
    const Folder folder;
    const Scene scene = importScene(folder.write(
        "a.obj", std::string("mtllib lost.mtl\nusemtl wood\n") + kQuad + "f 1 2 3 4\n"));
    CHECK(triangleCount(scene) == 2);
    CHECK(anyHolds(scene.warnings, "lost.mtl"));
}

TEST_CASE("an MTL's colours and roughness are read, and a missing texture is named", "[scene]") {
    const Folder folder;
    folder.write("m.mtl", "newmtl wood\nKd 0.5 0.25 0.125\nNs 98\nmap_Kd gone.png\n");
    const Scene scene = importScene(
        folder.write("a.obj", std::string("mtllib m.mtl\nusemtl wood\n") + kQuad + "f 1 2 3 4\n"));
    const Material& wood = scene.materials[static_cast<std::size_t>(scene.meshes[0].material)];
    CHECK(wood.name == "wood");
    CHECK(wood.baseColour.g == Approx(0.25F));
    CHECK(wood.baseTexture == -1);
    CHECK(anyHolds(scene.warnings, "gone.png"));
}

TEST_CASE("a texture beside the scene is read as linear colour", "[scene]") {
    const Folder folder;
    writeImageFile(
        folder / "t.png",
        {{"t", "", Image(4, 4, {"R", "G", "B"}, 0.5F), SampleType::Byte, {}, Compression::Zip}});
    folder.write("m.mtl", "newmtl wood\nKd 1 1 1\nmap_Kd t.png\n");
    const Scene scene = importScene(
        folder.write("a.obj", std::string("mtllib m.mtl\nusemtl wood\nvt 0 0\nvt 1 0\nvt 1 1\n") +
                                  kQuad + "f 1/1 2/2 3/3\n"));
    REQUIRE(scene.textures.size() == 1);
    CHECK(scene.textures[0].image(1, 1, 0) == Approx(0.2158F).margin(0.003));
    CHECK(scene.meshes[0].texture.size() == scene.meshes[0].positions.size());
}

TEST_CASE("triangles with corners that are no numbers are left out with a warning", "[scene]") {
    const Folder folder;
    const Scene scene = importScene(
        folder.write("nan.obj", "o a\nv 0 0 0\nv 1 0 0\nv 0 1 0\nv nan 0 0\nf 1 2 3\nf 1 2 4\n"));
    CHECK(triangleCount(scene) == 1);
    CHECK(anyHolds(scene.warnings, "invalid corners"));
    CHECK(std::isfinite(boundsOf(scene).max.x));
}

TEST_CASE("triangles without area are left out", "[scene]") {
    const Folder folder;
    const Scene scene = importScene(
        folder.write("thin.obj", "o a\nv 0 0 0\nv 1 0 0\nv 2 0 0\nv 0 1 0\nf 1 2 3\nf 1 2 4\n"));
    CHECK(triangleCount(scene) == 1);
}

TEST_CASE("a scene that holds no triangle is refused", "[scene]") {
    const Folder folder;
    CHECK_THROWS_AS(
        importScene(folder.write("nothing.obj", "o a\nv nan nan nan\nv 1 0 0\nv 0 1 0\nf 1 2 3\n")),
        Error);
    CHECK_THROWS_AS(importScene(folder.write("empty.obj", "")), Error);
    CHECK_THROWS_AS(importScene(folder.write("noise.glb", "glTF this is not a scene at all")),
                    Error);
    CHECK_THROWS_AS(importScene(folder / "none.obj"), Error);
}

TEST_CASE("PLY, STL and OFF are read", "[scene]") {
    const Folder folder;
    CHECK(triangleCount(importScene(folder.write(
              "a.ply", "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float "
                       "y\nproperty float z\n"
                       "element face 1\nproperty list uchar int vertex_indices\nend_header\n0 0 "
                       "0\n1 0 0\n0 1 0\n3 0 1 2\n"))) == 1);
    CHECK(triangleCount(importScene(
              folder.write("a.stl", "solid a\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex "
                                    "1 0 0\nvertex 0 1 0\nendloop\nendfacet\nendsolid a\n"))) == 1);
    CHECK(triangleCount(importScene(
              folder.write("a.off", "OFF\n3 1 0\n0 0 0\n1 0 0\n0 1 0\n3 0 1 2\n"))) == 1);
}

TEST_CASE("glTF brings views, lights, locators, names and materials", "[scene]") {
    const Folder folder;
    const Scene scene = importScene(folder.write("a.gltf", kGltf));
    REQUIRE(scene.views.size() == 1);
    CHECK(scene.views[0].name == "quay view");
    CHECK(scene.views[0].camera.yfovRadians == Approx(0.6F).epsilon(1e-5));
    CHECK(scene.views[0].camera.position().equalWithAbsError(V3f(0, 1, 9), 1e-5F));
    REQUIRE(scene.lights.size() == 1);
    CHECK(scene.lights[0].kind == LightKind::Sun);
    CHECK_FALSE(scene.lights[0].standIn);
    CHECK(scene.lights[0].power.g == Approx(1.0F));
    CHECK(scene.lights[0].direction.equalWithAbsError(V3f(0, 0, -1), 1e-5F));
    REQUIRE(scene.locators.size() == 1);
    CHECK(scene.locators[0].name == "mark");
    CHECK(scene.objects == std::vector<std::string>{"leaf"});
    const Material& lamp = scene.materials[static_cast<std::size_t>(scene.meshes[0].material)];
    CHECK(lamp.emission.r == Approx(12.0F));
    CHECK(lamp.emission.b == Approx(3.0F));
    CHECK(lamp.metalness == Approx(0.9F));
    CHECK(boundsOf(scene).min.equalWithAbsError(V3f(1, 2, 3), 1e-5F));
}

TEST_CASE("scenes with flipped bytes are read or refused, never worse", "[scene]") {
    const Folder folder;
    unsigned seed = 99;
    int outcomes = 0;
    for (int round = 0; round < 60; ++round) {
        std::string text = kGltf;
        for (int k = 0; k < 4; ++k) {
            seed = seed * 1664525U + 1013904223U;
            text[(seed >> 8U) % text.size()] = static_cast<char>(32 + seed % 90);
        }
        try {
            (void)importTriedScene(
                {std::make_shared<const InputFile>(folder.write("broken.gltf", text)), {}, {}});
            ++outcomes;
        } catch (const Error&) {
            ++outcomes;
        }
    }
    CHECK(outcomes == 60);
}

TEST_CASE("a view is found by its name, or refused naming those there are", "[scene]") {
    Scene scene;
    scene.views = {{"a", {}}, {"b", {}}};
    CHECK(viewNamed(scene, "b").name == "b");
    CHECK_THROWS_WITH(viewNamed(scene, "c"), Catch::Contains("a, b"));
}
