#include "core/image/error.h"
#include "core/operations/registry.h"
#include "core/relief/relief.h"
#include "core/steps/registry.h"
#include "support/fields.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

using namespace noctis;
using namespace noctis::test;

namespace {

/// A grey picture of waves, with a matte of an ellipse for Wheres.
ReliefInput greyInput(int width = 120, int height = 90) {
    ReliefInput input;
    input.stored = filledBy(width, height, [](int x, int y) {
        return 0.5F + 25.0F * Waves{}.at(static_cast<float>(x), static_cast<float>(y));
    });
    input.passes.width = width;
    input.passes.height = height;
    Pass depth;
    depth.name = "depth";
    depth.kind = PassKind::Depth;
    depth.image = filledBy(width, height, [](int x, int) {
                      return 1.0F + static_cast<float>(x);
                  }).select({0}, {"Z"});
    input.passes.put(std::move(depth));
    return input;
}

Relief greyRelief() {
    Relief relief = newRelief("grey");
    relief.settings.set("white", 1.0F);
    relief.settings.set("smooth_steps", false);
    return relief;
}

HeightField worked(const Relief& relief) {
    ReliefEvaluator evaluator(reliefCatalogue(), stepCatalogue());
    evaluator.setInput(greyInput());
    return evaluator.evaluate(relief);
}

}  // namespace

TEST_CASE("operations run in order, and what is off is left out", "[relief]") {
    Relief relief = greyRelief();
    applyOperationSetting(reliefCatalogue(), relief, "exaggerate.factor=2");
    applyOperationSetting(reliefCatalogue(), relief, "level.by=lowest");
    const HeightField both = worked(relief);
    CHECK(heightStatisticsOf(both.heights).lowest == 0.0F);
    CHECK(heightStatisticsOf(both.heights).range() == Approx(1.0F).epsilon(0.01));
    CHECK(both.exaggeration == 2.0F);
    relief.operations[0].on = false;
    CHECK(heightStatisticsOf(worked(relief).heights).range() == Approx(0.5F).epsilon(0.01));
}

TEST_CASE("a relief is saved and read as it was", "[relief][json]") {
    Relief relief = greyRelief();
    relief.id = "stone";
    relief.name = "Tide stone ä";
    relief.from.files = {"/data/with space/grey.png"};
    for (const OperationType& type : reliefCatalogue().operations)
        relief.operations.push_back(newOperation(reliefCatalogue(), type.id, relief));
    relief.operations[1].on = false;
    Where where = stepCatalogue().newCriterion("depth");
    relief.operations[2].where.parts = {where};
    const auto json =
        reliefToJson(relief, operationTypes(reliefCatalogue(), stepCatalogue()), "/data");
    const Relief again =
        reliefFromJson(json, operationTypes(reliefCatalogue(), stepCatalogue()), "/data");
    CHECK(again == relief);
    CHECK(json["files"][0] == "with space/grey.png");
}

TEST_CASE("an operation that can't be used is kept as it is, and the others work on",
          "[relief][json]") {
    const StepTypes types = operationTypes(reliefCatalogue(), stepCatalogue());
    Relief relief = greyRelief();
    relief.operations = {newOperation(reliefCatalogue(), "exaggerate", relief)};
    const auto json = reliefToJson(relief, types, {});
    CHECK(json["operations"][0]["version"] == 1);
    for (const char* damaged :
         {R"({"operation":"melt","id":"m","settings":{"heat":[1,{"a":null}]}})",
          R"({"operation":"smooth","version":9})",
          R"({"operation":"smooth","settings":{"warts":1}})",
          R"({"operation":"smooth","amount":0.5})", R"({"step":"smooth"})", "7"}) {
        INFO(damaged);
        auto broken = json;
        broken["operations"].insert(broken["operations"].begin(), nlohmann::json::parse(damaged));
        const Relief read = reliefFromJson(broken, types, {});
        REQUIRE(read.operations.size() == 2);
        CHECK_FALSE(read.operations[0].usable());
        CHECK_FALSE(read.operations[0].problem.empty());
        CHECK(read.operations[1] == relief.operations[0]);
        CHECK(reliefToJson(read, types, {})["operations"][0] == nlohmann::json::parse(damaged));
        CHECK(test::sameBits(worked(read).heights, worked(relief).heights));
    }
}

TEST_CASE("a Where limits an operation, and cuts out", "[relief][where]") {
    Relief relief = greyRelief();
    Step flat = newOperation(reliefCatalogue(), "exaggerate", relief);
    flat.settings.set("factor", 0.0F);
    Where near = stepCatalogue().newCriterion("depth");
    near.settings.set("span", Span{0.0F, 50.5F});
    near.settings.set("soft", 0.0F);
    flat.where.parts = {near};
    relief.operations = {flat};
    const HeightField limited = worked(relief);
    const HeightField plain = worked(greyRelief());
    CHECK(limited.heights(20, 40, 0) == 0.0F);
    CHECK(limited.heights(80, 40, 0) == plain.heights(80, 40, 0));
    Step keep = newOperation(reliefCatalogue(), "keep", relief);
    keep.where = flat.where;
    relief.operations = {keep};
    const HeightField kept = worked(relief);
    CHECK(std::isfinite(kept.heights(20, 40, 0)));
    CHECK(std::isnan(kept.heights(80, 40, 0)));
    relief.operations[0].settings.set("part", std::string("outside"));
    CHECK(std::isnan(worked(relief).heights(20, 40, 0)));
}

TEST_CASE("while the hand moves the same map comes smaller", "[relief]") {
    Relief relief = greyRelief();
    applyOperationSetting(reliefCatalogue(), relief, "detail.amount=0.5");
    ReliefEvaluator evaluator(reliefCatalogue(), stepCatalogue());
    evaluator.setInput(greyInput());
    const HeightField full = evaluator.evaluate(relief);
    const HeightField small = evaluator.evaluate(relief, 3, relief.operations[0].id);
    CHECK(small.width() == 40);
    CHECK(small.metresPerPixel == Approx(3.0F * full.metresPerPixel));
    const HeightField wanted = shrunk(full, 3);
    CHECK(apart(small.heights, wanted.heights) < 0.03 * 0.5);
}

TEST_CASE("settings that are not there are refused by name", "[relief]") {
    Relief relief = greyRelief();
    CHECK_THROWS_WITH(applyOperationSetting(reliefCatalogue(), relief, "melt.amount=1"),
                      Catch::Contains("there is no operation melt; there are level"));
    CHECK_THROWS_WITH(applyOperationSetting(reliefCatalogue(), relief, "level.height=1"),
                      Catch::Contains("height"));
    CHECK_THROWS_WITH(applyOperationSetting(reliefCatalogue(), relief, "level"),
                      Catch::Contains("operation.setting=value"));
    CHECK_THROWS_WITH(newRelief("tea leaves"), Catch::Contains("depth, position, normal or grey"));
}
