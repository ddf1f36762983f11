#include "core/recipe/where.h"

#include "core/image/error.h"
#include "core/recipe/recipe_json.h"
#include "core/recipe/where_json.h"
#include "support/files.h"
#include "support/frames.h"

#include <cmath>

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

using namespace noctis;
using test::finished;
using test::passOf;
using test::recipeOf;
using test::whereOf;
using Json = nlohmann::json;

namespace {

constexpr int kSize = 96;

PassSet frame() {
    PassSet set = test::greyFrame(kSize, kSize);
    set.put(passOf({PassKind::Depth, {}}, kSize, kSize,
                   [](int x, int, int) { return static_cast<float>(x) + 0.5F; }));
    return set;
}

constexpr const char* kDisc = R"({"by":"ellipse","centre":[48,48],"radii":[20,20],"soft":0)";

}  // namespace

TEST_CASE("all is the least, any the greatest, and not turns round", "[where]") {
    const std::string left = R"({"by":"depth","to":40,"soft":40})";  // 1 to 20, 0 from 60 on
    const std::string right = R"({"by":"depth","from":40,"soft":80})";
    const auto at = [&](const std::string& where, int x) {
        return whereOf(frame(), where)(x, 3, 0);
    };
    for (const int x : {5, 30, 41, 50, 90}) {
        const float a = at(left, x);
        const float b = at(right, x);
        CHECK(at(R"({"all":[)" + left + "," + right + "]}", x) == std::min(a, b));
        CHECK(at(R"({"any":[)" + left + "," + right + "]}", x) == std::max(a, b));
        CHECK(at(R"({"not":)" + left + "}", x) == 1.0F - a);
    }
    CHECK(at(R"({"all":[]})", 5) == 1.0F);
    CHECK(at(R"({"any":[]})", 5) == 0.0F);
    CHECK(at("{}", 5) == 1.0F);
}

TEST_CASE("growing, softening and levels come in that order", "[where]") {
    const auto at = [&](const std::string& more, int x) {
        return whereOf(frame(), kDisc + more + "}")(x, 48, 0);
    };
    CHECK(at("", 67) == 1.0F);
    CHECK(at("", 69) == 0.0F);
    CHECK(at(R"(,"grow":10)", 77) == 1.0F);
    CHECK(at(R"(,"grow":10)", 79) == 0.0F);
    CHECK(at(R"(,"grow":-10)", 57) == 1.0F);
    CHECK(at(R"(,"grow":-10)", 59) == 0.0F);
    CHECK(at(R"(,"grow":0.5)", 68) == Approx(0.5F));
    CHECK(at(R"(,"soften":3)", 48) == Approx(1.0F).margin(1e-3));
    const float edge = at(R"(,"soften":3)", 68);
    CHECK(edge ==
          Approx(0.43F).margin(0.05));  // the centre of a pixel just outside, of a curved edge
    CHECK(at(R"(,"soften":3,"levels":[0.4,0.5,1])", 68) ==
          Approx(std::clamp((edge - 0.4F) / 0.1F, 0.0F, 1.0F)).margin(1e-4));
    CHECK(at(R"(,"soften":3,"levels":[0,1,2])", 68) == Approx(std::sqrt(edge)).margin(1e-5));
    // On a node within another, and of what depends on the picture.
    CHECK(whereOf(frame(), R"({"not":{"any":[)" + std::string(kDisc) +
                               R"(,"grow":10}]}})")(77, 48, 0) == 0.0F);
    CHECK(whereOf(frame(), R"({"by":"luminance","from":0.1,"grow":4,"soften":2})")(5, 5, 0) ==
          1.0F);
}

TEST_CASE("growing by a large disc stays round", "[where]") {
    PassSet set = test::greyFrame(300, 300);
    const Image mask =
        whereOf(set, R"({"by":"ellipse","centre":[150,150],"radii":[3,3],"soft":0,"grow":100})");
    for (const float degrees : {0.0F, 20.0F, 45.0F, 67.0F, 90.0F, 200.0F}) {
        const float angle = degrees * 0.0174533F;
        const auto in = [&](float radius) {
            return mask(static_cast<int>(150.0F + radius * std::cos(angle)),
                        static_cast<int>(150.0F + radius * std::sin(angle)), 0);
        };
        INFO(degrees);
        CHECK(in(98.0F) == 1.0F);
        CHECK(in(107.0F) == 0.0F);
    }
}

TEST_CASE("a step changes the picture by its Where, exactly at both ends", "[where]") {
    const Image out = finished(
        frame(),
        recipeOf(
            R"({"step":"grade","settings":{"exposure":1},"where":{"by":"depth","from":40.5,"soft":20}})"));
    CHECK(out(5, 5, 0) == 0.5F);
    CHECK(out(40, 5, 0) == Approx(0.75F));
    CHECK(out(90, 5, 0) == 1.0F);
    // The luminance of the step's input, not of the file's picture.
    const Image second = finished(
        frame(),
        recipeOf(
            R"({"step":"grade","settings":{"exposure":1}},)"
            R"({"step":"grade","settings":{"exposure":-10},"where":{"by":"luminance","from":0.8}})"));
    CHECK(second(5, 5, 0) == Approx(1.0F / 1024.0F));
    // A step that takes whole pictures has its Where, too.
    const Image lens = finished(
        frame(),
        recipeOf(
            R"({"step":"depth_of_field","settings":{"focus":1,"lens":"radius","radius":9},"where":{"not":{}}})"));
    CHECK(test::sameBits(lens, frame().passes[0].image));
}

TEST_CASE("fused or not, edited or not, with any threads, a Where gives the same bits", "[where]") {
    const Recipe recipe = recipeOf(
        R"({"step":"grade","id":"a","settings":{"exposure":0.4},"where":{"by":"depth","from":20,"soft":30}},)"
        R"({"step":"grade","id":"b","settings":{"gamma":1.3},"where":{"by":"luminance","from":0.55,"soft":0.2,"soften":3}},)"
        R"({"step":"grade","id":"c","settings":{"saturation":0.3},"blend":"screen","amount":0.6,"where":{"any":[)" +
        std::string(kDisc) + R"(},{"by":"depth","to":9}]}})");
    EvaluateOptions apart;
    apart.fused = false;
    const Image separate = finished(frame(), recipe, apart);
    CHECK(test::sameBits(finished(frame(), recipe), separate));
    for (const char* id : {"a", "b", "c"}) {
        EvaluateOptions editing;
        editing.editing = id;
        CHECK(test::sameBits(finished(frame(), recipe, editing), separate));
    }
}

TEST_CASE("a Where can be shared by name", "[where]") {
    const std::string wheres =
        R"(,"wheres":{"far":{"by":"depth","from":40},"deep":{"all":[{"same_as":"far"}]}})";
    CHECK(whereOf(frame(), R"({"same_as":"deep"})", wheres)(50, 3, 0) == 1.0F);
    CHECK(whereOf(frame(), R"({"same_as":"deep"})", wheres)(5, 3, 0) == 0.0F);
    CHECK(whereOf(frame(), R"({"same_as":"far","grow":20})", wheres)(30, 3, 0) == 1.0F);
}

TEST_CASE("an unknown criterion or a circle of names keeps its step from running, never everywhere",
          "[where]") {
    for (const auto& [where, wheres] :
         {std::pair<std::string, std::string>{R"({"by":"mood"})", ""},
          {R"({"all":[{"by":"depth","to":4},{"by":"mood"}]})", ""},
          {R"({"by":"depth","to":"far"})", ""},
          {R"({"same_as":"nowhere"})", ""},
          {R"({"same_as":"a"})",
           R"(,"wheres":{"a":{"same_as":"b"},"b":{"not":{"same_as":"a"}}})"}}) {
        INFO(where);
        const Recipe recipe = recipeOf(
            R"({"step":"grade","id":"g","settings":{"exposure":1},"where":)" + where + "}", wheres);
        CHECK(problemsOf(recipe, stepCatalogue()).contains("g"));
        CHECK_THROWS_WITH(finished(frame(), recipe), Catch::Contains("Grade"));
        std::string reported;
        EvaluateOptions options;
        options.problem = [&](const std::string& id, const std::string&) { reported = id; };
        CHECK(test::sameBits(finished(frame(), recipe, options), frame().passes[0].image));
        CHECK(reported == "g");
        // Saved as it was.
        const Json saved = recipeToJson(recipe, stepCatalogue());
        const Json again = recipeToJson(recipeFromJson(saved, stepCatalogue()), stepCatalogue());
        CHECK(saved == again);
        CHECK(saved["steps"][0]["where"].dump().find(
                  where.find("mood") != std::string::npos ? "mood" : where.substr(2, 5)) !=
              std::string::npos);
    }
}

TEST_CASE("every kind of Where survives being written and read", "[where][json]") {
    for (const CriterionType& type : stepCatalogue().criteria()) {
        Where where = stepCatalogue().newCriterion(type.id);
        where.refinement.grow = -2.0F;
        where.refinement.soften = 3.0F;
        where.refinement.gamma = 2.0F;
        for (const Preset& preset : type.presets) {
            where.settings = settingsWith(type, preset.values);
            INFO(whereToJson(where).dump());
            CHECK(whereFromJson(whereToJson(where), stepCatalogue()) == where);
        }
    }
}

TEST_CASE("a Where nested beyond reason is refused, not followed", "[where][json]") {
    std::string where = "{}";
    for (int i = 0; i < 200; ++i)
        where = R"({"not":)" + where + "}";
    const Recipe recipe = recipeOf(R"({"step":"fog","id":"f","where":)" + where + "}");
    CHECK(problemsOf(recipe, stepCatalogue()).at("f").find("nested") != std::string::npos);
}
