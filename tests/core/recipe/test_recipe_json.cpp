#include "core/recipe/recipe_json.h"

#include "core/image/error.h"
#include "core/steps/registry.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

using namespace noctis;

namespace {

ErrorCode codeOf(const std::string& text) {
    try {
        (void)recipeFromText(text, stepCatalogue());
    } catch (const Error& error) {
        return error.code();
    }
    FAIL("accepted: " << text);
    return ErrorCode::BadFile;
}

std::string withStep(const std::string& step) {
    return R"({"format":"noctis-recipe","version":1,"steps":[)" + step + "]}";
}

}  // namespace

TEST_CASE("a recipe survives being written and read", "[recipe][json]") {
    Recipe recipe;
    for (const StepType& type : stepCatalogue().types()) {
        recipe.steps.push_back(stepCatalogue().newStep(type.id));
        recipe.steps.back().amount = 0.5F;
        recipe.steps.back().blend = Blend::Screen;
        recipe.steps.back().on = false;
    }
    CHECK(recipeFromText(recipeToText(recipe, stepCatalogue()), stepCatalogue()) == recipe);
}

TEST_CASE("what a recipe leaves out has its default", "[recipe][json]") {
    const Recipe recipe =
        recipeFromText(withStep(R"({"step":"fog","settings":{"start":9}})"), stepCatalogue());
    REQUIRE(recipe.steps.size() == 1);
    Step expected = stepCatalogue().newStep("fog");
    expected.settings = settingsWith(stepCatalogue().type("fog"), {{"start", 9.0F}});
    CHECK(recipe.steps[0] == expected);
}

TEST_CASE("what is wrong with a recipe is told by kind", "[recipe][json]") {
    CHECK(codeOf("{") == ErrorCode::BadFile);
    CHECK(codeOf("[]") == ErrorCode::BadFile);
    CHECK(codeOf(R"({"format":"soup","steps":[]})") == ErrorCode::BadFile);
    CHECK(codeOf(R"({"format":"noctis-recipe","version":99,"steps":[]})") ==
          ErrorCode::NewerVersion);
    CHECK(codeOf(withStep(R"({"on":true})")) == ErrorCode::BadFile);
    CHECK(codeOf(withStep(R"({"step":"frog"})")) == ErrorCode::UnknownName);
    CHECK(codeOf(withStep(R"({"step":"fog","settings":{"thickness":1}})")) ==
          ErrorCode::UnknownName);
    CHECK(codeOf(withStep(R"({"step":"fog","settings":{"density":-1}})")) == ErrorCode::BadSetting);
    CHECK(codeOf(withStep(R"({"step":"fog","settings":{"density":"much"}})")) ==
          ErrorCode::BadSetting);
    CHECK(codeOf(withStep(R"({"step":"fog","settings":{"colour":[1,2]}})")) ==
          ErrorCode::BadSetting);
    CHECK(codeOf(withStep(R"({"step":"fog","blend":"dissolve"})")) == ErrorCode::UnknownName);
    CHECK(codeOf(withStep(R"({"step":"fog","amount":"all"})")) == ErrorCode::BadFile);
}

TEST_CASE("a damaged text says in which line", "[recipe][json]") {
    CHECK_THROWS_WITH(parseJson("{\n\"a\": 1,\n\"b\": }\n"), Catch::Contains("line 3"));
}

TEST_CASE("the step and the setting that are wrong are named", "[recipe][json]") {
    CHECK_THROWS_WITH(
        recipeFromText(withStep(R"({"step":"fog"},{"step":"fog","settings":{"start":-5}})"),
                       stepCatalogue()),
        Catch::Contains("step 2") && Catch::Contains("start"));
}
