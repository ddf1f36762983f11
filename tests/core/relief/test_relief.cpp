#include "core/image/error.h"
#include "core/relief/relief.h"
#include "core/shaping/registry.h"
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

TEST_CASE("shapings run in order, and what is off is left out", "[relief]") {
    Relief relief = greyRelief();
    applyShapingSetting(reliefCatalogue(), relief, "exaggerate.factor=2");
    applyShapingSetting(reliefCatalogue(), relief, "level.by=lowest");
    const HeightField both = worked(relief);
    CHECK(spreadOf(both.heights).lowest == 0.0F);
    CHECK(spreadOf(both.heights).range() == Approx(1.0F).epsilon(0.01));
    CHECK(both.exaggeration == 2.0F);
    relief.shapings[0].on = false;
    CHECK(spreadOf(worked(relief).heights).range() == Approx(0.5F).epsilon(0.01));
}

TEST_CASE("a relief is saved and read as it was", "[relief][json]") {
    Relief relief = greyRelief();
    relief.id = "stone";
    relief.name = "Tide stone ä";
    relief.from.files = {"/data/with space/grey.png"};
    for (const ShapingType& type : reliefCatalogue().shapings)
        relief.shapings.push_back(newShaping(reliefCatalogue(), type.id, relief));
    relief.shapings[1].on = false;
    Where where = stepCatalogue().newCriterion("depth");
    relief.shapings[2].where.parts = {where};
    const auto json = reliefToJson(relief, "/data");
    const Relief again = reliefFromJson(json, reliefCatalogue(), stepCatalogue(), "/data");
    CHECK(again == relief);
    CHECK(json["files"][0] == "with space/grey.png");
    auto broken = json;
    broken["operations"][0]["operation"] = "melt";
    CHECK_THROWS_WITH(reliefFromJson(broken, reliefCatalogue(), stepCatalogue(), "/data"),
                      Catch::Contains("there is no operation melt"));
}

TEST_CASE("a Where limits a shaping, and cuts out", "[relief][where]") {
    Relief relief = greyRelief();
    Shaping flat = newShaping(reliefCatalogue(), "exaggerate", relief);
    flat.settings.set("factor", 0.0F);
    Where near = stepCatalogue().newCriterion("depth");
    near.settings.set("span", Span{0.0F, 50.5F});
    near.settings.set("soft", 0.0F);
    flat.where.parts = {near};
    relief.shapings = {flat};
    const HeightField limited = worked(relief);
    const HeightField plain = worked(greyRelief());
    CHECK(limited.heights(20, 40, 0) == 0.0F);
    CHECK(limited.heights(80, 40, 0) == plain.heights(80, 40, 0));
    Shaping keep = newShaping(reliefCatalogue(), "keep", relief);
    keep.where = flat.where;
    relief.shapings = {keep};
    const HeightField kept = worked(relief);
    CHECK(std::isfinite(kept.heights(20, 40, 0)));
    CHECK(std::isnan(kept.heights(80, 40, 0)));
    relief.shapings[0].settings.set("part", std::string("outside"));
    CHECK(std::isnan(worked(relief).heights(20, 40, 0)));
}

TEST_CASE("while the hand moves the same map comes smaller", "[relief]") {
    Relief relief = greyRelief();
    applyShapingSetting(reliefCatalogue(), relief, "detail.amount=0.5");
    ReliefEvaluator evaluator(reliefCatalogue(), stepCatalogue());
    evaluator.setInput(greyInput());
    const HeightField full = evaluator.evaluate(relief);
    const HeightField small = evaluator.evaluate(relief, 3, relief.shapings[0].id);
    CHECK(small.width() == 40);
    CHECK(small.metresAPixel == Approx(3.0F * full.metresAPixel));
    const HeightField wanted = shrunk(full, 3);
    CHECK(apart(small.heights, wanted.heights) < 0.03 * 0.5);
}

TEST_CASE("settings that are not there are refused by name", "[relief]") {
    Relief relief = greyRelief();
    CHECK_THROWS_WITH(applyShapingSetting(reliefCatalogue(), relief, "melt.amount=1"),
                      Catch::Contains("there is no operation melt; there are level"));
    CHECK_THROWS_WITH(applyShapingSetting(reliefCatalogue(), relief, "level.height=1"),
                      Catch::Contains("height"));
    CHECK_THROWS_WITH(applyShapingSetting(reliefCatalogue(), relief, "level"),
                      Catch::Contains("operation.setting=value"));
    CHECK_THROWS_WITH(newRelief("tea leaves"), Catch::Contains("depth, position, normal or grey"));
}
