#include "core/image/error.h"
#include "core/recipe/key_edits.h"
#include "core/recipe/recipe_at.h"
#include "core/settings/value_parts.h"
#include "core/steps/registry.h"

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

Key key(int frame, const Value& value) {
    Key made;
    made.frame = frame;
    made.value = value;
    return made;
}

/// A grade whose Where is two criteria, one of them turned over.
Recipe graded() {
    Recipe recipe;
    Step step = stepCatalogue().newStep("grade");
    step.id = "g";
    Where turned;
    turned.kind = Where::Kind::Not;
    turned.parts = {stepCatalogue().newCriterion("depth")};
    step.where.parts = {stepCatalogue().newCriterion("ellipse"), turned};
    recipe.steps = {step};
    return recipe;
}

}  // namespace

TEST_CASE("keys of a step, its amount and its criteria are set and taken alike", "[key-edits]") {
    const Recipe still = graded();
    for (const TrackPlace& place :
         {TrackPlace{"g", "exposure"}, TrackPlace{"g", "amount"}, TrackPlace{"g", "on"},
          TrackPlace{"g", "soft", "/0"}, TrackPlace{"g", "from", "/1/0"}}) {
        CAPTURE(place.setting);
        if (place.setting == "from" &&
            stepCatalogue().criterion("depth").parameters.front().id != "from")
            continue;
        Recipe recipe = still;
        toggleKey(recipe, stepCatalogue(), {5, 0.2}, place);
        toggleKey(recipe, stepCatalogue(), {9, 0.4}, place);
        CHECK(tracksAt(recipe, place)->keys.at(place.setting).size() == 2);
        CHECK(trackPlacesOf(recipe.steps[0]) == std::vector{place});
        CHECK(keyFramesOf(recipe.steps[0]) == std::vector{5, 9});
        toggleKey(recipe, stepCatalogue(), {9, 0.4}, place);
        toggleKey(recipe, stepCatalogue(), {5, 0.2}, place);
        CHECK(recipe == still);
    }
}

TEST_CASE("a Where that is one criterion has keys, too", "[key-edits]") {
    Recipe recipe = graded();
    recipe.steps[0].where = stepCatalogue().newCriterion("ellipse");
    const TrackPlace place{"g", "soft", "/"};
    toggleKey(recipe, stepCatalogue(), {5, 0.2}, place);
    CHECK(recipe.steps[0].where.tracks.keys.contains("soft"));
    CHECK(trackPlacesOf(recipe.steps[0]) == std::vector{place});
}

TEST_CASE("a place that isn't there has no keys and takes none", "[key-edits]") {
    Recipe recipe = graded();
    const Recipe before = recipe;
    for (const TrackPlace& place : {TrackPlace{"none", "exposure"}, TrackPlace{"g", "soft", "/7"},
                                    TrackPlace{"g", "soft", "/1"}}) {
        CHECK(tracksAt(recipe, place) == nullptr);
        toggleKey(recipe, stepCatalogue(), {5, 0.2}, place);
        setFlicker(recipe, place, {0.5F, 3.0F, 1});
    }
    CHECK_THROWS_AS(toggleKey(recipe, stepCatalogue(), {5, 0.2}, {"g", "nothing"}), Error);
    CHECK(recipe == before);
}

TEST_CASE("keys that go leave the value of the moment", "[key-edits]") {
    Recipe recipe = graded();
    const TrackPlace place{"g", "exposure"};
    setKeys(recipe, stepCatalogue(), {6, 0.2}, place, {key(1, 0.0F), key(11, 2.0F)});
    CHECK(std::get<float>(valueNow(recipe, stepCatalogue(), {6, 0.2}, place)) == Approx(1.0F));
    setKeys(recipe, stepCatalogue(), {6, 0.2}, place, {});
    CHECK(recipe.steps[0].tracks.empty());
    CHECK(recipe.steps[0].settings.number("exposure") == Approx(1.0F));
}

TEST_CASE("flicker is set and taken beside keys", "[key-edits]") {
    Recipe recipe = graded();
    const TrackPlace place{"g", "exposure"};
    setFlicker(recipe, place, {0.5F, 3.0F, 4});
    CHECK(recipe.steps[0].tracks.flicker.at("exposure").seed == 4);
    CHECK(trackPlacesOf(recipe.steps[0]) == std::vector{place});
    setFlicker(recipe, place, {0.0F, 3.0F, 4});
    CHECK(recipe.steps[0].tracks.empty());
}

TEST_CASE("all keys of a step at a frame move together, or are copied", "[key-edits]") {
    Recipe recipe = graded();
    setKeys(recipe, stepCatalogue(), {}, {"g", "exposure"}, {key(1, 0.0F), key(5, 2.0F)});
    setKeys(recipe, stepCatalogue(), {}, {"g", "soft", "/0"}, {key(5, 3.0F), key(9, 4.0F)});
    Step& step = recipe.steps[0];
    moveKeys(step, 5, 9, false);
    CHECK(keyFramesOf(step) == std::vector{1, 9});
    CHECK(std::get<float>(step.where.parts[0].tracks.keys.at("soft").back().value) == 3.0F);
    moveKeys(step, 9, 12, true);
    CHECK(keyFramesOf(step) == std::vector{1, 9, 12});
}

TEST_CASE("keys are moved, copied and stretched in time", "[key-edits]") {
    const KeyList keys{key(1, 0.0F), key(5, 1.0F), key(9, 2.0F)};
    const auto framesOf = [](const KeyList& list) {
        std::vector<int> frames;
        for (const Key& each : list)
            frames.push_back(each.frame);
        return frames;
    };
    CHECK(framesOf(rearranged(keys, {5}, [](int f) { return f + 20; })) == std::vector{1, 9, 25});
    CHECK(framesOf(rearranged(keys, {5}, [](int) { return 9; })) == std::vector{1, 9});
    CHECK(framesOf(rearranged(
              keys, {1, 5}, [](int f) { return f + 10; }, true)) == std::vector{1, 5, 9, 11, 15});
    CHECK(framesOf(rearranged(keys, {1, 5, 9}, [](int f) { return 1 + (f - 1) * 2; })) ==
          std::vector{1, 9, 17});
    CHECK(rearranged(keys, {}, [](int) { return 0; }) == keys);
}

TEST_CASE("what has numbers is drawn by them, and set by them", "[key-edits]") {
    for (const Value& value : {Value(2.5F), Value(true), Value(LinearRgb{1.0F, 2.0F, 3.0F}),
                               Value(V2f(4, 5)), Value(V3f(6, 7, 8))}) {
        const std::vector<float> parts = partsOf(value);
        REQUIRE_FALSE(parts.empty());
        Value again = value;
        for (std::size_t part = 0; part < parts.size(); ++part) {
            const Value other = withPart(value, part, parts[part] + 1.0F);
            CHECK(partsOf(other)[part] ==
                  (std::holds_alternative<bool>(value) ? 1.0F : parts[part] + 1.0F));
            again = withPart(again, part, parts[part]);
        }
        CHECK(again == value);
        CHECK(withPart(value, 7, 1.0F) == value);
    }
    CHECK(partsOf(Value(std::string("plain"))).empty());
    CHECK(partsOf(Value(Gradient{})).empty());
}
