#include "core/recipe/evaluator.h"

#include "core/image/error.h"
#include "core/image/tiles.h"
#include "core/steps/registry.h"
#include "support/files.h"

#include <algorithm>

#include <catch2/catch.hpp>

using namespace noctis;
using test::sameBits;

namespace {

constexpr int kWidth = 700;
constexpr int kHeight = 40;

PassSet frame() {
    PassSet set;
    set.camera = lookingAt(V3f(0, 2, 0), V3f(0, 1, -8), 0.7F);
    const auto add = [&](PassKind kind, Image image) {
        Pass pass;
        pass.name = passKindInfo(kind).id;
        pass.kind = kind;
        pass.image = std::move(image);
        set.put(std::move(pass));
    };
    add(PassKind::Beauty, test::ramp(kWidth, kHeight, {"R", "G", "B"}));
    Image depth(kWidth, kHeight, {"Z"});
    Image open(kWidth, kHeight, {"Y"});
    for (int y = 0; y < kHeight; ++y)
        for (int x = 0; x < kWidth; ++x) {
            depth.editPlane(0)[depth.rowStride() * y + x] =
                y == 0 ? kNothingHit : 1.0F + 0.1F * static_cast<float>(x);
            open.editPlane(0)[open.rowStride() * y + x] =
                static_cast<float>((x * 7 + y) % 100) / 100.0F;
        }
    add(PassKind::Depth, depth);
    add(PassKind::Occlusion, open);
    return set;
}

Step step(const std::string& type, std::vector<std::pair<std::string, Value>> values = {}) {
    Step s = stepCatalogue().newStep(type);
    s.settings = settingsWith(stepCatalogue().type(type), values);
    return s;
}

Recipe mixedRecipe() {
    Recipe recipe;
    recipe.steps = {step("depth_of_field", {{"focus", 8.0F}, {"f_number", 2.0F}}), step("fog"),
                    step("occlusion"), step("fog", {{"by_height", true}, {"density", 0.2F}}),
                    step("occlusion", {{"only", std::string("dark")}})};
    for (std::size_t i = 0; i < recipe.steps.size(); ++i)
        recipe.steps[i].id = "step " + std::to_string(i);
    recipe.steps[1].amount = 0.4F;
    recipe.steps[2].blend = Blend::Multiply;
    return recipe;
}

Image evaluated(const Recipe& recipe, const EvaluateOptions& options = {}) {
    Evaluator evaluator(stepCatalogue());
    evaluator.setPasses(frame());
    return evaluator.evaluate(recipe, options);
}

}  // namespace

TEST_CASE("steps run phase by phase, in the artist's order within each", "[recipe]") {
    const Recipe recipe = mixedRecipe();
    CHECK(stepCatalogue().runningOrder(recipe) == std::vector<std::size_t>{2, 4, 1, 3, 0});
}

TEST_CASE("fused steps give the same bits as each by itself, on any number of threads",
          "[recipe][threads]") {
    EvaluateOptions apart;
    apart.fused = false;
    const Image separate = evaluated(mixedRecipe(), apart);
    for (const int threads : {1, 2, 7}) {
        const ThreadLimit limit(threads);
        CHECK(sameBits(evaluated(mixedRecipe()), separate));
    }
    EvaluateOptions editing;
    editing.editing = mixedRecipe().steps[4].id;
    CHECK(sameBits(evaluated(mixedRecipe(), editing), separate));
}

TEST_CASE(
    "an empty recipe gives the beauty bit for bit, and so do steps that are off or have no amount",
    "[recipe]") {
    const Image beauty = frame().find(PassKind::Beauty)->image;
    CHECK(sameBits(evaluated({}), beauty));
    Recipe recipe = mixedRecipe();
    for (Step& s : recipe.steps)
        s.on = false;
    recipe.steps[1].on = true;
    recipe.steps[1].amount = 0.0F;
    CHECK(sameBits(evaluated(recipe), beauty));
}

TEST_CASE("progress only grows, also within a lens's many layers", "[recipe]") {
    PassSet passes = frame();
    for (const bool withAlpha : {false, true}) {
        if (withAlpha) {
            Pass beauty = *passes.find(PassKind::Beauty);
            beauty.image.append(Image(kWidth, kHeight, {"A"}, 0.5F));
            passes.put(std::move(beauty));
        }
        Evaluator evaluator(stepCatalogue());
        evaluator.setPasses(passes);
        std::vector<float> reached;
        (void)evaluator.evaluate(mixedRecipe(), {}, {.stop = {}, .progress = [&](float done) {
                                                         reached.push_back(done);
                                                     }});
        CAPTURE(withAlpha);
        CAPTURE(reached);
        REQUIRE(reached.size() > 3);
        CHECK(std::is_sorted(reached.begin(), reached.end()));
        CHECK(reached.front() > 0.0F);
        CHECK(reached.back() == Approx(1.0F));
    }
}

TEST_CASE("moving one setting runs again only from there on", "[recipe][cache]") {
    Evaluator evaluator(stepCatalogue());
    evaluator.setPasses(frame());
    Recipe recipe = mixedRecipe();
    (void)evaluator.evaluate(recipe);
    CHECK(evaluator.takeStepCount() == 5);
    (void)evaluator.evaluate(recipe);
    CHECK(evaluator.takeStepCount() == 0);

    recipe.steps[0].settings =
        settingsWith(stepCatalogue().type("depth_of_field"), {{"focus", 9.0F}});
    (void)evaluator.evaluate(recipe);
    CHECK(evaluator.takeStepCount() == 1);  // the lens comes last

    EvaluateOptions editing;
    editing.editing = recipe.steps[3].id;
    recipe.steps[3].settings = settingsWith(stepCatalogue().type("fog"), {{"density", 0.3F}});
    (void)evaluator.evaluate(recipe, editing);
    (void)evaluator.takeStepCount();
    recipe.steps[3].settings = settingsWith(stepCatalogue().type("fog"), {{"density", 0.31F}});
    (void)evaluator.evaluate(recipe, editing);
    CHECK(evaluator.takeStepCount() == 2);  // that fog and the lens
}

TEST_CASE("new passes are seen at once", "[recipe][cache]") {
    Evaluator evaluator(stepCatalogue());
    evaluator.setPasses(frame());
    const Image before = evaluator.evaluate(mixedRecipe());
    PassSet other = frame();
    other.passes[0].image = Image(kWidth, kHeight, {"R", "G", "B"}, 0.5F);
    evaluator.setPasses(other);
    CHECK_FALSE(sameBits(evaluator.evaluate(mixedRecipe()), before));
}

TEST_CASE("kept results stay within the memory allowed", "[recipe][cache]") {
    Evaluator tight(stepCatalogue(), 1);
    tight.setPasses(frame());
    const Image first = tight.evaluate(mixedRecipe());
    CHECK(sameBits(tight.evaluate(mixedRecipe()), first));
    CHECK(sameBits(first, evaluated(mixedRecipe())));
}

TEST_CASE("work at a smaller scale looks the same, smaller", "[recipe]") {
    EvaluateOptions half;
    half.factor = 2;
    Recipe recipe;
    recipe.steps = {step("fog")};
    const Image small = evaluated(recipe, half);
    const Image full = evaluated(recipe);
    REQUIRE(small.width() == kWidth / 2);
    for (int x = 4; x < kWidth / 2; x += 31)
        CHECK(small(x, 10, 1) == Approx(full(2 * x, 20, 1)).epsilon(0.03).margin(0.02));
}

TEST_CASE("a missing pass is reported by step, or skipped when somebody listens", "[recipe]") {
    PassSet set;
    set.put(frame().passes[0]);
    Evaluator evaluator(stepCatalogue());
    evaluator.setPasses(set);
    Recipe recipe;
    recipe.steps = {step("occlusion"), step("fog")};
    CHECK_THROWS_WITH(evaluator.evaluate(recipe),
                      Catch::Contains("Occlusion: there is no occlusion pass"));
    std::vector<std::string> reported;
    EvaluateOptions options;
    options.problem = [&](const std::string& id, const std::string&) { reported.push_back(id); };
    CHECK(sameBits(evaluator.evaluate(recipe, options), set.passes[0].image));
    CHECK(reported == std::vector<std::string>{"occlusion", "fog"});
    evaluator.setPasses({});
    CHECK_THROWS_AS(evaluator.evaluate({}), Error);
}

TEST_CASE("a stopped evaluation gives nothing and keeps nothing half done", "[recipe]") {
    Evaluator evaluator(stepCatalogue());
    evaluator.setPasses(frame());
    std::stop_source source;
    source.request_stop();
    CHECK(evaluator.evaluate(mixedRecipe(), {}, {.stop = source.get_token(), .progress = {}})
              .empty());
    CHECK(sameBits(evaluator.evaluate(mixedRecipe()), evaluated(mixedRecipe())));
}
