#include "core/scene/moved_places.h"

#include "core/tracer/pass_state.h"
#include "core/tracer/render.h"
#include "support/files.h"
#include "support/render.h"
#include "support/scenes.h"

#include <cmath>

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

TEST_CASE("a sun is turned, and stays one of length 1", "[scene][moved]") {
    Scene scene = lampScene();
    scene.lights[2].kind = LightKind::Sun;
    MovedPlaces moved;
    moved.suns["star"] = V3f(0, -3, 0);
    moved.suns["lamp"] = V3f(0.0F);  // gives no direction
    const std::vector<Light> lights = lightsOf(scene, moved);
    CHECK(lights[2].direction == V3f(0, -1, 0));
    CHECK(lights[0].direction == scene.lights[0].direction);
    Scene there = scene;
    there.lights[2].direction = V3f(0, -1, 0);
    CHECK(test::sameBits(imageOf(lit(scene, moved), "beauty"), imageOf(lit(there, {}), "beauty")));
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
    CHECK(whyOf(0) == "lamp 2 moved");
    CHECK(whyOf(1).empty());  // the star's shadow
    CHECK(whyOf(2).empty());
    wanted.moved.lights = {{"star", V3f(0, 9, 0)}};
    CHECK(whyOf(1) == "star moved");
    CHECK(passState(lit(scene, wanted.moved), wanted.passes[1], wanted).kind ==
          PassState::Kind::Current);
}
