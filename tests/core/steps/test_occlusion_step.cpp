#include "core/recipe/evaluator.h"
#include "core/steps/occlusion.h"
#include "core/steps/occlusion_row.h"
#include "core/steps/registry.h"

#include <cmath>
#include <limits>
#include <vector>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

Image shaded(const Image& picture, const Image& open,
             const std::vector<std::pair<std::string, Value>>& values) {
    PassSet set;
    Pass beauty;
    beauty.name = "beauty";
    beauty.kind = PassKind::Beauty;
    beauty.image = picture;
    set.put(beauty);
    Pass occlusion;
    occlusion.name = "occlusion";
    occlusion.kind = PassKind::Occlusion;
    occlusion.image = open;
    set.put(occlusion);
    Recipe recipe;
    recipe.steps.push_back(stepCatalogue().newStep("occlusion"));
    recipe.steps[0].settings = settingsWith(stepCatalogue().type("occlusion"), values);
    Evaluator evaluator(stepCatalogue());
    evaluator.setPasses(set);
    return evaluator.evaluate(recipe);
}

}  // namespace

TEST_CASE("open places keep their light and closed ones are shaded by the strength",
          "[steps][occlusion]") {
    const Image out =
        shaded(Image::filled(3, 1, 3, 2.0F), Image::row({1.0F, 0.5F, 0.0F}), {{"strength", 0.6F}});
    CHECK(out(0, 0, 0) == 2.0F);
    CHECK(out(1, 0, 0) == Approx(2.0F * (1.0F - 0.3F)));
    CHECK(out(2, 0, 0) == Approx(2.0F * 0.4F));
}

TEST_CASE("black and white point, gamma and tint follow their formula", "[steps][occlusion]") {
    const OcclusionStepSettings s{
        .strength = 0.9F, .black = 0.2F, .white = 0.8F, .gamma = 1.7F, .tint = {0.3F, 0.2F, 0.1F}};
    Image open(41, 1, {"Y"});
    for (int i = 0; i <= 40; ++i)
        open.editPlane(0)[i] = static_cast<float>(i) / 40.0F;
    const Image out = shaded(
        Image::filled(41, 1, 3, 1.5F), open,
        {{"strength", 0.9F}, {"black", 0.2F}, {"white", 0.8F}, {"gamma", 1.7F}, {"tint", s.tint}});
    for (int i = 0; i <= 40; ++i) {
        CHECK(out(i, 0, 0) == Approx(1.5F * occlusionFactor(open(i, 0, 0), 0.3F, s)).epsilon(1e-5));
        CHECK(out(i, 0, 2) == Approx(1.5F * occlusionFactor(open(i, 0, 0), 0.1F, s)).epsilon(1e-5));
    }
    CHECK(occlusionFactor(0.1F, 0.0F, s) == Approx(0.1F));
    CHECK(occlusionFactor(0.9F, 0.0F, s) == 1.0F);
}

TEST_CASE("brightly lit places are spared on request", "[steps][occlusion]") {
    Image picture = Image::filled(2, 1, 3, 0.01F);
    for (int c = 0; c < 3; ++c)
        picture.editPlane(c)[1] = 1.0F;
    const Image out =
        shaded(picture, Image::filled(2, 1, 1, 0.0F),
               {{"strength", 1.0F}, {"only", std::string("dark")}, {"bright_from", 0.5F}});
    CHECK(out(0, 0, 0) < 0.0001F);
    CHECK(out(1, 0, 0) == 1.0F);
}

TEST_CASE("an openness that is no number keeps its pixel", "[steps][occlusion]") {
    const Image out =
        shaded(Image::filled(1, 1, 3, 0.4F), Image::row({std::numeric_limits<float>::quiet_NaN()}),
               {{"strength", 1.0F}});
    CHECK(out(0, 0, 1) == 0.4F);
}

TEST_CASE("strength 0 leaves every bit as it was", "[steps][occlusion]") {
    const Image out =
        shaded(Image::filled(7, 1, 3, 0.123F), Image::filled(7, 1, 1, 0.3F), {{"strength", 0.0F}});
    for (int i = 0; i < 7; ++i)
        CHECK(out(i, 0, 2) == 0.123F);
}
