#include "core/image/psnr.h"
#include "core/steps/motion_blur.h"
#include "core/steps/screen_motion.h"
#include "support/files.h"
#include "support/frames.h"
#include "support/painted_yard.h"
#include "support/render.h"
#include "support/worse.h"

#include <array>
#include <cmath>
#include <functional>
#include <optional>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

constexpr int kMovingWidth = 160;
constexpr int kMovingHeight = 90;
constexpr int kMoments = 64;

const V3f kStep(1.0F, 0.0F, 0.0F);  ///< of the ball, m a frame

/// A camera, or a ball behind the beams, at a time in frames.
struct Movement {
    std::string name;
    std::function<Camera(float)> camera;
    bool ballMoves = false;
};

Camera seenFrom(const V3f& eye, const V3f& target) { return lookingAt(eye, target, 0.6F); }

std::vector<Movement> movements() {
    const V3f eye(0.4F, 0.3F, 7.0F);
    const V3f target(0.0F, 0.2F, 0.0F);
    return {
        {"pan",
         [=](float t) {
             const V3f by(0.35F * t, 0.0F, 0.0F);
             return seenFrom(eye + by, target + by);
         }},
        {"turn", [=](float t) { return seenFrom(eye, target + V3f(0.45F * t, 0.1F * t, 0.0F)); }},
        {"past a fence", [=](float) { return seenFrom(eye, target); }, true},
        {"towards", [=](float t) {
             return seenFrom(eye - V3f(0.0F, 0.0F, 0.9F * t), target - V3f(0.0F, 0.0F, 0.9F * t));
         }}};
}

Scene at(const Movement& movement, float time) {
    Scene scene = test::paintedYard(true, true);
    if (movement.ballMoves)
        test::addBall(scene, "runner", V3f(-0.3F, 0.9F, -0.8F) + kStep * time, 0.45F, 32);
    return scene;
}

/// A movement's scene, ready to be traced; where only the camera moves, at any time.
struct Stage {
    Scene scene;
    Accelerator accelerator;
    Stage(const Movement& movement, float time) : scene(at(movement, time)), accelerator(scene) {}
};

PassSet seen(const Movement& movement, const Stage& stage, float time, int samples,
             const std::vector<std::string>& passes, std::uint32_t seed = 0) {
    View view;
    view.name = "view";
    view.camera = movement.camera(time);
    std::vector<std::string> settings;
    // The sun alone: a sky would need many samples before its noise is gone.
    if (samples > 0)
        settings = {"beauty.samples=" + std::to_string(samples), "beauty.bounces=1",
                    "beauty.scene_sky=off", "beauty.sky_strength=0"};
    return test::rendered(
        stage.scene, stage.accelerator, view, passes,
        {.width = kMovingWidth, .height = kMovingHeight, .settings = settings, .seed = seed});
}
PassSet seen(const Movement& movement, float time, int samples,
             const std::vector<std::string>& passes) {
    return seen(movement, Stage(movement, time), time, samples, passes);
}

Image truthOf(const Movement& movement, float shutter) {
    Image sum(kMovingWidth, kMovingHeight, {"R", "G", "B"});
    const Stage still(movement, 0.0F);
    for (int k = 0; k < kMoments; ++k) {
        const float time = shutter * ((static_cast<float>(k) + 0.5F) / kMoments - 0.5F);
        std::optional<Stage> moved;
        if (movement.ballMoves)
            moved.emplace(movement, time);
        // Each with noise of its own, so that the mean has little.
        const PassSet set = seen(movement, moved ? *moved : still, time, 1, {"beauty"},
                                 static_cast<std::uint32_t>(k) + 1);
        const Image& one = test::imageOf(set, "beauty");
        for (int c = 0; c < 3; ++c)
            for (int y = 0; y < one.height(); ++y)
                for (int x = 0; x < one.width(); ++x)
                    sum.editPlane(c)[sum.rowStride() * y + x] += one(x, y, c) / kMoments;
    }
    return sum;
}

/// The ball's own motion, where the picture shows it.
Pass vectorsOf(const Movement& movement, const PassSet& set) {
    Movement still = movement;
    still.ballMoves = false;
    const PassSet without = seen(still, 0.0F, 0, {"depth"});
    const Image& depth = test::imageOf(set, "depth");
    const Image& open = test::imageOf(without, "depth");
    const Image& position = test::imageOf(set, "position");
    Pass pass;
    pass.name = "vectors";
    pass.kind = PassKind::Vectors;
    pass.image = Image(kMovingWidth, kMovingHeight, {"PX", "PY", "NX", "NY"});
    for (int y = 0; y < kMovingHeight; ++y)
        for (int x = 0; x < kMovingWidth; ++x) {
            if (depth(x, y, 0) == open(x, y, 0))
                continue;
            const V3f here(position(x, y, 0), position(x, y, 1), position(x, y, 2));
            for (const int way : {-1, 1}) {
                const V3f there =
                    project(movement.camera(0.0F), here + kStep * static_cast<float>(way),
                            kMovingWidth, kMovingHeight);
                const std::ptrdiff_t at = pass.image.rowStride() * y + x;
                const int c = way < 0 ? 0 : 2;
                pass.image.editPlane(c)[at] = there.x - static_cast<float>(x) - 0.5F;
                pass.image.editPlane(c + 1)[at] = there.y - static_cast<float>(y) - 0.5F;
            }
        }
    return pass;
}

std::string blur(const std::string& settings) {
    return R"({"step":"motion_blur","settings":{)" + settings + "}}";
}

/// A bright crate of 20 pixels before the dark, with alpha or without.
PassSet crate(bool alpha) {
    const auto isCrate = [](int x, int y) { return x >= 60 && x < 80 && y >= 30 && y < 50; };
    PassSet set;
    set.camera = lookingAt(V3f(0, 0, 0), V3f(0, 0, -1), 0.7F);
    Pass beauty = test::passOf({PassKind::Beauty, {}}, 160, 90, [&](int x, int y, int) {
        return isCrate(x, y) ? 0.8F : alpha ? 0.0F : 0.1F;
    });
    if (alpha) {
        Image covered(160, 90, {"A"});
        for (int y = 0; y < 90; ++y)
            for (int x = 0; x < 160; ++x)
                covered.editPlane(0)[covered.rowStride() * y + x] = isCrate(x, y) ? 1.0F : 0.0F;
        beauty.image = beauty.image.select({0, 1, 2}, {"R", "G", "B"});
        beauty.image.append(covered);
    }
    set.put(beauty);
    set.put(test::passOf({PassKind::Depth, {}}, 160, 90,
                         [&](int x, int y, int) { return isCrate(x, y) ? 5.0F : 40.0F; }));
    return set;
}

const std::string kOnCrate = R"(,"where":{"by":"depth","to":20}})";

std::string crateBlur(const std::string& settings) {
    std::string step = blur(settings);
    step.pop_back();
    return step + kOnCrate;
}

}  // namespace

TEST_CASE("motion blur is near the mean of renders within the shutter", "[steps][motion_blur]") {
    double sum = 0.0;
    double least = 1000.0;
    int count = 0;
    for (const Movement& movement : movements()) {
        PassSet set = seen(movement, 0.0F, 256, {"beauty", "depth", "position"});
        if (movement.ballMoves)
            set.put(vectorsOf(movement, set));
        set.cameraBefore = movement.camera(-1.0F);
        set.cameraAfter = movement.camera(1.0F);
        for (const float shutter : {0.5F, 1.0F}) {
            const Image ours =
                test::finished(set, test::recipeOf(blur("\"shutter\":" + std::to_string(shutter))));
            const Image truth = truthOf(movement, shutter);
            const double near = psnrOf(ours, truth);
            const double before = psnrOf(test::imageOf(set, "beauty").select({0, 1, 2}), truth);
            UNSCOPED_INFO(movement.name << ", shutter " << shutter << ": " << near
                                        << " dB, without " << before);
            CHECK(near > before + 2.0);
            sum += near;
            least = std::min(least, near);
            ++count;
        }
    }
    CHECK(sum / count > 32.0);
    CHECK(least > 28.0);
}

TEST_CASE("a crate's streaks are as long as its way, and its light is kept",
          "[steps][motion_blur]") {
    const Image out =
        test::finished(crate(true), test::recipeOf(blur(R"("shutter":1,"direction":[16,0])")));
    double light = 0.0;
    double alpha = 0.0;
    for (int y = 0; y < 90; ++y)
        for (int x = 0; x < 160; ++x) {
            light += static_cast<double>(out(x, y, 0));
            alpha += static_cast<double>(out(x, y, 3));
        }
    CHECK(light == Approx(0.8 * 400).epsilon(0.002));
    CHECK(alpha == Approx(400).epsilon(0.002));
    // From 52 to 88, rising over sixteen pixels.
    CHECK(out(50, 40, 0) == 0.0F);
    CHECK(out(60, 40, 3) == Approx(8.5F / 16.0F).margin(0.04));
    CHECK(out(70, 40, 0) == Approx(0.8F).margin(1e-4));
    CHECK(out(90, 40, 0) == 0.0F);
    // The shutter opens from now on: it only goes ahead.
    const Image ahead = test::finished(
        crate(true), test::recipeOf(blur(R"("shutter":1,"offset":0.5,"direction":[16,0])")));
    CHECK(ahead(58, 40, 0) == 0.0F);
    CHECK(ahead(90, 40, 3) > 0.2F);
}

TEST_CASE("a Where says what moves, before what stands still and over what goes on behind it",
          "[steps][motion_blur]") {
    const PassSet set = crate(false);
    const Image out =
        test::finished(set, test::recipeOf(crateBlur(R"("shutter":1,"direction":[16,0])")));
    CHECK(out(20, 40, 0) == 0.1F);
    CHECK(out(70, 40, 0) == Approx(0.8F).margin(1e-4));
    // Half of the time it has left its own edge, where the background goes on.
    CHECK(out(61, 40, 0) == Approx(0.1F + 0.7F * 9.5F / 16.0F).margin(0.04));
    CHECK(out(57, 40, 0) == Approx(0.1F + 0.7F * 5.5F / 16.0F).margin(0.04));
    CHECK(out(70, 20, 0) == 0.1F);
    const Image sharp = test::finished(
        set, test::recipeOf(crateBlur(R"("shutter":1,"keep_sharp":1,"direction":[16,0])")));
    CHECK(sharp(61, 40, 0) == Approx(0.8F).margin(1e-4));
    CHECK(sharp(57, 40, 0) == out(57, 40, 0));
}

TEST_CASE("what was measured behind a moving thing shows where it has left",
          "[steps][motion_blur]") {
    PassSet set = crate(false);
    set.put(test::passOf({PassKind::BehindColour, {}}, 160, 90,
                         [](int, int, int c) { return c == 0 ? 0.5F : 0.0F; }));
    set.put(test::passOf({PassKind::BehindDepth, {}}, 160, 90, [](int x, int y, int) {
        return x >= 60 && x < 80 && y >= 30 && y < 50 ? 40.0F : kNothingHit;
    }));
    const Image out =
        test::finished(set, test::recipeOf(crateBlur(R"("shutter":1,"direction":[16,0])")));
    const float away = 1.0F - 9.5F / 16.0F;
    CHECK(out(61, 40, 0) == Approx(0.8F + away * (0.5F - 0.8F)).margin(0.04));
    CHECK(out(61, 40, 1) == Approx(0.8F * (1.0F - away)).margin(0.04));
}

TEST_CASE("a thing that passes behind a still post never shows before it", "[steps][motion_blur]") {
    // The post is bright and near; the crate behind it moves past.
    PassSet set = crate(false);
    Pass& beauty = *set.find(std::string_view("beauty"));
    Pass& depth = *set.find(std::string_view("depth"));
    for (int y = 0; y < 90; ++y)
        for (int x = 84; x < 90; ++x) {
            for (int c = 0; c < 3; ++c)
                beauty.image.editPlane(c)[beauty.image.rowStride() * y + x] = 0.4F;
            depth.image.editPlane(0)[depth.image.rowStride() * y + x] = 2.0F;
        }
    std::string step = blur(R"("shutter":1,"direction":[24,0])");
    step.pop_back();
    const Image out =
        test::finished(set, test::recipeOf(step + R"(,"where":{"by":"depth","from":4,"to":20}})"));
    for (int y = 0; y < 90; ++y)
        for (int x = 84; x < 90; ++x)
            CHECK(out(x, y, 0) == Approx(0.4F).margin(1e-6));
    CHECK(out(91, 40, 0) > 0.1F);  // it comes out on the other side
}

TEST_CASE("masks follow what motion blur has moved", "[steps][motion_blur]") {
    const PassSet set = crate(false);
    const std::string move = crateBlur(R"("shutter":1,"direction":[16,0])");
    const std::string gain =
        R"({"step":"grade","settings":{"exposure":1},"where":{"by":"depth","to":20}})";
    const Image after = test::finished(set, test::recipeOf(move + "," + gain));
    std::string before = gain;
    before.insert(before.find("\"step\""), "\"id\":\"a\",");
    // The same gain before the lens, as a step of Light would give it.
    PassSet lit = set;
    Pass& beauty = *lit.find(std::string_view("beauty"));
    for (int c = 0; c < 3; ++c)
        for (int y = 30; y < 50; ++y)
            for (int x = 60; x < 80; ++x)
                beauty.image.editPlane(c)[beauty.image.rowStride() * y + x] *= 2.0F;
    CHECK(psnrOf(after, test::finished(lit, test::recipeOf(move))) > 40.0);
}

TEST_CASE("motion is said to be unknown where nothing tells it", "[steps][motion_blur]") {
    CHECK_THROWS_WITH(test::finished(crate(false), test::recipeOf(blur(R"("shutter":1)"))),
                      Catch::Contains("vectors"));
    // Nothing moves: every bit stays.
    PassSet still = crate(false);
    still.cameraAfter = still.camera;
    CHECK(test::sameBits(test::finished(still, test::recipeOf(blur(R"("shutter":1)"))),
                         test::imageOf(still, "beauty").select({0, 1, 2})));
}

TEST_CASE("foreign vectors that point another way are turned round, and that is said",
          "[steps][motion_blur]") {
    const Movement turn = movements()[1];
    PassSet set = seen(turn, 0.0F, 16, {"beauty", "depth"});
    set.cameraBefore = turn.camera(-1.0F);
    set.cameraAfter = turn.camera(1.0F);
    const auto blurredWith = [&](const PassSet& own, std::string* said) {
        Evaluator evaluator(stepCatalogue());
        evaluator.setPasses(own);
        EvaluateOptions options;
        options.notice = [&](const std::string&, const std::string& text) { *said += text; };
        return evaluator.evaluate(test::recipeOf(blur(R"("shutter":1,"offset":0.3)")), options);
    };
    std::string said;
    const Image wanted = blurredWith(set, &said);
    CHECK(said.empty());
    // Our own vectors, as the cameras give them.
    ResultCache cache(std::size_t{1} << 28U);
    PictureFiles files;
    const FrameContext context(set, 1, cache, files, 1);
    const WorkingFrame frame(context, context.picture());
    const Image motion = screenMotion(frame);
    const auto withSigns = [&](const std::array<float, 4>& signs, bool cameras) {
        PassSet own = set;
        Pass pass;
        pass.name = "vectors";
        pass.kind = PassKind::Vectors;
        pass.image = motion;
        for (int c = 0; c < 4; ++c) {
            float* to = pass.image.editPlane(c);
            for (int y = 0; y < kMovingHeight; ++y)
                for (int x = 0; x < kMovingWidth; ++x)
                    to[pass.image.rowStride() * y + x] *= signs.at(static_cast<std::size_t>(c));
        }
        own.put(pass);
        if (!cameras)
            own.cameraBefore = own.cameraAfter = std::nullopt;
        return own;
    };
    for (const bool cameras : {true, false})
        CHECK(psnrOf(blurredWith(withSigns({1, 1, 1, 1}, cameras), &said), wanted) > 80.0);
    CHECK(said.empty());
    CHECK(psnrOf(blurredWith(withSigns({-1, -1, 1, 1}, false), &said), wanted) > 80.0);
    CHECK(said.find("frame before") != std::string::npos);
    said.clear();
    CHECK(psnrOf(blurredWith(withSigns({1, -1, 1, -1}, true), &said), wanted) > 80.0);
    CHECK(said.find("down") != std::string::npos);
    said.clear();
    CHECK(psnrOf(blurredWith(withSigns({-1, -1, -1, -1}, true), &said), wanted) > 80.0);
    CHECK(said.find("across and down") != std::string::npos);
}

TEST_CASE("motion blur has the same bits on any number of threads", "[steps][motion_blur]") {
    PassSet set = crate(false);
    set.cameraAfter = lookingAt(V3f(0.4F, 0.1F, -0.5F), V3f(0.5F, 0, -3), 0.7F);
    const auto made = [&](int threads) {
        const ThreadLimit limit(threads);
        return test::finished(set, test::recipeOf(blur(R"("shutter":1)")));
    };
    const Image one = made(1);
    CHECK(test::sameBits(made(2), one));
    CHECK(test::sameBits(made(7), one));
}
