#include "core/steps/registry.h"

#include "core/image/error.h"
#include "core/image/tiles.h"
#include "core/project/history.h"
#include "core/recipe/evaluator.h"
#include "core/settings/value_type.h"
#include "support/files.h"
#include "support/frames.h"

#include <cmath>
#include <set>

#include <catch2/catch.hpp>

using namespace noctis;

// What holds for every step there is.

TEST_CASE("every step is declared whole", "[steps][registry]") {
    std::set<std::string> ids;
    for (const StepType& type : stepCatalogue().types()) {
        INFO(type.id);
        CHECK(ids.insert(type.id).second);
        CHECK_FALSE(type.label.empty());
        CHECK(type.help.ends_with("."));
        CHECK((type.point != nullptr) != (type.area != nullptr));
        CHECK_FALSE(type.presets.empty());
        std::set<std::string> parameters;
        for (const Parameter& parameter : type.parameters) {
            INFO(parameter.id);
            CHECK(parameters.insert(parameter.id).second);
            CHECK_FALSE(parameter.label.empty());
            CHECK(parameter.help.ends_with("."));
            CHECK_NOTHROW(checkedValue(parameter, parameter.initial));
            if (parameter.isNumber()) {
                CHECK(parameter.range.min < parameter.range.max);
                CHECK(parameter.range.sliderEnd <= parameter.range.max);
            }
            CHECK_NOTHROW(isShown(parameter, initialSettings(type.parameters)));
        }
    }
    CHECK_THROWS_AS(stepCatalogue().type("nothing"), Error);
}

TEST_CASE("every preset can be laid on", "[steps][registry]") {
    for (const StepType& type : stepCatalogue().types())
        for (const Preset& preset : type.presets) {
            INFO(type.id << ": " << preset.label);
            CHECK_NOTHROW(settingsWith(type, preset.values));
            CHECK_FALSE(type.summary(settingsWith(type, preset.values), {}).empty());
        }
}

namespace {

/// Every pass that a step may read, all of one value.
PassSet oddFrame(int width, int height, float value, float picture, bool alpha) {
    PassSet set = test::greyFrame(width, height, picture);
    for (const PassKindInfo& info : passKinds())
        if (info.subject == PassSubject::Frame && !info.matte() && info.kind != PassKind::Beauty &&
            info.kind != PassKind::Colour)
            set.put(
                test::passOf({info.kind, {}}, width, height, [=](int, int, int) { return value; }));
    for (const char* group : {"moon", "lamp"})
        set.put(test::passOf({PassKind::Light, group}, width, height,
                             [=](int, int, int) { return value; }));
    if (alpha)
        set.passes[0].image.append(Image(width, height, {"A"}, 0.5F));
    return set;
}

/// A recipe of one step in each of its presets, laid on and limited in one way after the other.
std::vector<Recipe> recipesOf(const StepType& type) {
    std::vector<Recipe> recipes;
    const auto add = [&](const Settings& settings) {
        for (const bool limited : {false, true}) {
            Recipe recipe;
            Step step = stepCatalogue().newStep(type.id);
            step.settings = settings;
            if (limited) {
                step.where.parts = {stepCatalogue().newCriterion("depth"),
                                    stepCatalogue().newCriterion("luminance")};
                step.where.refinement.soften = 1.0F;
                step.amount = 0.5F;
            }
            recipe.steps.push_back(step);
            recipes.push_back(recipe);
        }
    };
    add(initialSettings(type.parameters));
    for (const Preset& preset : type.presets)
        add(settingsWith(type, preset.values));
    return recipes;
}

}  // namespace

TEST_CASE("every step survives a picture of one pixel, infinities and non-numbers, with a Where",
          "[steps][registry]") {
    const float odd[] = {0.5F, 0.0F, -3.0F, 1e30F, kNothingHit, std::nanf("")};
    for (const StepType& type : stepCatalogue().types())
        for (const Recipe& recipe : recipesOf(type))
            for (const float value : odd)
                for (const bool alpha : {false, true}) {
                    INFO(type.id << " at " << value);
                    const Image out = test::finished(oddFrame(1, 1, value, 0.5F, alpha), recipe);
                    // A matte gives an opaque picture its alpha.
                    if (type.id != "matte")
                        REQUIRE(out.channels() == (alpha ? 4 : 3));
                    // Light that is infinite is no fault of the step's.
                    if (type.id != "light_balance")
                        CHECK(std::isfinite(out(0, 0, 0)));
                    CHECK_NOTHROW(test::finished(oddFrame(3, 2, value, value, alpha), recipe));
                }
}

TEST_CASE("every step says what it lacks when there is nothing but a picture",
          "[steps][registry]") {
    for (const StepType& type : stepCatalogue().types()) {
        INFO(type.id);
        Recipe recipe;
        recipe.steps.push_back(stepCatalogue().newStep(type.id));
        const PassSet bare = test::greyFrame(7, 5);
        bool needs = false;
        for (const PassNeed& need :
             type.reads ? type.reads(recipe.steps[0].settings) : std::vector<PassNeed>{})
            needs = needs || !need.optional;
        EvaluateOptions options;
        std::string reported;
        options.problem = [&](const std::string&, const std::string& text) { reported = text; };
        const Image out = test::finished(bare, recipe, options);
        // A step that could do with one of several passes says itself that it has none.
        if (needs || reported.find("it needs") == std::string::npos)
            CHECK(needs == !reported.empty());
        if (needs) {
            CHECK(test::sameBits(out, bare.passes[0].image));
            CHECK(reported.find("render it or add a file") != std::string::npos);
        }
    }
}

TEST_CASE("every step gives the same bits with any number of threads, and undoes",
          "[steps][registry]") {
    for (const StepType& type : stepCatalogue().types())
        for (const Recipe& recipe : recipesOf(type)) {
            INFO(type.id);
            const PassSet set = oddFrame(90, 61, 7.0F, 0.5F, true);
            const Image wanted = test::finished(set, recipe);
            for (const int threads : {1, 2, 7}) {
                const ThreadLimit limit(threads);
                CHECK(test::sameBits(test::finished(set, recipe), wanted));
            }
            Project project = newProject();
            History history(project);
            project.recipe = recipe;
            history.change(project, "add");
            CHECK(history.current().recipe == recipe);
            history.undo();
            CHECK(history.current().recipe.steps.empty());
            history.redo();
            CHECK(history.current().recipe == recipe);
        }
}
