// Steps that are switched, mixed and limited together.
#include "core/recipe/groups.h"

#include "core/image/error.h"
#include "support/files.h"
#include "support/frames.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

using namespace noctis;
using test::sameBits;

namespace {

constexpr int kWidth = 48;
constexpr int kHeight = 32;

/// A ramp from left to right, nearer below; opaque, or half covered on the right.
PassSet ramp(bool withAlpha = false) {
    PassSet set = test::greyFrame(kWidth, kHeight);
    Image& picture = set.passes[0].image;
    for (int c = 0; c < 3; ++c)
        for (int y = 0; y < kHeight; ++y)
            for (int x = 0; x < kWidth; ++x)
                picture.editPlane(c)[picture.rowStride() * y + x] =
                    0.02F * static_cast<float>(x + c) + 0.01F;
    if (withAlpha) {
        Image alpha(kWidth, kHeight, {"A"}, 1.0F);
        for (int y = 0; y < kHeight; ++y)
            for (int x = kWidth / 2; x < kWidth; ++x)
                alpha.editPlane(0)[alpha.rowStride() * y + x] = 0.5F;
        picture.append(alpha);
    }
    set.put(test::passOf({PassKind::Depth, {}}, kWidth, kHeight,
                         [](int, int y, int) { return 2.0F + static_cast<float>(kHeight - y); }));
    return set;
}

std::string grade(const std::string& id, float stops, const std::string& more = {}) {
    return R"({"step":"grade","id":")" + id + R"(","settings":{"exposure":)" +
           std::to_string(stops) + "}" + more + "}";
}

std::string group(const std::string& name, const std::string& steps, const std::string& more = {}) {
    return R"({"group":")" + name + R"(","steps":[)" + steps + "]" + more + "}";
}

std::string ids(const Steps& steps) {
    std::string text;
    for (const Step& step : steps)
        text += (text.empty() ? "" : " ") + (step.group.empty() ? "" : step.group + "/") + step.id;
    return text;
}

float half(float a, float b) { return 0.5F * (a + b); }

}  // namespace

TEST_CASE("a group that is whole changes nothing, one that is off runs nothing",
          "[recipe][group]") {
    const PassSet set = ramp();
    const std::string steps = grade("a", 1.0F) + "," + grade("b", 0.5F);
    const Image plain = test::finished(set, test::recipeOf(steps));
    CHECK(sameBits(test::finished(set, test::recipeOf(group("look", steps))), plain));
    CHECK(sameBits(test::finished(set, test::recipeOf(group("look", steps, R"(,"on":false)"))),
                   set.passes[0].image));
    CHECK(sameBits(test::finished(set, test::recipeOf(group("look", steps, R"(,"amount":0)"))),
                   set.passes[0].image));
}

TEST_CASE("a group at half its amount is half-way between its input and its result, alpha too",
          "[recipe][group]") {
    const PassSet set = ramp(true);
    const std::string before = grade("first", 0.3F);
    const std::string matte =
        R"({"step":"matte","id":"m","settings":{"source":"coverage","grow":0}})";
    for (const std::string& steps : {grade("a", 1.0F) + "," + grade("b", 0.5F),
                                     matte + R"(,{"step":"occlusion","id":"o","on":false})"}) {
        const Image input = test::finished(set, test::recipeOf(before));
        const Image whole = test::finished(set, test::recipeOf(before + "," + steps));
        const Image mixed = test::finished(
            set, test::recipeOf(before + "," + group("look", steps, R"(,"amount":0.5)")));
        REQUIRE(mixed.channels() == 4);
        for (int y = 0; y < kHeight; y += 7)
            for (int x = 0; x < kWidth; ++x)
                for (int c = 0; c < 4; ++c)
                    CHECK(mixed(x, y, c) ==
                          Approx(half(input(x, y, c), whole(x, y, c))).margin(1e-6));
    }
}

TEST_CASE("a group's Where limits all of its steps", "[recipe][group]") {
    const PassSet set = ramp();
    const std::string steps = grade("a", 1.0F) + "," + grade("b", 1.0F);
    const std::string near = R"(,"where":{"by":"depth","to":15})";
    const Image out = test::finished(set, test::recipeOf(group("near", steps, near)));
    CHECK(out(10, kHeight - 2, 0) == Approx(4.0F * set.passes[0].image(10, kHeight - 2, 0)));
    CHECK(out(10, 0, 0) == set.passes[0].image(10, 0, 0));
    // The same as both steps limited, where none depends on another's surroundings.
    const Image each =
        test::finished(set, test::recipeOf(grade("a", 1.0F, near) + "," + grade("b", 1.0F, near)));
    for (int y = 0; y < kHeight; ++y)
        CHECK(out(20, y, 1) == Approx(each(20, y, 1)).epsilon(1e-5));
}

TEST_CASE("an amount that is dragged runs no step of its group again, and each result is the same "
          "as anew",
          "[recipe][group]") {
    const PassSet set = ramp();
    Evaluator evaluator(stepCatalogue());
    evaluator.setPasses(set);
    Recipe recipe = test::recipeOf(
        group("look", grade("a", 1.0F) + "," + grade("b", 0.5F), R"(,"amount":0.9)") + "," +
        grade("after", 0.25F));
    (void)evaluator.evaluate(recipe);
    CHECK(evaluator.takeStepCount() == 3);
    for (const float amount : {0.7F, 0.2F, 0.9F}) {
        recipe.steps[0].amount = amount;
        const Image out = evaluator.evaluate(recipe);
        CHECK(evaluator.takeStepCount() <= 1);  // the step after it
        CHECK(sameBits(out, test::finished(set, recipe)));
    }
}

TEST_CASE("a mask goes through a lens in a mixed group as the picture does", "[recipe][group]") {
    PassSet set = test::greyFrame(96, 64);
    Image& picture = set.passes[0].image;
    const auto isNear = [](int x, int y) { return x > 30 && x < 60 && y > 20 && y < 50; };
    for (int c = 0; c < 3; ++c)
        for (int y = 0; y < 64; ++y)
            for (int x = 0; x < 96; ++x)
                picture.editPlane(c)[picture.rowStride() * y + x] = isNear(x, y) ? 0.8F : 0.3F;
    set.put(test::passOf({PassKind::Depth, {}}, 96, 64,
                         [&](int x, int y, int) { return isNear(x, y) ? 3.0F : 30.0F; }));
    const std::string lens = group(
        "lens",
        R"({"step":"depth_of_field","id":"d","settings":{"focus":30,"lens":"radius","radius":6}})",
        R"(,"amount":0.5)");
    const Image out = test::finished(
        set, test::recipeOf(lens + "," + grade("g", 1.0F, R"(,"where":{"by":"depth","to":5})")));
    // The gain before the lens is the same gain behind it.
    PassSet brighter = set;
    for (int c = 0; c < 3; ++c)
        for (int y = 0; y < 64; ++y)
            for (int x = 0; x < 96; ++x)
                if (isNear(x, y))
                    brighter.passes[0].image.editPlane(
                        c)[brighter.passes[0].image.rowStride() * y + x] *= 2.0F;
    const Image truth = test::finished(brighter, test::recipeOf(lens));
    float worst = 0.0F;
    for (int y = 0; y < 64; ++y)
        for (int x = 0; x < 96; ++x)
            worst = std::max(worst, std::abs(out(x, y, 1) - truth(x, y, 1)));
    CHECK(worst < 0.02F);
}

TEST_CASE("the whole recipe is mixed with the picture of the files, alpha too", "[recipe][group]") {
    const PassSet set = ramp(true);
    const std::string steps =
        grade("a", 1.0F) + R"(,{"step":"matte","id":"m","settings":{"white":0.5}})";
    const Image whole = test::finished(set, test::recipeOf(steps));
    const Image part = test::finished(set, test::recipeOf(steps, R"(,"amount":0.3)"));
    const Image& source = set.passes[0].image;
    for (int x = 0; x < kWidth; ++x)
        for (int c = 0; c < 4; ++c)
            CHECK(part(x, 9, c) ==
                  Approx(source(x, 9, c) + 0.3F * (whole(x, 9, c) - source(x, 9, c))).margin(1e-6));
}

TEST_CASE("groups are written as they were read, a group per phase", "[recipe][group]") {
    const Recipe recipe = test::recipeOf(
        grade("x", 1.0F) + "," +
        group("base", grade("a", 1.0F) + R"(,{"step":"fog","id":"f"},)" + grade("b", 1.0F),
              R"(,"amount":0.5,"where":{"by":"depth","to":9})"));
    CHECK(ids(recipe.steps) == "x group 2 group 2/f group group/a group/b");
    CHECK(recipe.steps[1].name == "base");
    CHECK(recipe.steps[1].amount == 0.5F);
    CHECK(recipe.steps[3].where == recipe.steps[1].where);
    const std::string text = recipeToText(recipe, stepCatalogue());
    const auto json = nlohmann::json::parse(text);
    CHECK(json["steps"][2]["group"] == "base");
    CHECK(json["steps"][2]["steps"][1]["id"] == "b");
    CHECK(recipeFromText(text, stepCatalogue()) == recipe);
}

TEST_CASE("a group that can't be used is kept as it is", "[recipe][group]") {
    for (const std::string& bad :
         {std::string(R"({"group":"g"})"), std::string(R"({"group":"g","steps":[]})"),
          std::string(R"({"group":7,"steps":[{"step":"fog"}]})"),
          group("g", group("h", grade("a", 1))), group("g", grade("a", 1), R"(,"mood":1)"),
          group("g", grade("a", 1), R"(,"amount":"x")"), std::string(R"({"step":"group"})")}) {
        INFO(bad);
        const Recipe recipe = test::recipeOf(bad + "," + grade("good", 1.0F));
        REQUIRE(recipe.steps.size() == 2);
        CHECK_FALSE(recipe.steps[0].usable());
        CHECK(recipe.steps[1].usable());
        CHECK(recipeToJson(recipe, stepCatalogue())["steps"][0] == nlohmann::json::parse(bad));
    }
}

TEST_CASE("steps move through their phase, into groups and out of them", "[recipe][group]") {
    Steps steps =
        test::recipeOf(grade("a", 1) + "," + group("g", grade("b", 1) + "," + grade("c", 1)) +
                       R"(,{"step":"fog","id":"f"},)" + grade("d", 1))
            .steps;
    const auto moved = [&](const char* id, int way) {
        const bool did = moveInPhase(steps, id, way, stepCatalogue());
        return (did ? "" : "! ") + ids(steps);
    };
    CHECK(ids(steps) == "a group group/b group/c f d");
    CHECK(moved("a", -1) == "! a group group/b group/c f d");
    CHECK(moved("f", 1) == "! a group group/b group/c f d");
    CHECK(moved("a", 1) == "group group/a group/b group/c f d");
    CHECK(moved("a", 1) == "group group/b group/a group/c f d");
    CHECK(moved("a", 1) == "group group/b group/c group/a f d");
    CHECK(moved("a", 1) == "group group/b group/c a f d");
    CHECK(moved("d", -1) == "group group/b group/c d a f");
    CHECK(moved("d", -1) == "group group/b group/c group/d a f");
    CHECK(moved("b", -1) == "b group group/c group/d a f");
    CHECK(moved("group", 1) == "b a group group/c group/d f");
    CHECK(moved("group", -1) == "b group group/c group/d a f");
    CHECK(moved("c", -1) == "b c group group/d a f");
    // Its last member takes the group with it.
    CHECK(moved("d", 1) == "b c d a f");
}

TEST_CASE("groups are made, copied, dissolved and removed", "[recipe][group]") {
    Steps steps =
        test::recipeOf(grade("a", 1) + R"(,{"step":"fog","id":"f"},)" + grade("b", 1)).steps;
    CHECK(groupPhase(steps, Phase::Finish, "finish", stepCatalogue()) == "group");
    CHECK(ids(steps) == "group group/a group/b f");
    CHECK(groupPhase(steps, Phase::Finish, "again", stepCatalogue()).empty());
    CHECK(groupStep(steps, "f", "air") == "group 2");
    CHECK(ids(steps) == "group group/a group/b group 2 group 2/f");
    CHECK(duplicateStep(steps, "group", "copy") == "group 3");
    CHECK(ids(steps) ==
          "group group/a group/b group 3 group 3/grade group 3/grade 2 group 2 group 2/f");
    ungroup(steps, "group");
    CHECK(ids(steps) == "a b group 3 group 3/grade group 3/grade 2 group 2 group 2/f");
    removeStep(steps, "group 3");
    CHECK(ids(steps) == "a b group 2 group 2/f");
    removeStep(steps, "f");
    CHECK(ids(steps) == "a b");
}

TEST_CASE("a look is added as a group per phase, its names free of those there are",
          "[recipe][group]") {
    Recipe recipe = test::recipeOf(grade("grade", 1, R"(,"where":{"same_as":"near"})"),
                                   R"(,"wheres":{"near":{"by":"depth","to":9}})");
    const Recipe look = test::recipeOf(R"({"step":"fog","id":"fog"},)" +
                                           grade("grade", 2, R"(,"where":{"same_as":"near"})"),
                                       R"(,"wheres":{"near":{"by":"depth","to":3}},"amount":0.5)");
    addAsGroups(recipe, look, "dusk", stepCatalogue());
    CHECK(ids(recipe.steps) == "grade group group/fog group 2 group 2/grade 2");
    CHECK(recipe.steps[1].amount == 0.5F);
    CHECK(recipe.wheres.size() == 2);
    CHECK(recipe.steps[4].where.name != recipe.steps[0].where.name);
    CHECK(problemsOf(recipe, stepCatalogue()).empty());
}

TEST_CASE("a group whose Where lacks its pass is reported, and doesn't run", "[recipe][group]") {
    const PassSet set = test::greyFrame(8, 8);
    const Recipe recipe =
        test::recipeOf(group("near", grade("a", 1), R"(,"where":{"by":"depth","to":9})"));
    CHECK_THROWS_AS(test::finished(set, recipe), Error);
    EvaluateOptions options;
    std::string reported;
    options.problem = [&](const std::string& id, const std::string&) { reported = id; };
    CHECK(sameBits(test::finished(set, recipe, options), set.passes[0].image));
    CHECK(reported == "group");
}
