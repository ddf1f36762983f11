#include "core/image/psnr.h"
#include "core/scene/imported_scene.h"
#include "core/tracer/lighting.h"
#include "core/tracer/moving_picture.h"
#include "support/render.h"
#include "support/scenes.h"

#include <catch2/catch.hpp>

#include <cmath>

using namespace noctis;
using test::imageOf;
using test::rendered;

namespace {

constexpr float kLevel = -0.5F;
constexpr int kSide = 64;
/// Of one colour all around, so that the ground's is known.
const std::vector<std::string> kEvenSky{"beauty.samples=256",         "beauty.zenith=0.4,0.4,0.4",
                                        "beauty.horizon=0.4,0.4,0.4", "beauty.ground=0.4,0.4,0.4",
                                        "beauty.denoise=0",           "ground_shadow.level=-0.5",
                                        "ground_shadow.samples=1024"};

Scene ballWithoutLight() {
    Scene scene;
    test::addBall(scene, "ball", V3f(0, kLevel + 0.8F, 0), 0.8F, 32);
    addKeyLight(scene);
    return scene;
}

View aboveBall() { return test::looking(V3f(1.0F, 3.5F, 4.0F), V3f(0.3F, 0, -0.3F)); }

bool isGround(const PassSet& set, int x, int y) {
    return !std::isfinite(imageOf(set, "depth")(x, y, 0));
}

}  // namespace

TEST_CASE("the ground that stands in has the shadow that the lights give one",
          "[tracer][truth][ground]") {
    const Scene scene = ballWithoutLight();
    REQUIRE(scene.standInGround == kLevel);
    const PassSet set = rendered(scene, aboveBall(), {"beauty", "depth", "ground_shadow"},
                                 {.width = kSide, .height = kSide, .settings = kEvenSky});
    double squares = 0.0;
    int count = 0;
    float darkest = 1.0F;
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x) {
            // Pixels at the ball's outline show some of it.
            bool inside = true;
            for (int i = 0; i < 9 && inside; ++i)
                inside = isGround(set, std::clamp(x + i % 3 - 1, 0, kSide - 1),
                                  std::clamp(y + i / 3 - 1, 0, kSide - 1));
            if (!inside)
                continue;
            const float open = imageOf(set, "beauty")(x, y, 1) / 0.4F;
            const double apart = open - (1.0F - imageOf(set, "ground_shadow")(x, y, 0));
            squares += apart * apart;
            darkest = std::min(darkest, open);
            ++count;
        }
    REQUIRE(count > kSide * kSide / 2);
    CHECK(std::sqrt(squares / count) < 0.008);
    CHECK(darkest < 0.4F);
}

TEST_CASE("only the picture and its lights know the ground that stands in", "[tracer][ground]") {
    const Scene scene = ballWithoutLight();
    const PassSet set =
        rendered(scene, aboveBall(),
                 {"beauty", "depth", "coverage", "occlusion", "normal", "backdrop",
                  "light.key light", "light.sky"},
                 {.width = kSide, .height = kSide, .settings = {"beauty.samples=8"}});
    int shaded = 0;
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x) {
            for (int c = 0; c < 3; ++c)
                CHECK(imageOf(set, "light.key light")(x, y, c) +
                          imageOf(set, "light.sky")(x, y, c) ==
                      Approx(imageOf(set, "beauty")(x, y, c)).margin(1e-4));
            if (!isGround(set, x, y))
                continue;
            CHECK(imageOf(set, "occlusion")(x, y, 0) == 1.0F);
            CHECK(imageOf(set, "normal")(x, y, 1) == 0.0F);
            CHECK(imageOf(set, "coverage")(x, y, 0) < 1.0F);
            shaded += imageOf(set, "backdrop")(x, y, 0) < 0.5F * imageOf(set, "backdrop")(0, 0, 0);
        }
    CHECK(shaded > 20);
    // A key light taken away takes its shadow along.
    CHECK(imageOf(set, "light.key light")(0, kSide - 1, 0) > 0.05F);
}

TEST_CASE("no ground stands in below a panorama, without a backdrop, or for one who is under it",
          "[tracer][ground]") {
    const Scene scene = ballWithoutLight();
    Sky even;
    even.panorama = Image(8, 4, {"R", "G", "B"}, 0.3F);
    CHECK_FALSE(Lighting(scene, scene.lights, even).ground().has_value());
    const auto ground = Lighting(scene, scene.lights, Sky{}).ground();
    REQUIRE(ground);
    const auto met = ground->met(V3f(0, 1, 0), V3f(0.6F, -0.8F, 0));
    REQUIRE(met);
    CHECK(met->equalWithAbsError(V3f(0.6F * 1.5F / 0.8F, kLevel, 0), 1e-4F));
    CHECK_FALSE(ground->met(V3f(0, 1, 0), V3f(0.6F, 0.8F, 0)));
    CHECK_FALSE(ground->met(V3f(0, kLevel - 1, 0), V3f(0.6F, -0.8F, 0)));
    CHECK_FALSE(ground->met(V3f(0, 1, 0), V3f(1, 0, 0)));

    const PassSet set = rendered(
        scene, aboveBall(), {"beauty"},
        {.width = kSide, .height = kSide, .settings = {"beauty.samples=4", "beauty.backdrop=off"}});
    CHECK(imageOf(set, "beauty")(0, 0, 0) == 0.0F);
    CHECK(imageOf(set, "beauty")(0, 0, 3) == 0.0F);
}

TEST_CASE("a scene with light of any kind has no ground that stands in", "[scene][ground]") {
    Scene lamp;
    test::addBall(lamp, "ball", V3f(0, 0, 0), 0.8F, 8);
    lamp.lights.push_back({.name = "moon"});
    Scene glowing;
    test::addBall(glowing, "ball", V3f(0, 0, 0), 0.8F, 8);
    glowing.materials[0].emission = {1, 1, 1};
    for (Scene* scene : {&lamp, &glowing}) {
        addKeyLight(*scene);
        CHECK_FALSE(scene->standInGround);
    }
}

TEST_CASE("a moving picture carries the ground's shadow over, and has the key light's at once",
          "[tracer][moving][ground]") {
    const Scene scene = ballWithoutLight();
    const Accelerator accelerator(scene);
    RenderRequest request;
    request.view = aboveBall();
    request.width = request.height = 2 * kSide;
    request.passes = {passRequest(PassKind::Beauty)};
    applyPassSetting(request.passes, "beauty.samples=64");
    RenderRequest still = request;
    for (const PassKind kept : keptWith(PassKind::Beauty))
        still.passes.push_back(passRequest(kept));
    const auto before = seenBefore(renderPasses(scene, accelerator, still), scene.standInGround);
    REQUIRE(before);
    request.view = test::looking(V3f(1.3F, 3.4F, 3.9F), V3f(0.3F, 0, -0.3F));
    const Image truth = renderPasses(scene, accelerator, request).passes[0].image;
    MovingPicture picture;
    const auto drawn = [&](const SeenBefore* seen) {
        return picture.draw(scene, accelerator, request, seen).passes[0].image;
    };
    const double anew = psnrOf(drawn(nullptr), truth);
    const double carried = psnrOf(drawn(&*before), truth);
    CAPTURE(anew, carried);
    CHECK(anew > 24.0);
    CHECK(carried > anew + 3.0);
}
