#include "core/scene/moved_places.h"

#include "core/scene/signature.h"
#include "core/tracer/pass_state.h"
#include "core/tracer/render.h"
#include "support/files.h"
#include "support/render.h"
#include "support/scenes.h"

#include <cmath>
#include <functional>

#include <catch2/catch.hpp>

using namespace noctis;
using test::imageOf;

namespace {

/// A ground under two lamps of the same name and one of another.
Scene lampScene() {
    Scene scene;
    test::addGround(scene, 10.0F);
    for (const auto& [name, x] : {std::pair("lamp", -3.0F), {"lamp", 3.0F}, {"star", 0.0F}}) {
        Light light;
        light.name = name;
        light.position = V3f(x, 2, 0);
        scene.lights.push_back(light);
    }
    M44f at;
    at.setTranslation(V3f(1, 0, 1));
    scene.locators.push_back({"mark", at});
    return scene;
}

PassSet lit(const Scene& scene, const MovedPlaces& moved) {
    RenderRequest request;
    request.view = {"top", lookingAt(V3f(0, 8, 0.01F), V3f(0, 0, 0), 1.0F)};
    request.width = 32;
    request.height = 32;
    request.passes = passRequests({"beauty", "shadow.star", "depth"}, scene);
    applyPassSetting(request.passes, "beauty.samples=4");
    request.moved = moved;
    const Accelerator accelerator(scene);
    return renderPasses(scene, accelerator, request);
}

}  // namespace

TEST_CASE("each light is moved by its own key, also one of several of a name", "[scene][moved]") {
    const Scene scene = lampScene();
    CHECK(lightKeys(scene) == std::vector<std::string>{"lamp", "lamp 2", "star"});
    MovedPlaces moved;
    moved.lights["lamp 2"] = V3f(7, 8, 9);
    moved.lights["gone"] = V3f(0.0F);
    moved.locators["mark"] = V3f(4, 5, 6);
    const std::vector<Light> lights = lightsOf(scene, moved);
    CHECK(lights[0].position == V3f(-3, 2, 0));
    CHECK(lights[1].position == V3f(7, 8, 9));
    CHECK(lights[2].position == V3f(0, 2, 0));
    CHECK(locatorsOf(scene, moved)[0].toWorld.translation() == V3f(4, 5, 6));
}

TEST_CASE("a moved light shines from where it was moved to", "[tracer][moved]") {
    const Scene scene = lampScene();
    MovedPlaces moved;
    moved.lights["star"] = V3f(2.5F, 0.5F, 0);
    Scene there = scene;
    there.lights[2].position = V3f(2.5F, 0.5F, 0);
    const PassSet before = lit(scene, {});
    const PassSet after = lit(scene, moved);
    CHECK(test::sameBits(imageOf(after, "beauty"), imageOf(lit(there, {}), "beauty")));
    CHECK_FALSE(test::sameBits(imageOf(after, "beauty"), imageOf(before, "beauty")));
    CHECK(test::sameBits(imageOf(after, "depth"), imageOf(before, "depth")));
}

TEST_CASE("a moved light makes stale what it lights, and nothing else", "[tracer][state][moved]") {
    const Scene scene = lampScene();
    const PassSet set = lit(scene, {});
    WantedFrame wanted{
        {"top", *set.camera}, 32, 32, passRequests({"beauty", "shadow.star", "depth"}, scene)};
    applyPassSetting(wanted.passes, "beauty.samples=4");
    const auto whyOf = [&](std::size_t i) { return passState(set, wanted.passes[i], wanted).why; };
    CHECK(whyOf(0).empty());
    wanted.moved.lights["lamp 2"] = V3f(0, 9, 0);
    CHECK(whyOf(0) == "light moved");
    CHECK(whyOf(1).empty());  // the star's shadow
    CHECK(whyOf(2).empty());
    wanted.moved.lights = {{"star", V3f(0, 9, 0)}};
    CHECK(whyOf(1) == "light moved");
    CHECK(passState(lit(scene, wanted.moved), wanted.passes[1], wanted).kind ==
          PassState::Kind::Current);
}

TEST_CASE("a scene's signature shifts with any edit, and not with rounding", "[scene][state]") {
    const Scene scene = lampScene();
    const auto textOf = [](const Scene& s) { return textOfSignature(signatureOf(s)); };
    const std::string before = textOf(scene);
    const auto edited = [&](const std::function<void(Scene&)>& edit) {
        Scene copy = scene;
        edit(copy);
        return textOf(copy);
    };
    CHECK(sameScene(before, textOf(scene)));
    CHECK(sameScene(before, {}));  // nothing to compare with
    CHECK_FALSE(sameScene(before, edited([](Scene& s) { s.meshes[0].positions[1].y += 0.001F; })));
    CHECK_FALSE(sameScene(before, edited([](Scene& s) { s.instances[0].toWorld[3][0] = 0.01F; })));
    CHECK_FALSE(sameScene(before, edited([](Scene& s) { s.materials[0].roughness += 0.01F; })));
    CHECK_FALSE(sameScene(before, edited([](Scene& s) { s.lights[0].power.g = 2.0F; })));
    CHECK_FALSE(sameScene(
        before, edited([](Scene& s) { std::swap(s.lights[0].position, s.lights[1].position); })));
    CHECK_FALSE(sameScene(before, edited([](Scene& s) { s.instances.push_back(s.instances[0]); })));
}

TEST_CASE("a signature bears the last bits of floats that differ between machines",
          "[scene][state]") {
    Scene scene;
    test::addBall(scene, "ball", V3f(10, 2, -5), 1.5F, 100);
    const std::string before = textOfSignature(signatureOf(scene));
    std::vector<V3f>& positions = scene.meshes[0].positions;
    for (std::size_t i = 0; i < positions.size(); i += 7)
        positions[i].x = std::nextafter(positions[i].x, i % 2 == 0 ? 1e9F : -1e9F);
    CHECK(sameScene(before, textOfSignature(signatureOf(scene))));
    positions[7].x += 0.01F;
    CHECK_FALSE(sameScene(before, textOfSignature(signatureOf(scene))));
}

TEST_CASE("passes of another scene are stale", "[tracer][state]") {
    Scene scene = lampScene();
    scene.signature = textOfSignature(signatureOf(scene));
    const PassSet set = lit(scene, {});
    WantedFrame wanted{{"top", *set.camera}, 32, 32, passRequests({"depth"}, scene)};
    wanted.sceneSignature = scene.signature;
    CHECK(passState(set, wanted.passes[0], wanted).kind == PassState::Kind::Current);
    scene.instances[0].toWorld[3][1] = -0.5F;
    wanted.sceneSignature = textOfSignature(signatureOf(scene));
    CHECK(passState(set, wanted.passes[0], wanted).why == "scene changed");
    wanted.sceneSignature.clear();
    CHECK(passState(set, wanted.passes[0], wanted).kind == PassState::Kind::Current);
}
