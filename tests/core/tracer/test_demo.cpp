#include "core/scene/import.h"
#include "support/render.h"

#include <catch2/catch.hpp>

// The demo scene itself, coarsely: what holds for small scenes of the tests must hold for a real one.

using namespace noctis;
using test::imageOf;

namespace {

constexpr double kSumTolerance = 1e-4;

const Scene& demoScene() {
    static const Scene scene =
        importTriedScene({std::make_shared<const InputFile>(NOCTIS_DEMO_SCENE), {}, {}});
    return scene;
}

}  // namespace

TEST_CASE("the demo has what it is said to have", "[demo]") {
    const Scene& scene = demoScene();
    CHECK(triangleCount(scene) >= 150'000);
    CHECK(triangleCount(scene) <= 400'000);
    CHECK(scene.warnings.empty());
    CHECK(lightGroups(scene) == std::vector<std::string>{"moon", "lantern", "window"});
    REQUIRE(scene.animation);
    CHECK(lastFrame(scene, 24.0) == 48);
}

TEST_CASE("light groups and parts of light add up to beauty on the demo", "[demo][light]") {
    const Scene& scene = demoScene();
    const PassSet set = test::rendered(
        scene, scene.views.front(),
        {"beauty", "light", "diffuse.direct", "diffuse.indirect", "diffuse.colour",
         "specular.direct", "specular.indirect", "specular.colour", "transmission.direct",
         "transmission.indirect", "transmission.colour", "emission", "backdrop"},
        {.width = 96, .height = 54, .settings = {"beauty.samples=3", "beauty.clamp=6"}});
    for (int y = 0; y < 54; ++y)
        for (int x = 0; x < 96; ++x)
            for (int c = 0; c < 3; ++c) {
                double groups = 0.0;
                for (const std::string& group : lightGroups(scene))
                    groups += static_cast<double>(imageOf(set, "light." + group)(x, y, c));
                double parts = static_cast<double>(imageOf(set, "emission")(x, y, c)) +
                               static_cast<double>(imageOf(set, "backdrop")(x, y, c));
                for (const std::string lobe : {"diffuse", "specular", "transmission"})
                    parts += static_cast<double>(imageOf(set, lobe + ".direct")(x, y, c) +
                                                 imageOf(set, lobe + ".indirect")(x, y, c)) *
                             static_cast<double>(imageOf(set, lobe + ".colour")(x, y, c));
                const double beauty = imageOf(set, "beauty")(x, y, c);
                REQUIRE(groups == Approx(beauty).epsilon(kSumTolerance).margin(kSumTolerance));
                REQUIRE(parts == Approx(beauty).epsilon(kSumTolerance).margin(kSumTolerance));
            }
}

TEST_CASE("the demo's near and far are those of its view", "[demo]") {
    const Scene& scene = demoScene();
    const PassSet set = test::rendered(scene, scene.views.front(), {"depth", "behind.depth"},
                                       {.width = 96, .height = 54});
    const Image& depth = imageOf(set, "depth");
    float nearest = 1e9F;
    float farthest = 0.0F;
    for (int y = 0; y < 54; ++y)
        for (int x = 0; x < 96; ++x) {
            if (std::isfinite(depth(x, y, 0))) {
                nearest = std::min(nearest, depth(x, y, 0));
                farthest = std::max(farthest, depth(x, y, 0));
            }
            CHECK(imageOf(set, "behind.depth")(x, y, 0) >= depth(x, y, 0));
        }
    CHECK(nearest < 6.0F);
    CHECK(farthest > 400.0F);
}
