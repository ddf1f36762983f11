// A recipe at a time is a plain recipe.
#include "core/recipe/key_edits.h"
#include "core/recipe/recipe_at.h"

#include "support/files.h"
#include "support/frames.h"

#include <catch2/catch.hpp>

using namespace noctis;
using test::sameBits;

namespace {

Recipe at(const Recipe& recipe, int frame, double seconds = 0.0) {
    return recipeAt(recipe, stepCatalogue(), {frame, seconds});
}

std::string grade(const std::string& more) {
    return R"({"step":"grade","id":"g","settings":{"exposure":1})" + more + "}";
}

}  // namespace

TEST_CASE("a step's settings, amount and switch move by their keys", "[recipe][keys]") {
    const Recipe recipe = test::recipeOf(grade(
        R"(,"keys":{"exposure":[{"frame":1,"value":0},{"frame":11,"value":2}],
            "amount":[{"frame":1,"value":1},{"frame":11,"value":0.5}],
            "on":[{"frame":1,"value":true},{"frame":9,"value":false}]})"));
    CHECK(moves(recipe));
    const Step now = at(recipe, 6).steps[0];
    CHECK(now.settings.number("exposure") == Approx(1.0F));
    CHECK(now.amount == Approx(0.75F));
    CHECK(now.on);
    CHECK_FALSE(at(recipe, 9).steps[0].on);
    CHECK_FALSE(moves(at(recipe, 6)));
    CHECK(at(recipe, 6) == at(at(recipe, 6), 900));
    // Written and read again, it is the same.
    CHECK(recipeFromText(recipeToText(recipe, stepCatalogue()), stepCatalogue()) == recipe);
}

TEST_CASE("members of a list, criteria, groups and lights move, too", "[recipe][keys]") {
    const Recipe recipe = test::recipeOf(
        R"({"step":"light_balance","id":"b","settings":{"groups":[{"name":"moon","strength":1},
            {"name":"lantern","strength":1}]},
            "keys":{"groups[lantern].strength":[{"frame":1,"value":1},{"frame":3,"value":3}]}},
           {"group":"dusk","steps":[)" +
            grade(R"(,"where":{"by":"depth","to":5,
                "keys":{"soft":[{"frame":1,"value":0},{"frame":3,"value":2}]}})") +
            R"(],"keys":{"amount":[{"frame":1,"value":0},{"frame":3,"value":1}]}})",
        R"(,"lights":{"torch":{"kind":"point","strength":2,
            "keys":{"strength":[{"frame":1,"value":2},{"frame":3,"value":4}]},
            "flicker":{"strength":{"amount":0.5,"per_second":4,"seed":3}}}})");
    for (const Step& step : recipe.steps)
        REQUIRE(step.usable());
    const Recipe now = at(recipe, 2);
    const auto& groups = now.steps[0].settings.get<RecordList>("groups");
    CHECK(groups[0].settings.number("strength") == 1.0F);
    CHECK(groups[1].settings.number("strength") == Approx(2.0F));
    CHECK(now.steps[1].amount == Approx(0.5F));
    CHECK(now.steps[2].where.settings.number("soft") == Approx(1.0F));
    const float n = flickerAt({0.5F, 4.0F, 3}, 0.7);
    CHECK(at(recipe, 2, 0.7).lights.at("torch").strength == Approx(3.0F * (1.0F + 0.5F * n)));
    CHECK(recipeFromText(recipeToText(recipe, stepCatalogue()), stepCatalogue()) == recipe);
}

TEST_CASE("keys that can't be used keep the step as it is", "[recipe][keys]") {
    for (const char* bad : {R"(,"keys":{"density":[{"frame":1,"value":1}]})",
                            R"(,"keys":{"exposure":[{"frame":1,"value":"x"}]})",
                            R"(,"flicker":{"exposure":{"mood":1}})"}) {
        INFO(bad);
        const Recipe recipe = test::recipeOf(grade(bad));
        CHECK_FALSE(recipe.steps[0].usable());
        CHECK_FALSE(recipe.steps[0].problem.empty());
    }
}

TEST_CASE("a frame is the plain recipe's, and frames that are alike run nothing again",
          "[recipe][keys]") {
    const PassSet set = test::greyFrame(32, 16, 0.25F);
    const Recipe recipe = test::recipeOf(
        grade("") +
        R"(,{"step":"grade","id":"h","keys":{"exposure":[{"frame":5,"value":0},{"frame":9,"value":1}]}})");
    Evaluator evaluator(stepCatalogue());
    evaluator.setPasses(set);
    EvaluateOptions options;
    for (const int frame : {5, 7, 9}) {
        options.time = {frame, frame / 24.0};
        CHECK(
            sameBits(evaluator.evaluate(recipe, options), test::finished(set, at(recipe, frame))));
    }
    (void)evaluator.takeStepCount();
    options.time = {300, 12.0};
    (void)evaluator.evaluate(recipe, options);  // as at the last key
    CHECK(evaluator.takeStepCount() == 0);
}

TEST_CASE("no setting of a step is called as its amount or its switch", "[recipe][keys]") {
    for (const StepType& type : stepCatalogue().types())
        for (const Parameter& parameter : type.parameters) {
            INFO(type.id << " " << parameter.id);
            CHECK(parameter.id != "amount");
            CHECK(parameter.id != "on");
        }
}

TEST_CASE("what is edited at a time becomes a key there, where there are keys", "[recipe][keys]") {
    const Recipe recipe = test::recipeOf(grade(
        R"(,"keys":{"exposure":[{"frame":1,"value":0,"ease":"ease"},{"frame":11,"value":2}]},
            "flicker":{"gamma":{"amount":0.5,"per_second":4,"seed":3}})"));
    const FrameTime time{6, 0.3};
    const Recipe same = editedAt(recipe, stepCatalogue(), time, [](Recipe&) {});
    CHECK(same == recipe);  // neither keys nor flicker are written into it
    const Recipe edited = editedAt(recipe, stepCatalogue(), time, [](Recipe& r) {
        r.steps[0].settings.set("exposure", 3.0F);
        r.steps[0].settings.set("contrast", 1.2F);
        r.steps[0].amount = 0.4F;
    });
    const KeyList& keys = edited.steps[0].tracks.keys.at("exposure");
    REQUIRE(keys.size() == 3);
    CHECK(keys[1].frame == 6);
    CHECK(std::get<float>(keys[1].value) == 3.0F);
    CHECK(keys[1].ease == Ease::Ease);
    CHECK(edited.steps[0].settings.number("exposure") ==
          recipe.steps[0].settings.number("exposure"));
    CHECK(edited.steps[0].settings.number("contrast") == 1.2F);
    CHECK(edited.steps[0].amount == 0.4F);
    // Steps that are added, moved or removed take their movement with them.
    const Recipe moved = editedAt(recipe, stepCatalogue(), time, [](Recipe& r) {
        r.steps.insert(r.steps.begin(), stepCatalogue().newStep("fog", r));
    });
    CHECK(moved.steps[1].tracks == recipe.steps[0].tracks);
}

TEST_CASE("a key is set and taken, and the value stays when the last one goes", "[recipe][keys]") {
    Recipe recipe = test::recipeOf(grade(""));
    toggleKey(recipe, stepCatalogue(), {10, 0.4}, {"g", "exposure"});
    CHECK(keyFramesOf(recipe.steps[0]) == std::vector<int>{10});
    recipe = editedAt(recipe, stepCatalogue(), {20, 0.8},
                      [](Recipe& r) { r.steps[0].settings.set("exposure", 3.0F); });
    CHECK(keyFramesOf(recipe.steps[0]) == std::vector<int>{10, 20});
    CHECK(keyedFrames(recipe) == std::pair(10, 20));
    CHECK(at(recipe, 15).steps[0].settings.number("exposure") == Approx(2.0F));
    toggleKey(recipe, stepCatalogue(), {10, 0.4}, {"g", "exposure"});
    toggleKey(recipe, stepCatalogue(), {20, 0.8}, {"g", "exposure"});
    CHECK(recipe.steps[0].tracks.empty());
    CHECK(recipe.steps[0].settings.number("exposure") == 3.0F);
    toggleKey(recipe, stepCatalogue(), {5, 0.2}, {"g", "on"});
    CHECK(std::get<bool>(recipe.steps[0].tracks.keys.at("on")[0].value));
    CHECK_FALSE(keyedFrames(test::recipeOf(grade(""))));
}
