#include "core/project/handles.h"

#include "support/frames.h"

#include <catch2/catch.hpp>

using namespace noctis;
using test::recipeOf;

TEST_CASE("steps and their Wheres have handles that are found by lasting names",
          "[project][handles]") {
    Recipe recipe = recipeOf(
        R"({"step":"fog","id":"haze","where":{"all":[{"by":"height","to":3},{"not":{"by":"depth","from":4,"to":9}}]}},)"
        R"({"step":"frog"},{"step":"standee","id":"sign","settings":{"distance":12}})");
    const auto groups = handleGroups(recipe.steps, stepCatalogue());
    REQUIRE(groups.size() == 3);
    CHECK(groups[0].owner == "haze");
    CHECK(stepOfOwner(groups[1].owner) == "haze");
    CHECK(groups[1].shown(HandleKind::Distance).size() == 2);
    CHECK(groups[2].shown(HandleKind::Place).size() == 1);
    CHECK(groups[2].shown(HandleKind::Point).empty());  // it stands at a distance

    moveHandle(recipe.steps, stepCatalogue(), groups[1].owner, "to", 20.0F);
    CHECK(recipe.steps[0].where.parts[1].parts[0].settings.get<Span>("span") == Span{4.0F, 20.0F});
    moveHandle(recipe.steps, stepCatalogue(), "sign", "at", V2f(7.0F, 8.0F));
    CHECK(recipe.find("sign")->settings.get<V2f>("at") == V2f(7.0F, 8.0F));
    std::swap(recipe.steps[0], recipe.steps[2]);
    moveHandle(recipe.steps, stepCatalogue(), "haze", "start", 6.0F);
    CHECK(recipe.find("haze")->settings.number("start") == 6.0F);

    const Recipe before = recipe;
    for (const char* gone : {"nothing", "haze#/7", "haze#/0/0/0", "haze#/x", "frog"})
        moveHandle(recipe.steps, stepCatalogue(), gone, "to", 1.0F);
    CHECK(recipe == before);
}
