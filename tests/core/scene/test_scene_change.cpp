#include "core/scene/scene_change.h"

#include "core/scene/signature.h"
#include "core/tracer/pass_state.h"
#include "core/tracer/render.h"
#include "support/render.h"
#include "support/scenes.h"

#include <cmath>
#include <functional>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

/// Two balls of two materials under a lamp and a sun.
Scene balls() {
    Scene scene;
    test::addBall(scene, "ball", V3f(10, 2, -5), 1.5F, 20);
    test::addBall(scene, "bead", V3f(0, 0, -5), 0.5F, 20);
    scene.materials.push_back(scene.materials[0]);
    scene.materials[0].name = "brass";
    scene.materials[1].name = "wood";
    scene.meshes[1].material = 1;
    Light lamp;
    lamp.name = "lamp";
    Light sun;
    sun.name = "sun";
    sun.kind = LightKind::Sun;
    scene.lights = {lamp, sun};
    return scene;
}

using Edit = std::function<void(Scene&)>;

std::string changeBy(const Edit& edit, const SceneReading& reading = {}) {
    const Scene before = balls();
    Scene now = before;
    edit(now);
    return sceneChange(signatureOf(before), signatureOf(now), reading);
}

void turn(Scene& s, float radians) {
    M44f there;
    there.setAxisAngle(V3f(0, 1, 0), radians);
    s.instances[1].toWorld = there;
}

}  // namespace

TEST_CASE("a signature shows which thing was changed, and how", "[scene][state]") {
    CHECK(changeBy([](Scene&) {}).empty());
    CHECK(changeBy([](Scene& s) { s.instances[1].toWorld[3][0] = 0.01F; }) == "bead moved");
    CHECK(changeBy([](Scene& s) { turn(s, 0.1F); }) == "bead moved");
    CHECK(changeBy([](Scene& s) { s.instances[1].toWorld[0][0] = 1.2F; }) == "bead changed");
    CHECK(changeBy([](Scene& s) { s.meshes[0].positions[4].y += 0.5F; }) == "ball changed");
    CHECK(changeBy([](Scene& s) { s.meshes[0].normals[4].y += 0.01F; }) == "ball changed");
    CHECK(changeBy([](Scene& s) { s.meshes[0].triangles.pop_back(); }) == "ball changed");
    CHECK(changeBy([](Scene& s) { s.meshes[0].material = 1; }) == "ball changed");
    CHECK(changeBy([](Scene& s) { s.materials[1].roughness += 0.01F; }) == "wood changed");
    CHECK(changeBy([](Scene& s) { s.lights[0].power.g = 2.0F; }) == "lamp changed");
    CHECK(changeBy([](Scene& s) { s.lights[1].direction.x = 0.1F; }) == "sun moved");
    CHECK(changeBy([](Scene& s) { s.sky.emplace(); }) == "environment added");
    CHECK(changeBy([](Scene& s) { s.instances.pop_back(); }) == "bead gone");
    CHECK(changeBy([](Scene& s) { s.instances.push_back(s.instances[1]); }) == "bead changed");
    CHECK(changeBy([](Scene& s) {
              s.instances[1].toWorld[3][0] = 1.0F;
              s.lights[0].position.y = 3.0F;
              s.lights[1].power.r = 0.5F;
          }) == "bead moved and 2 more");
    CHECK(changeBy([](Scene& s) { s.objects = {"cup", "saucer"}; }) == "another scene");
}

TEST_CASE("things that change places don't go unseen", "[scene][state]") {
    const Edit swap = [](Scene& s) {
        s.instances[0].toWorld[3][0] = -10.0F;
        s.instances[1].toWorld[3][0] = 10.0F;
    };
    CHECK(changeBy(swap) == "ball moved and 1 more");
    CHECK(changeBy([](Scene& s) { std::swap(s.meshes[0].texture, s.meshes[1].texture); }).empty());
    CHECK_FALSE(changeBy([](Scene& s) {
                    std::swap(s.meshes[0].positions[90], s.meshes[0].positions[400]);
                }).empty());
}

TEST_CASE("of materials that share a name each is seen", "[scene][state]") {
    Scene before = balls();
    before.materials[0].name = "wood";
    for (const std::size_t which : {0U, 1U}) {
        Scene now = before;
        now.materials[which].roughness += 0.01F;
        CHECK(sceneChange(signatureOf(before), signatureOf(now)) == "wood changed");
    }
}

TEST_CASE("what a reader does not look at is no change to it", "[scene][state]") {
    const Edit shine = [](Scene& s) { s.materials[0].emission.r = 1.0F; };
    const Edit light = [](Scene& s) { s.lights[0].position.x = 1.0F; };
    const SceneReading shape{false, false, false, {}, false};
    CHECK(changeBy(shine, shape).empty());
    CHECK(changeBy(light, shape).empty());
    CHECK(changeBy([](Scene& s) { s.meshes[0].positions[4].y += 0.5F; }, shape) == "ball changed");
    SceneReading lamp = shape;
    lamp.lights = true;
    lamp.light = "sun";
    CHECK(changeBy(light, lamp).empty());
    lamp.light = "lamp";
    CHECK(changeBy(light, lamp) == "lamp moved");
    SceneReading relief = shape;
    relief.relief = true;
    const Edit bump = [](Scene& s) {
        s.textures.push_back({"bump", Image::filled(2, 2, 3, 0.5F)});
        s.materials[1].normalTexture = 0;
    };
    CHECK(changeBy(bump, relief) == "wood changed");
    CHECK(changeBy(bump, shape).empty());
}

TEST_CASE("a signature bears the last bits of floats that differ between machines",
          "[scene][state]") {
    Scene scene = balls();
    const std::string before = signatureOf(scene);
    std::vector<V3f>& positions = scene.meshes[0].positions;
    for (std::size_t i = 0; i < positions.size(); i += 7)
        positions[i].x = std::nextafter(positions[i].x, i % 2 == 0 ? 1e9F : -1e9F);
    const std::string rounded = signatureOf(scene);
    CHECK(rounded != before);
    CHECK(sceneChange(before, rounded).empty());
    positions[7].x += 0.01F;
    CHECK_FALSE(sceneChange(before, signatureOf(scene)).empty());
}

TEST_CASE("a signature that is none counts as another scene's, and none at all as the same",
          "[scene][state]") {
    const std::string now = signatureOf(balls());
    CHECK(sceneChange("12 3.5 7", now) == "scene changed");
    CHECK(sceneChange(R"({"objects": 3, "materials": {}, "lights": {}, "motion": {}})", now) ==
          "scene changed");
    CHECK(sceneChange(R"({"objects": {"ball": [[1]]}})", now) == "scene changed");
    CHECK(sceneChange("{", now) == "scene changed");
    CHECK(sceneChange({}, now).empty());
    CHECK(sceneChange(now, {}).empty());
}

TEST_CASE("many objects share an entry, and an edit of any is still seen", "[scene][state]") {
    Scene scene;
    for (int i = 0; i < 300; ++i)
        test::addBall(scene, "ball " + std::to_string(i), V3f(static_cast<float>(i), 0, 0), 0.4F,
                      6);
    const std::string before = signatureOf(scene);
    scene.instances[290].toWorld[3][1] = 0.1F;
    CHECK(sceneChange(before, signatureOf(scene)) == "another object moved");
    scene.instances[290].toWorld[3][1] = 0.0F;
    scene.instances[7].toWorld[3][1] = 0.1F;
    CHECK(sceneChange(before, signatureOf(scene)) == "ball 7 moved");
}

TEST_CASE("passes are stale by what they show of a changed scene", "[tracer][state]") {
    Scene scene = balls();
    scene.signature = signatureOf(scene);
    RenderRequest request;
    request.view = {"front", lookingAt(V3f(0, 1, 3), V3f(0, 0, -5), 0.8F)};
    request.width = 16;
    request.height = 16;
    request.passes =
        passRequests({"beauty", "depth", "occlusion", "shadow.sun", "light.sun"}, scene);
    for (PassRequest& pass : request.passes)
        makeRough(pass);
    const Accelerator accelerator(scene);
    const PassSet set = renderPasses(scene, accelerator, request);

    WantedFrame wanted{request.view, 16, 16, request.passes, scene.signature};
    SceneComparisons known;
    const auto staleness = [&](const Edit& edit) {
        Scene edited = scene;
        edit(edited);
        wanted.sceneSignature = signatureOf(edited);
        std::vector<std::string> why;
        CHECK(passStates(set, wanted, known) == passStates(set, wanted));
        for (const PassState& state : passStates(set, wanted))
            why.push_back(state.why);
        return why;
    };
    using Whys = std::vector<std::string>;
    CHECK(staleness([](Scene&) {}) == Whys(5));
    CHECK(staleness([](Scene& s) { s.instances[1].toWorld[3][1] = 0.5F; }) ==
          Whys(5, "bead moved"));
    CHECK(staleness([](Scene& s) { s.materials[0].metalness = 1.0F; }) ==
          Whys{"brass changed", "", "", "", "brass changed"});
    CHECK(staleness([](Scene& s) { s.lights[1].angleRadians = 0.1F; }) ==
          Whys{"sun changed", "", "", "sun changed", "sun changed"});
    CHECK(staleness([](Scene& s) { s.lights[0].position.x = 1.0F; }) ==
          Whys{"lamp moved", "", "", "", "lamp moved"});
}

TEST_CASE("what is asked again and again is answered alike, for each reading and each scene",
          "[scene][state]") {
    const std::string before = signatureOf(balls());
    Scene moved = balls();
    moved.instances[1].toWorld[3][0] = 0.01F;
    Scene lit = balls();
    lit.lights[0].power = {7.0F, 7.0F, 7.0F};
    SceneReading surfaces;
    surfaces.lights = false;
    SceneComparisons known;
    for (int i = 0; i < 3; ++i)
        for (const Scene* now : {&moved, &lit})
            for (const SceneReading& reading : {SceneReading{}, surfaces}) {
                const std::string after = signatureOf(*now);
                CHECK(known.change(before, after, reading) == sceneChange(before, after, reading));
                CHECK(known.change(after, after, reading).empty());
                CHECK(known.change({}, after, reading).empty());
                CHECK(known.change("12 3.5 7", after, reading) == "scene changed");
            }
    CHECK(known.change(before, signatureOf(lit), SceneReading{}) == "lamp changed");
    CHECK(known.change(before, signatureOf(lit), surfaces).empty());
    CHECK(known.change(before, signatureOf(moved), surfaces) == "bead moved");
}
