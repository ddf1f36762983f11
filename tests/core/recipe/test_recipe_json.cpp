#include "core/recipe/recipe_json.h"

#include "core/image/error.h"
#include "core/image/json_text.h"
#include "core/image/safe_write.h"
#include "core/passes/pass_file.h"
#include "core/recipe/evaluator.h"
#include "core/steps/registry.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include <filesystem>
#include <set>

using namespace noctis;
using Json = nlohmann::json;

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
    return R"({"format":"noctis-recipe","version":2,"steps":[)" + step + "]}";
}

}  // namespace

TEST_CASE("a recipe survives being written and read, and stays the same text", "[recipe][json]") {
    Recipe recipe;
    for (const StepType& type : stepCatalogue().types())
        for (int i = 0; i < 2; ++i) {
            recipe.steps.push_back(stepCatalogue().newStep(type.id, recipe));
            Step& step = recipe.steps.back();
            step.name = i == 0 ? "" : "second";
            step.amount = 0.5F;
            step.blend = Blend::Screen;
            step.on = false;
            step.where.parts = {stepCatalogue().newCriterion("depth")};
        }
    recipe.wheres["far"] = stepCatalogue().newCriterion("height");
    const std::string text = recipeToText(recipe, stepCatalogue());
    const Recipe again = recipeFromText(text, stepCatalogue());
    CHECK(again == recipe);
    CHECK(recipeToText(again, stepCatalogue()) == text);
}

TEST_CASE("steps have ids that stay, and none has another's", "[recipe][json]") {
    const Recipe recipe = recipeFromText(
        withStep(
            R"({"step":"fog","id":"x"},{"step":"fog"},{"step":"fog","id":"x"},{"step":"fog"})"),
        stepCatalogue());
    CHECK(recipe.steps[0].id == "x");
    CHECK(recipe.steps[1].id == "fog");
    CHECK(recipe.steps[2].id == "fog 2");
    CHECK(recipe.steps[3].id == "fog 3");
    const Recipe again = recipeFromText(recipeToText(recipe, stepCatalogue()), stepCatalogue());
    CHECK(again == recipe);
}

TEST_CASE("files that settings name are stored relative to the recipe", "[recipe][json]") {
    Recipe recipe;
    recipe.steps.push_back(stepCatalogue().newStep("standee"));
    recipe.steps[0].settings.set("picture", FilePath{"/shots/signs/inn.png"});
    const Json json = recipeToJson(recipe, stepCatalogue(), "/shots/quay");
    CHECK(json["steps"][0]["settings"]["picture"] == "../signs/inn.png");
    CHECK(recipeFromJson(json, stepCatalogue(), "/other/quay")
              .steps[0]
              .settings.get<FilePath>("picture")
              .path == "/other/signs/inn.png");
}

TEST_CASE("what a recipe leaves out has its default", "[recipe][json]") {
    const Recipe recipe =
        recipeFromText(withStep(R"({"step":"fog","settings":{"start":9}})"), stepCatalogue());
    REQUIRE(recipe.steps.size() == 1);
    Step expected = stepCatalogue().newStep("fog");
    expected.settings = settingsWith(stepCatalogue().type("fog"), {{"start", 9.0F}});
    CHECK(recipe.steps[0] == expected);
}

TEST_CASE("errors in a recipe are reported by kind", "[recipe][json]") {
    CHECK(codeOf("{") == ErrorCode::BadFile);
    CHECK(codeOf("[]") == ErrorCode::BadFile);
    CHECK(codeOf(R"({"format":"soup","steps":[]})") == ErrorCode::BadFile);
    CHECK(codeOf(R"({"format":"noctis-recipe","version":99,"steps":[]})") ==
          ErrorCode::NewerVersion);
}

TEST_CASE("a step that can't be used is kept as it is, reported, and saved again unharmed",
          "[recipe][json]") {
    for (const char* step :
         {R"({"on":true})", R"({"step":"frog","id":"f","settings":{"warts":[1,{"a":null}]}})",
          R"({"step":"fog","settings":{"thickness":1}})",
          R"({"step":"fog","settings":{"density":-1}})",
          R"({"step":"fog","settings":{"density":"much"}})",
          R"({"step":"fog","settings":{"colour":[1,2]}})", R"({"step":"fog","blend":"dissolve"})",
          R"({"step":"fog","amount":"all"})", R"({"step":"fog","version":9})",
          R"({"step":"fog","mood":"low"})", R"("fog")", "7"}) {
        INFO(step);
        const Recipe recipe = recipeFromText(
            withStep(std::string(step) + R"(,{"step":"fog","id":"good"})"), stepCatalogue());
        REQUIRE(recipe.steps.size() == 2);
        CHECK_FALSE(recipe.steps[0].usable());
        CHECK_FALSE(recipe.steps[0].problem.empty());
        CHECK(recipe.steps[1].usable());  // the rest works on
        CHECK(stepCatalogue().runningOrder(recipe) == std::vector<std::size_t>{1});
        CHECK(recipeToJson(recipe, stepCatalogue())["steps"][0] == Json::parse(step));
        CHECK(problemsOf(recipe, stepCatalogue()).size() == 1);
    }
    const Recipe off = recipeFromText(withStep(R"({"step":"frog","on":false})"), stepCatalogue());
    CHECK(problemsOf(off, stepCatalogue()).empty());  // it would not have run anyway
}

TEST_CASE("fields of a recipe that are not known are kept", "[recipe][json]") {
    const Json json{
        {"format", "noctis-recipe"}, {"version", 2}, {"steps", Json::array()}, {"mood", "low"}};
    CHECK(recipeToJson(recipeFromJson(json, stepCatalogue()), stepCatalogue())["mood"] == "low");
}

TEST_CASE("settings of an older version are upgraded, and a setting is read by its alias, too",
          "[recipe][json]") {
    struct Haze {
        float thickness = 1.0F;
    };
    const Catalogue catalogue({StepBuilder<Haze>("haze", "Haze")
                                   .version(3,
                                            [](Json& settings, int from) {
                                                if (from < 2)
                                                    settings["thickness"] =
                                                        2.0F * settings.value("thickness", 1.0F);
                                            })
                                   .number(&Haze::thickness, "thickness", "Thickness", Unit::None,
                                           {0.0F, 100.0F, 10.0F}, "How thick it is.")
                                   .alias("density")
                                   .build()},
                              {});
    const auto thicknessOf = [&](const std::string& step) {
        return recipeFromText(withStep(step), catalogue).steps[0].settings.number("thickness");
    };
    CHECK(thicknessOf(R"({"step":"haze","settings":{"thickness":4}})") == 4.0F);
    CHECK(thicknessOf(R"({"step":"haze","version":2,"settings":{"density":4}})") == 4.0F);
    CHECK(thicknessOf(R"({"step":"haze","version":1,"settings":{"thickness":4}})") == 8.0F);
    CHECK_FALSE(
        recipeFromText(withStep(R"({"step":"haze","version":4})"), catalogue).steps[0].usable());
}

TEST_CASE("recipes from before the first release aren't read", "[recipe][json]") {
    CHECK(codeOf(R"({"format":"noctis-recipe","version":1,"steps":[]})") == ErrorCode::BadFile);
    CHECK_THROWS_WITH(
        recipeFromText(R"({"format":"noctis-recipe","version":1,"steps":[]})", stepCatalogue()),
        Catch::Contains("is of version 1"));
}

TEST_CASE("a damaged text says in which line", "[recipe][json]") {
    CHECK_THROWS_WITH(parseJson("{\n\"a\": 1,\n\"b\": }\n"), Catch::Contains("line 3"));
    CHECK_THROWS_WITH(parseJson(" \n"), Catch::Contains("is empty"));
}

namespace {

/// The objects that a Where goes by.
void addObjects(const Where& where, std::vector<std::string>& names) {
    if (where.kind == Where::Kind::Criterion && where.name == "objects")
        for (const std::string& name : where.settings.get<NameList>("names"))
            names.push_back(name);
    for (const Where& part : where.parts)
        addObjects(part, names);
}

}  // namespace

TEST_CASE("the demo's looks are understood, and name what is in the demo", "[recipe][demo]") {
    const std::filesystem::path demo = std::filesystem::path(NOCTIS_DEMO_SCENE).parent_path();
    std::set<std::string> there;
    const PassSet mattes = readPassesWithoutPixels({demo / "objects.exr"});
    for (const auto& [id, name] : mattes.find(PassKind::Objects)->manifest)
        there.insert(name);
    int looks = 0;
    std::vector<std::string> named;
    for (const auto& entry : std::filesystem::directory_iterator(demo / "looks")) {
        INFO(entry.path().filename().string());
        const Recipe recipe =
            recipeFromText(readTextFile(entry.path()), stepCatalogue(), demo / "looks");
        CHECK(problemsOf(recipe, stepCatalogue()).empty());
        CHECK_FALSE(recipe.steps.empty());
        for (const std::filesystem::path& file : filesOf(recipe))
            CHECK(std::filesystem::exists(file));
        for (const Step& step : recipe.steps)
            addObjects(step.where, named);
        ++looks;
    }
    CHECK(looks == 16);
    CHECK(named.size() == 13);
    for (const std::string& name : named)
        CHECK(there.contains(name));
}
