#include "core/steps/screen_shadow.h"

#include "core/image/tiles.h"
#include "core/steps/contact_shadow.h"
#include "core/steps/registry.h"
#include "core/tracer/render.h"
#include "support/files.h"
#include "support/frames.h"
#include "support/scenes.h"

#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

/// A ground with a box and a ball on it, seen from the front and a little above.
struct Yard {
    Scene scene;
    PassSet passes;
    V3f sun{0.5F, 0.6F, 0.35F};

    explicit Yard(float reach, float sunDegrees = 0.0F) {
        test::addGround(scene, 30.0F);
        const auto quad = [&](const V3f& a, const V3f& b, const V3f& c, const V3f& d) {
            test::addQuad(scene, "box", a, b, c, d);
        };
        quad({-1.2F, 0, 0.3F}, {-0.5F, 0, 0.3F}, {-0.5F, 0.8F, 0.3F}, {-1.2F, 0.8F, 0.3F});
        quad({-0.5F, 0, 0.3F}, {-0.5F, 0, -0.4F}, {-0.5F, 0.8F, -0.4F}, {-0.5F, 0.8F, 0.3F});
        quad({-1.2F, 0.8F, 0.3F}, {-0.5F, 0.8F, 0.3F}, {-0.5F, 0.8F, -0.4F}, {-1.2F, 0.8F, -0.4F});
        quad({-1.2F, 0, -0.4F}, {-1.2F, 0, 0.3F}, {-1.2F, 0.8F, 0.3F}, {-1.2F, 0.8F, -0.4F});
        quad({-0.5F, 0, -0.4F}, {-1.2F, 0, -0.4F}, {-1.2F, 0.8F, -0.4F}, {-0.5F, 0.8F, -0.4F});
        for (Instance& instance : scene.instances)  // its five sides are one thing
            instance.object = std::min(instance.object, 1);
        test::addBall(scene, "ball", {0.7F, 0.45F, 0.0F}, 0.45F, 48);
        scene.materials = {{.name = "grey"}};
        Light light;
        light.name = "sun";
        light.kind = LightKind::Sun;
        light.direction = -sun.normalized();
        light.angleRadians = sunDegrees * 3.14159265F / 180.0F;
        scene.lights = {light};
        View view;
        view.name = "front";
        view.camera = assumedCamera();
        M44f tilt;
        tilt.rotate(V3f(-0.3F, 0.0F, 0.0F));
        M44f move;
        move.translate(V3f(0.0F, 2.0F, 5.0F));
        view.camera.cameraToWorld = tilt * move;
        scene.views = {view};
        const Accelerator accelerator(scene);
        RenderRequest request;
        request.view = view;
        request.width = 480;
        request.height = 270;
        request.passes = passRequests({"depth", "normal", "behind.depth", "shadow.sun"}, scene);
        applyPassSetting(request.passes, "shadow.sun.samples=64");
        applyPassSetting(request.passes, "shadow.sun.reach=" + std::to_string(reach));
        passes = renderPasses(scene, accelerator, request);
    }
    [[nodiscard]] const Image& image(const char* name) const {
        return passes.find(std::string_view(name))->image;
    }
    [[nodiscard]] Image ours(const ScreenShadowSettings& settings, bool behind = true) const {
        SceneLight light;
        light.towards = sun;
        return screenShadow({*passes.camera, image("depth"), image("normal"),
                             behind ? image("behind.depth") : Image()},
                            light, settings);
    }
    /// Against the traced shadow, on faces towards the light; and of no shadow at all.
    [[nodiscard]] std::pair<double, double> decibels(const Image& ours) const {
        const Image& truth = image("shadow.sun");
        const Image& normal = image("normal");
        double error = 0.0;
        double none = 0.0;
        double count = 0.0;
        for (int y = 0; y < truth.height(); ++y)
            for (int x = 0; x < truth.width(); ++x) {
                const V3f n(normal(x, y, 0), normal(x, y, 1), normal(x, y, 2));
                if (n.dot(sun) <= 0.0F)
                    continue;
                error += std::pow(static_cast<double>(ours(x, y, 0) - truth(x, y, 0)), 2.0);
                none += std::pow(1.0 - static_cast<double>(truth(x, y, 0)), 2.0);
                count += 1.0;
            }
        return {-10.0 * std::log10(error / count), -10.0 * std::log10(none / count)};
    }
};

}  // namespace

TEST_CASE("a contact shadow is near the traced one, at each length", "[steps][shadow][truth]") {
    for (const float length : {0.15F, 0.4F, 1.0F, 3.0F}) {
        const Yard yard(length);
        const auto [found, none] =
            yard.decibels(yard.ours({.length = length, .thickness = 0.65F, .softness = 0.0F}));
        INFO("length " << length << " m: " << found << " dB, " << none << " dB without");
        CHECK(found > 22.0);
        // A shadow of a few pixels is mostly its outline.
        CHECK(found > none + (length < 0.5F ? 3.0 : 6.0));
    }
}

TEST_CASE("a contact shadow softens as the traced one does", "[steps][shadow][truth]") {
    for (const float degrees : {1.0F, 4.0F, 10.0F}) {
        const Yard yard(3.0F, 2.0F * degrees);
        const Image soft = yard.ours({.length = 3.0F, .thickness = 0.65F, .softness = degrees});
        const auto [found, none] = yard.decibels(soft);
        INFO("softness " << degrees << ": " << found << " dB, " << none << " dB without");
        CHECK(found > 22.0);
        CHECK(found > none + 6.0);
    }
}

TEST_CASE("an open ground has no shadow of its own, however flat it is seen", "[steps][shadow]") {
    Yard yard(1.0F);
    SceneLight low;
    low.towards = V3f(0.9F, 0.15F, 0.1F);
    const Image open =
        screenShadow({*yard.passes.camera, yard.image("depth"), yard.image("normal"), {}}, low,
                     {.length = 0.0F, .thickness = 5.0F, .softness = 2.0F});
    // To the right of everything nothing stands in the way.
    for (int y = 60; y < 260; ++y)
        REQUIRE(open(470, y, 0) == Approx(1.0F).margin(1e-6));
}

TEST_CASE("shadows are the same bits on any number of threads, and harmless on bad depths",
          "[steps][shadow][threads]") {
    const Yard yard(1.0F);
    const ScreenShadowSettings settings{.length = 1.0F, .thickness = 0.5F, .softness = 3.0F};
    const ThreadLimit single(1);
    const Image one = yard.ours(settings);
    for (const int threads : {2, 7}) {
        const ThreadLimit limit(threads);
        CHECK(test::sameBits(yard.ours(settings), one));
    }
    Image depth = yard.image("depth");
    for (int i = 0; i < 400; ++i)
        depth.editPlane(0)[i * 31] = i % 3 == 0 ? std::nanf("") : i % 3 == 1 ? -1.0F : kNothingHit;
    SceneLight light;
    light.kind = SceneLightKind::Point;
    const Image odd =
        screenShadow({*yard.passes.camera, depth, yard.image("normal"), {}}, light, settings);
    for (int y = 0; y < odd.height(); ++y)
        for (int x = 0; x < odd.width(); ++x)
            REQUIRE((odd(x, y, 0) >= 0.0F && odd(x, y, 0) <= 1.0F));
}

TEST_CASE("a shadow of a named light takes away only that light", "[steps][shadow]") {
    const Yard yard(1.0F);
    PassSet set = yard.passes;
    Pass beauty;
    beauty.name = "beauty";
    beauty.kind = PassKind::Beauty;
    beauty.image = Image::filled(480, 270, 3, 0.5F);
    set.put(beauty);
    beauty.name = "light.sun";
    beauty.kind = PassKind::Light;
    beauty.image = Image::filled(480, 270, 3, 0.2F);
    set.put(beauty);
    Evaluator evaluator(stepCatalogue());
    evaluator.setPasses(set);
    const Image out = evaluator.evaluate(recipeFromText(
        R"({"format":"noctis-recipe","version":2,"steps":[{"step":"contact_shadow",
            "settings":{"light":"sun","length":3,"thickness":0.8,"softness":0}}]})",
        stepCatalogue()));
    float least = 1.0F;
    for (int y = 0; y < 270; ++y)
        for (int x = 0; x < 480; ++x)
            least = std::min(least, out(x, y, 0));
    CHECK(least == Approx(0.3F));
}
