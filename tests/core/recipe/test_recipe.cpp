#include "core/recipe/recipe.h"

#include "core/image/error.h"
#include "core/recipe/evaluator.h"
#include "core/steps/registry.h"
#include "support/files.h"

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

PassSet frame() {
    PassSet set;
    set.camera = lookingAt(V3f(0, 2, 0), V3f(0, 1, -8), 0.7F);
    for (const PassKind kind : {PassKind::Beauty, PassKind::Depth, PassKind::Occlusion}) {
        Pass pass;
        pass.name = passKindInfo(kind).id;
        pass.kind = kind;
        pass.image = test::ramp(40, 24, passKindInfo(kind).channels);
        if (kind == PassKind::Depth)
            pass.image = Image(40, 24, {"Z"}, 12.0F);
        set.put(pass);
    }
    return set;
}

Recipe with(std::initializer_list<const char*> steps) {
    Recipe recipe;
    for (const char* step : steps)
        recipe.steps.push_back(stepCatalogue().newStep(step));
    return recipe;
}

}  // namespace

TEST_CASE("a new step has its defaults, is on, whole and normal", "[recipe]") {
    for (const StepType& type : stepCatalogue().types()) {
        const Step step = stepCatalogue().newStep(type.id);
        CHECK(step.type == type.id);
        CHECK(step.on);
        CHECK(step.amount == 1.0F);
        CHECK(step.blend == Blend::Normal);
        CHECK(step.settings == initialSettings(type.parameters));
    }
}

TEST_CASE("steps of one kind are told apart by their titles", "[recipe]") {
    Recipe recipe;
    for (int i = 0; i < 3; ++i)
        recipe.steps.push_back(stepCatalogue().newStep("fog", recipe));
    CHECK(titleOf(recipe.steps[0], stepCatalogue()) == "Fog");
    CHECK(recipe.steps[0].name.empty());
    CHECK(titleOf(recipe.steps[1], stepCatalogue()) == "Fog 2");
    CHECK(titleOf(recipe.steps[2], stepCatalogue()) == "Fog 3");
    recipe.steps[1].name = "Low haze";
    CHECK(freeTitle(recipe.steps, stepCatalogue(), "Low haze") == "Low haze 2");
    CHECK(freeTitle(recipe.steps, stepCatalogue(), "Fog 3") == "Fog 2");
    CHECK(freeTitle(recipe.steps, stepCatalogue(), "7") == "7");
}

TEST_CASE("a step that is not known is refused with those that are", "[recipe]") {
    try {
        (void)stepCatalogue().type("halo");
        FAIL("nothing was thrown");
    } catch (const Error& error) {
        CHECK(error.code() == ErrorCode::UnknownName);
        CHECK(std::string(error.what()).find("fog") != std::string::npos);
    }
}

TEST_CASE("fog comes before the lens, wherever it stands in the list", "[recipe]") {
    const Recipe recipe = with({"depth_of_field", "fog", "occlusion"});
    const std::vector<std::size_t> order = stepCatalogue().runningOrder(recipe);
    REQUIRE(order.size() == 3);
    CHECK(recipe.steps[order[0]].type == "occlusion");
    CHECK(recipe.steps[order[1]].type == "fog");
    CHECK(recipe.steps[order[2]].type == "depth_of_field");
    Evaluator evaluator(stepCatalogue());
    evaluator.setPasses(frame());
    CHECK(test::sameBits(evaluator.evaluate(recipe),
                         evaluator.evaluate(with({"occlusion", "fog", "depth_of_field"}))));
}

TEST_CASE("a step that is off, or has no amount, leaves no trace", "[recipe]") {
    Evaluator evaluator(stepCatalogue());
    evaluator.setPasses(frame());
    const Image plain = evaluator.evaluate({});
    Recipe off = with({"fog", "depth_of_field"});
    for (Step& step : off.steps)
        step.on = false;
    CHECK(test::sameBits(evaluator.evaluate(off), plain));
    Recipe none = with({"fog"});
    none.steps[0].amount = 0.0F;
    const Image same = evaluator.evaluate(none);
    for (int x = 0; x < 40; ++x)
        CHECK(same(x, 11, 1) == Approx(plain(x, 11, 1)));
}

TEST_CASE("half an amount is half the way", "[recipe]") {
    Evaluator evaluator(stepCatalogue());
    evaluator.setPasses(frame());
    const Image plain = evaluator.evaluate({});
    Recipe recipe = with({"fog"});
    const Image whole = evaluator.evaluate(recipe);
    recipe.steps[0].amount = 0.5F;
    const Image half = evaluator.evaluate(recipe);
    for (int x = 0; x < 40; x += 7)
        CHECK(half(x, 11, 0) == Approx(0.5F * (plain(x, 11, 0) + whole(x, 11, 0))).epsilon(1e-4));
}
