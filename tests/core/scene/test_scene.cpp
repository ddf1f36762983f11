#include "core/scene/scene.h"

#include "core/image/error.h"
#include "core/image/image_file.h"
#include "core/scene/import.h"
#include "support/files.h"
#include "support/scenes.h"

#include <algorithm>
#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;
using test::Folder;

namespace {

const char* kCollada = R"(<?xml version="1.0" encoding="utf-8"?>
<COLLADA xmlns="http://www.collada.org/2005/11/COLLADASchema" version="1.4.1">
 <asset><unit name="centimeter" meter="0.01"/><up_axis>Z_UP</up_axis></asset>
 <library_geometries><geometry id="g" name="board"><mesh>
  <source id="p"><float_array id="pa" count="12">0 0 0 200 0 0 200 0 100 0 0 100</float_array>
   <technique_common><accessor source="#pa" count="4" stride="3">
    <param name="X" type="float"/><param name="Y" type="float"/><param name="Z" type="float"/>
   </accessor></technique_common></source>
  <vertices id="v"><input semantic="POSITION" source="#p"/></vertices>
  <triangles count="2"><input semantic="VERTEX" source="#v" offset="0"/><p>0 1 2 0 2 3</p></triangles>
 </mesh></geometry></library_geometries>
 <library_visual_scenes><visual_scene id="s"><node id="n" name="board">
  <instance_geometry url="#g"/></node></visual_scene></library_visual_scenes>
 <scene><instance_visual_scene url="#s"/></scene>
</COLLADA>)";

/// Two boards below one node, one of another material that shines in a named group.
const char* kGrouped = R"({
 "asset": {"version": "2.0"}, "scene": 0, "scenes": [{"nodes": [0, 3]}],
 "extensionsUsed": ["KHR_lights_punctual"],
 "extensions": {"KHR_lights_punctual": {"lights": [{"name": "bulb", "type": "point", "intensity": 3}]}},
 "nodes": [{"name": "sign", "children": [1, 2], "translation": [0, 2, 0]},
           {"name": "plate", "mesh": 0}, {"name": "letters", "mesh": 1},
           {"name": "bulb", "extensions": {"KHR_lights_punctual": {"light": 0}},
            "extras": {"light_group": "street"}}],
 "materials": [{"name": "tin"}, {"name": "neon", "emissiveFactor": [1, 0, 0], "extras": {"light_group": "signs"}}],
 "meshes": [{"name": "plate", "primitives": [{"attributes": {"POSITION": 0}, "material": 0}]},
            {"name": "letters", "primitives": [{"attributes": {"POSITION": 0}, "material": 1}]}],
 "accessors": [{"bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC3", "min": [0, 0, 0], "max": [1, 1, 0]}],
 "bufferViews": [{"buffer": 0, "byteLength": 36}],
 "buffers": [{"byteLength": 36, "uri": "data:application/octet-stream;base64,AAAAAAAAAAAAAAAAAACAPwAAAAAAAAAAAAAAAAAAgD8AAAAA"}]
})";

}  // namespace

TEST_CASE("a Collada's unit and up-axis are brought to metres and +Y", "[scene]") {
    const Folder folder;
    const Scene scene = importScene(folder.write("board.dae", kCollada));
    CHECK(triangleCount(scene) == 2);
    const V3f size = boundsOf(scene).size();
    CHECK(size.x == Approx(2.0F).epsilon(1e-4));
    CHECK(size.y == Approx(1.0F).epsilon(1e-4));  // what was up in the file
    CHECK(size.z == Approx(0.0F).margin(1e-5));
    bool reported = false;
    for (const std::string& note : scene.notes)
        reported = reported || note.find("metres and +Y") != std::string::npos;
    CHECK(reported);
}

TEST_CASE("groups are the nodes above, and light groups those the file names", "[scene]") {
    const Folder folder;
    const Scene scene = importScene(folder.write("sign.gltf", kGrouped));
    REQUIRE(scene.objects.size() == 2);
    CHECK(scene.objects == std::vector<std::string>{"plate", "letters"});
    CHECK(scene.groups == std::vector<std::string>{"sign", "sign"});
    CHECK(lightGroups(scene) == std::vector<std::string>{"street", "signs", "sky"});
    CHECK(lightNames(scene) == std::vector<std::string>{"bulb", "letters", "environment"});
    CHECK(scene.instances[0].toWorld.translation().equalWithAbsError(V3f(0, 2, 0), 1e-6F));
}

TEST_CASE("a turnaround goes evenly around, holds the thing and keeps its distance", "[scene]") {
    Box3f box(V3f(1, 0, -3), V3f(3, 2, -1));
    for (const float aspect : {16.0F / 9.0F, 0.5F})
        for (const bool parallel : {false, true}) {
            const auto views = turnaroundViews(
                "crate", box, aspect,
                {.count = 6, .startDegrees = 30, .elevationDegrees = 20, .orthographic = parallel});
            REQUIRE(views.size() == 6);
            CHECK(views[0].name == "crate 1/6");
            CHECK(views[5].name == "crate 6/6");
            V3f sum(0.0F);
            for (const View& view : views) {
                CHECK(view.camera.orthographic() == parallel);
                sum += view.camera.position() - box.center();
                for (int corner = 0; corner < 8; ++corner) {
                    const V3f p((corner & 1) != 0 ? box.max.x : box.min.x,
                                (corner & 2) != 0 ? box.max.y : box.min.y,
                                (corner & 4) != 0 ? box.max.z : box.min.z);
                    const int height = 1000;
                    const auto width = static_cast<int>(1000.0F * aspect);
                    const V3f at = project(view.camera, p, width, height);
                    CHECK(at.x > 0.0F);
                    CHECK(at.x < static_cast<float>(width));
                    CHECK(at.y > 0.0F);
                    CHECK(at.y < 1000.0F);
                }
            }
            CHECK(std::hypot(sum.x, sum.z) < 1e-3F);
            CHECK(sum.y > 0.0F);
        }
}

TEST_CASE("from above a thing fills its frame, its north at the top", "[scene]") {
    const Box3f box(V3f(-2, 0, -1), V3f(2, 3, 1));
    const View view = viewFromAbove("deck", box, 2.0F);
    const V3f northWest = project(view.camera, V3f(-2, 3, -1), 200, 100);
    const V3f southEast = project(view.camera, V3f(2, 3, 1), 200, 100);
    CHECK(northWest.x < 10.0F);
    CHECK(northWest.y < 10.0F);
    CHECK(northWest.x > 0.0F);
    CHECK(southEast.x > 190.0F);
    CHECK(southEast.y > 90.0F);
}

TEST_CASE("a scene is framed so that it fills the frame, and none of it is cut", "[scene]") {
    for (const V3f& size : {V3f(1, 1, 1), V3f(4, 0.2F, 1), V3f(0.2F, 6, 0.2F)})
        for (const float aspect : {0.5F, 1.0F, 1.78F}) {
            const Box3f box(-size, size);
            const View view = framingView(box, aspect);
            const int height = 400;
            const int width = static_cast<int>(aspect * 400.0F);
            float most = 0.0F;
            for (int i = 0; i < 8; ++i) {
                const V3f at =
                    project(view.camera,
                            V3f((i & 1) != 0 ? size.x : -size.x, (i & 2) != 0 ? size.y : -size.y,
                                (i & 4) != 0 ? size.z : -size.z),
                            width, height);
                most = std::max({most, std::abs(2.0F * at.x / static_cast<float>(width) - 1.0F),
                                 std::abs(2.0F * at.y / static_cast<float>(height) - 1.0F)});
            }
            CAPTURE(size, aspect);
            CHECK(most < 1.0F);
            CHECK(most > 0.85F);
        }
}

TEST_CASE("a sea or a far beacon is no thing, and things that are alike all are", "[scene]") {
    Scene scene;
    test::addGround(scene, 900.0F);
    for (int i = 0; i < 4; ++i)
        test::addBall(scene, "ball " + std::to_string(i), V3f(static_cast<float>(i), 0, 0), 0.4F,
                      8);
    const std::vector<bool> things = thingsOf(scene);
    CHECK(things == std::vector<bool>{false, true, true, true, true});
    for (int i = 4; i < 12; ++i)
        test::addBall(scene, "ball " + std::to_string(i), V3f(static_cast<float>(i), 0, 0), 0.4F,
                      8);
    test::addBall(scene, "far beacon", V3f(0, 0, -300.0F), 0.4F, 8);
    CHECK(thingsOf(scene)[4]);
    CHECK_FALSE(thingsOf(scene).back());
    Scene lone;
    test::addBall(lone, "ball", V3f(0, 0, 0), 1.0F, 8);
    CHECK(thingsOf(lone) == std::vector<bool>{true});
    CHECK(thingsOf(Scene{}).empty());
}

TEST_CASE("bounds of some instances are theirs alone", "[scene]") {
    Scene scene;
    test::addBall(scene, "a", V3f(0, 0, 0), 1.0F, 8);
    test::addBall(scene, "b", V3f(10, 0, 0), 2.0F, 8);
    CHECK(boundsOf(scene, {false, true}).center().x == Approx(10.0F).margin(1e-4));
    CHECK(boundsOf(scene, {true, false}).size().x == Approx(2.0F).epsilon(1e-4));
    CHECK(boundsOf(scene, {false, false}).isEmpty());
}

TEST_CASE("a glTF of one file with its picture inside is read whole", "[scene]") {
    // A 1 x 1 red PNG written by our own writer, put into a binary glTF.
    const Folder folder;
    Image red(1, 1, {"R", "G", "B"});
    red.editPlane(0)[0] = 1.0F;
    writeImageFile(folder / "red.png", {{"", "", red, SampleType::Byte, {}}});
    std::string png = readTextFile(folder / "red.png");
    const float numbers[] = {0, 0, 0, 1, 0, 0, 0, 1, 0, /* texture */ 0, 0, 1, 0, 0, 1};
    std::string binary(reinterpret_cast<const char*>(numbers), sizeof numbers);
    const std::size_t pictureAt = binary.size();
    binary += png;
    while (binary.size() % 4 != 0)
        binary.push_back('\0');
    std::string json = fmt::format(
        R"({{"asset":{{"version":"2.0"}},"scene":0,"scenes":[{{"nodes":[0]}}],"nodes":[{{"name":"leaf","mesh":0}}],)"
        R"("meshes":[{{"name":"leaf","primitives":[{{"attributes":{{"POSITION":0,"TEXCOORD_0":1}},"material":0}}]}}],)"
        R"("materials":[{{"name":"red","pbrMetallicRoughness":{{"baseColorTexture":{{"index":0}}}}}}],)"
        R"("textures":[{{"source":0}}],"images":[{{"bufferView":2,"mimeType":"image/png"}}],)"
        R"("accessors":[{{"bufferView":0,"componentType":5126,"count":3,"type":"VEC3","min":[0,0,0],"max":[1,1,0]}},)"
        R"({{"bufferView":1,"componentType":5126,"count":3,"type":"VEC2"}}],)"
        R"("bufferViews":[{{"buffer":0,"byteLength":36}},{{"buffer":0,"byteOffset":36,"byteLength":24}},)"
        R"({{"buffer":0,"byteOffset":{},"byteLength":{}}}],"buffers":[{{"byteLength":{}}}]}})",
        pictureAt, png.size(), binary.size());
    while (json.size() % 4 != 0)
        json.push_back(' ');
    const auto word = [](std::uint32_t v) {
        return std::string(reinterpret_cast<const char*>(&v), sizeof v);
    };
    const auto chunk = [&](const std::string& data, std::uint32_t kind) {
        return word(static_cast<std::uint32_t>(data.size())) + word(kind) + data;
    };
    const std::string body = chunk(json, 0x4E4F534A) + chunk(binary, 0x004E4942);
    const std::string glb =
        word(0x46546C67) + word(2) + word(static_cast<std::uint32_t>(12 + body.size())) + body;
    const Scene scene = importScene(folder.write("leaf.glb", glb));
    CHECK(scene.warnings.empty());
    REQUIRE(scene.textures.size() == 1);
    CHECK(scene.textures[0].image(0, 0, 0) == Approx(1.0F));
    CHECK(scene.textures[0].image(0, 0, 1) == Approx(0.0F));
    CHECK(scene.materials[0].baseTexture == 0);
    REQUIRE(scene.meshes[0].texture.size() == 3);
    CHECK(scene.meshes[0].tangents.size() == scene.meshes[0].handedness.size());
}
