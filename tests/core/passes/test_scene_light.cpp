#include "core/passes/scene_light.h"

#include "core/image/error.h"
#include "core/passes/pass_file.h"
#include "support/files.h"
#include "support/frames.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

using namespace noctis;
using Json = nlohmann::json;

TEST_CASE("lights are written and read back, each kind with what it has", "[passes][lights]") {
    NamedLights lights;
    lights["moon"] = {.kind = SceneLightKind::Sun,
                      .group = "night",
                      .towards = V3f(0, 1, 0),
                      .colour = {0.5F, 0.75F, 1.0F},
                      .strength = 0.8F};
    lights["torch"] = {.kind = SceneLightKind::Spot,
                       .towards = V3f(1, 0, 0),
                       .position = V3f(1, 2, 3),
                       .inner = 5.0F,
                       .outer = 9.0F};
    lights["panel"] = {.kind = SceneLightKind::Area, .position = V3f(0, 4, 0), .size = 2.5F};
    const NamedLights again = lightsFromText(lightsToText(lights));
    REQUIRE(again.size() == 3);
    CHECK(again.at("moon") == lights["moon"]);
    CHECK(again.at("torch") == lights["torch"]);
    CHECK(again.at("panel").size == 2.5F);
    CHECK_FALSE(lightsToJson(lights)["moon"].contains("position"));
}

TEST_CASE("a light that can't be is refused by name in a recipe, and left out of a file",
          "[passes][lights]") {
    for (const auto& [text, word] :
         {std::pair(R"({"a":{"kind":"candle"}})", "kind"),
          std::pair(R"({"a":{"towards":[0,0,0]}})", "towards"),
          std::pair(R"({"a":{"position":[1,2]}})", "position"),
          std::pair(R"({"a":{"strength":"much"}})", "strength"), std::pair(R"({"a":7})", "object"),
          std::pair("[]", "object")}) {
        INFO(text);
        CHECK_THROWS_WITH(lightsFromJson(Json::parse(text)), Catch::Contains(word));
        CHECK(lightsFromText(text).empty());
    }
    CHECK(lightsFromText("{").empty());
    CHECK(lightsFromText(R"({"a":7,"b":{"kind":"dome"}})").size() == 1);
}

TEST_CASE("the lights of a scene travel with its passes", "[passes][lights]") {
    const test::Folder folder;
    PassSet set = test::greyFrame(8, 4);
    set.lights["lamp"].position = V3f(1, 2, 3);
    set.lights["lamp"].kind = SceneLightKind::Point;
    writePasses(folder / "a.exr", set);
    PassSet other = test::greyFrame(8, 4);
    other.passes[0].name = "light.lamp";
    other.passes[0].kind = PassKind::Light;
    writePasses(folder / "b.exr", other);
    const PassSet read = readPasses({folder / "b.exr", folder / "a.exr"});
    REQUIRE(read.lights.contains("lamp"));
    CHECK(read.lights.at("lamp").position == V3f(1, 2, 3));
}

TEST_CASE("normals are derived from depth where there are none, and marked as derived",
          "[passes][derived]") {
    // A floor one metre below a level camera.
    PassSet set = test::greyFrame(64, 64);
    const Camera camera = *set.camera;
    set.put(test::passOf({PassKind::Depth, {}}, 64, 64, [&](int x, int y, int) {
        const CameraRay ray =
            cameraRay(camera, static_cast<float>(x) + 0.5F, static_cast<float>(y) + 0.5F, 64, 64);
        return ray.direction.y < -0.05F ? -1.0F / ray.direction.y * ray.planarPerDistance
                                        : kNothingHit;
    }));
    const auto normal = tryResolvePass(set, PassKind::Normal);
    REQUIRE(normal);
    CHECK(normal->derived);
    for (const auto& [x, y] : {std::pair(10, 60), std::pair(32, 50), std::pair(60, 62)}) {
        CHECK(normal->image(x, y, 1) == Approx(1.0F).margin(1e-3));
        CHECK(normal->image(x, y, 0) == Approx(0.0F).margin(0.02));
    }
    CHECK(normal->image(32, 5, 1) == 0.0F);
}
