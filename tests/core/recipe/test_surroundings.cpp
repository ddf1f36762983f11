// What is added by hand begins with values that suit the picture.
#include "core/recipe/surroundings.h"

#include "core/image/colour.h"
#include "core/image/error.h"
#include "core/passes/pass_file.h"
#include "support/files.h"
#include "support/frames.h"
#include "support/render.h"
#include "support/scenes.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;

TEST_CASE("places, distances and sizes are those of the last click, or of the middle",
          "[recipe][surroundings]") {
    PassSet set = test::greyFrame(60, 40, 0.25F);
    set.put(test::passOf({PassKind::Depth, {}}, 60, 40, [](int x, int y, int) {
        return y < 10 ? INFINITY : x < 20 ? 4.0F : 12.0F;
    }));
    CHECK(placeIn(set) == V2f(30.0F, 20.0F));
    CHECK(placeIn({set, V2f(7.0F, 30.0F)}) == V2f(7.0F, 30.0F));
    CHECK(placeIn({set, V2f(700.0F, 30.0F)}) == V2f(30.0F, 20.0F));
    CHECK(distanceIn(set) == 12.0F);
    CHECK(distanceIn({set, V2f(7.0F, 30.0F)}) == 4.0F);
    CHECK(std::isfinite(distanceIn({set, V2f(7.0F, 2.0F)})));
    CHECK(distanceIn({set, V2f(7.0F, 2.0F)}) > 3.0F);
    const V3f point = pointIn({set, V2f(7.0F, 30.0F)});
    CHECK(point.z == Approx(-4.0F));
    const V3f seen = project(*set.camera, point, 60, 40);
    CHECK(seen.x == Approx(7.0F).margin(1e-3));
    CHECK(seen.y == Approx(30.0F).margin(1e-3));
    CHECK(heightOfPicture(set) == Approx(2.0F * 12.0F * std::tan(0.35F)));
    CHECK(lightIn(set) == Approx(0.25F));
    const PassSet empty;
    CHECK(distanceIn(empty) == 0.0F);
    CHECK(pointIn(empty) == V3f(0.0F));
    CHECK(lightIn(empty) == 0.0F);
}

namespace {

constexpr int kWidth = 240;
constexpr int kHeight = 136;

PassSet demoFrame() {
    const std::filesystem::path folder = std::filesystem::path(NOCTIS_DEMO_SCENE).parent_path();
    std::vector<std::filesystem::path> files;
    for (const char* name : {"beauty", "coverage", "depth", "normal", "occlusion", "light.moon",
                             "light.lantern", "light.window"})
        files.push_back(folder / (std::string(name) + ".exr"));
    return readPasses(files);
}

/// Balls on a ground, in full daylight.
PassSet brightFrame() {
    Scene scene;
    test::addGround(scene, 60.0F);
    for (int i = 0; i < 6; ++i)
        test::addBall(
            scene, "ball",
            V3f(-4.0F + 2.0F * static_cast<float>(i), 0.8F, -2.0F * static_cast<float>(i)), 0.8F,
            24);
    scene.lights.push_back({.name = "sun",
                            .kind = LightKind::Sun,
                            .direction = V3f(-1, -1, -0.5F).normalized(),
                            .power = {4, 4, 3.6F}});
    return test::rendered(scene, test::looking(V3f(0, 2.0F, 7), V3f(0, 0.5F, -4)),
                          {"beauty", "coverage", "depth", "normal", "occlusion"},
                          {.width = kWidth, .height = kHeight, .settings = {"beauty.samples=16"}});
}

/// A picture of another maker: with a depth and no camera, a wall with a pattern and a post before it.
PassSet foreignFrame() {
    PassSet set;
    const auto post = [](int x) { return x >= 60 && x < 90; };
    set.put(test::passOf({PassKind::Beauty, {}}, kWidth, kHeight, [&](int x, int y, int c) {
        const float pattern = 0.5F + 0.5F * std::sin(0.3F * static_cast<float>(x + 2 * y));
        return post(x) ? 0.08F + 0.05F * static_cast<float>(c) : 0.1F + 0.3F * pattern;
    }));
    set.put(test::passOf({PassKind::Depth, {}}, kWidth, kHeight, [&](int x, int y, int) {
        return post(x) ? 3.0F : 8.0F + 20.0F * static_cast<float>(kHeight - y) / kHeight;
    }));
    return set;
}

struct Change {
    double share = 0.0;    ///< of the pixels
    double mean = 0.0;     ///< of those, in steps of 255
    double clipped = 0.0;  ///< share of all pixels that are white, or black, and weren't
};

Change changeBetween(const Image& before, const Image& after) {
    const Image a = viewed(before, ViewTransform::SoftShoulder, 0.0F);
    const Image b = viewed(after, ViewTransform::SoftShoulder, 0.0F);
    const auto isClipped = [](const Image& image, int x, int y) {
        bool white = true;
        bool black = true;
        for (int c = 0; c < 3; ++c) {
            white = white && image(x, y, c) > 254.5F / 255.0F;
            black = black && image(x, y, c) < 0.5F / 255.0F;
        }
        return white || black;
    };
    Change change;
    double pixels = 0.0;
    for (int y = 0; y < a.height(); ++y)
        for (int x = 0; x < a.width(); ++x) {
            ++pixels;
            float most = 0.0F;
            for (int c = 0; c < 3; ++c)
                most = std::max(most, 255.0F * std::abs(a(x, y, c) - b(x, y, c)));
            change.clipped += isClipped(b, x, y) && !isClipped(a, x, y) ? 1.0 : 0.0;
            if (most < 1.0F)
                continue;
            ++change.share;
            change.mean += static_cast<double>(most);
        }
    change.mean /= std::max(change.share, 1.0);
    change.share /= pixels;
    change.clipped /= pixels;
    return change;
}

}  // namespace

TEST_CASE("a step that is added shows, and spoils nothing, on any picture",
          "[recipe][surroundings][steps]") {
    const std::array<std::pair<const char*, PassSet>, 3> frames{
        {{"demo", demoFrame()}, {"bright", brightFrame()}, {"foreign", foreignFrame()}}};
    int shown = 0;
    for (const auto& [name, set] : frames) {
        Evaluator evaluator(stepCatalogue());
        evaluator.setPasses(set);
        const Image before = evaluator.evaluate({});
        for (const StepType& type : stepCatalogue().types()) {
            Recipe declared;
            declared.steps = {stepCatalogue().newStep(type.id)};
            try {
                if (test::sameBits(evaluator.evaluate(declared), before))
                    continue;  // neutral until it is set
            } catch (const Error&) {
                continue;  // the picture lacks what it needs
            }
            Recipe suited;
            suited.steps = {stepCatalogue().newStep(type.id, {}, set)};
            const Change change = changeBetween(before, evaluator.evaluate(suited));
            INFO(name << ": " << type.id << " changes " << 100.0 * change.share << " % by "
                      << change.mean << ", clips " << 100.0 * change.clipped << " %");
            CHECK(change.share >= 0.003);
            CHECK(change.mean >= 2.0);
            CHECK(change.mean <= 60.0);
            CHECK(change.clipped < 0.05);
            ++shown;
        }
    }
    CHECK(shown >= 15);
}

TEST_CASE("a new shape of a Where covers a part around the last click", "[recipe][surroundings]") {
    const PassSet set = brightFrame();
    for (const char* id : {"ellipse", "rectangle", "gradient", "polygon", "sphere", "box"})
        for (const V2f& place : {V2f(120, 90), V2f(60, 100)}) {
            Recipe recipe;
            recipe.steps = {stepCatalogue().newStep("grade")};
            recipe.steps[0].where = stepCatalogue().newCriterion(id, {set, place});
            Evaluator evaluator(stepCatalogue());
            evaluator.setPasses(set);
            const Image where = evaluator.where(recipe, "grade");
            double covered = 0.0;
            for (int y = 0; y < kHeight; ++y)
                for (int x = 0; x < kWidth; ++x)
                    covered += static_cast<double>(where(x, y, 0));
            covered /= kWidth * kHeight;
            INFO(id << " at " << place.x << ", " << place.y);
            CHECK(where(static_cast<int>(place.x), static_cast<int>(place.y), 0) > 0.4F);
            CHECK(covered > 0.01);
            CHECK(covered < 0.7);
        }
}
