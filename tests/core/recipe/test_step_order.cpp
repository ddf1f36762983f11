#include "core/recipe/step_order.h"
#include "support/frames.h"

#include <catch2/catch.hpp>

using namespace noctis;

TEST_CASE("light in the air that a fog follows says so, while that fog runs", "[recipe][order]") {
    Recipe recipe =
        test::recipeOf(R"({"step":"airlight","id":"halo"},{"step":"grade","id":"grade"},)"
                       R"({"step":"fog","id":"fog"})");
    const auto notes = [&] { return orderNotes(recipe, stepCatalogue()); };
    REQUIRE(notes().size() == 1);
    CHECK_THAT(notes().at("halo"), Catch::StartsWith("Fog comes after it"));
    recipe.find("fog")->on = false;
    CHECK(notes().empty());
    recipe.find("fog")->on = true;
    moveLast(recipe.steps, "halo");
    CHECK(notes().empty());
    CHECK(recipe.steps.back().id == "halo");
    CHECK(recipe.steps.size() == 3);
}

TEST_CASE("a step that moves last leaves its group", "[recipe][order]") {
    Recipe recipe =
        test::recipeOf(R"({"group":"Air","steps":[{"step":"airlight","id":"halo"},)"
                       R"({"step":"clear_air","id":"clear"}]},{"step":"fog","id":"fog"})");
    moveLast(recipe.steps, "halo");
    CHECK(recipe.steps.back().id == "halo");
    CHECK(recipe.steps.back().group.empty());
    CHECK_FALSE(recipe.find("clear")->group.empty());
}
