// Masks made from passes go through the steps that move light, so that they fit the picture behind them.
#include "core/image/psnr.h"
#include "core/recipe/evaluator.h"
#include "core/recipe/recipe_json.h"
#include "core/recipe/where_json.h"
#include "core/steps/registry.h"
#include "support/files.h"
#include "support/frames.h"
#include "support/worse.h"

#include <algorithm>
#include <cmath>

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

using namespace noctis;
using test::sameBits;

namespace {

constexpr int kWidth = 192;
constexpr int kHeight = 108;

bool isCrate(int x, int y) { return x >= 60 && x < 110 && y >= 40 && y < 90; }

/// Two surfaces: a patterned crate at 3 m before a patterned wall at 30 m.
PassSet crateBeforeWall(bool withAlpha = false) {
    PassSet set;
    Image beauty(kWidth, kHeight, {"R", "G", "B"});
    Image depth(kWidth, kHeight, {"Z"});
    Image alpha(kWidth, kHeight, {"A"}, 1.0F);
    for (int y = 0; y < kHeight; ++y)
        for (int x = 0; x < kWidth; ++x) {
            const auto fx = static_cast<float>(x);
            const auto fy = static_cast<float>(y);
            const bool crate = isCrate(x, y);
            const float pattern = 0.3F + 0.2F * std::sin(fx * (crate ? 0.5F : 0.2F)) *
                                             std::cos(fy * (crate ? 0.3F : 0.15F));
            const LinearRgb tone =
                crate ? LinearRgb{1.0F, 0.5F, 0.2F} : LinearRgb{0.3F, 0.5F, 0.7F};
            beauty.editPlane(0)[beauty.rowStride() * y + x] = tone.r * pattern;
            beauty.editPlane(1)[beauty.rowStride() * y + x] = tone.g * pattern;
            beauty.editPlane(2)[beauty.rowStride() * y + x] = tone.b * pattern;
            depth.editPlane(0)[depth.rowStride() * y + x] = crate ? 3.0F : 30.0F;
            alpha.editPlane(0)[alpha.rowStride() * y + x] = crate ? 1.0F : 0.25F;
        }
    if (withAlpha)
        beauty.append(alpha);
    for (const auto& [kind, image] :
         {std::pair{PassKind::Beauty, beauty}, {PassKind::Depth, depth}}) {
        set.put(test::passOf({kind, {}}, 1, 1, [](int, int, int) { return 0.0F; }));
        set.passes.back().image = image;
    }
    return set;
}

Step step(const std::string& type, const std::string& id,
          std::vector<std::pair<std::string, Value>> values = {}) {
    Step s = stepCatalogue().newStep(type);
    s.id = id;
    s.settings = settingsWith(stepCatalogue().type(type), values);
    return s;
}

Step lens(float focus, float radius, const std::string& id = "lens") {
    return step("depth_of_field", id,
                {{"focus", focus}, {"lens", std::string("radius")}, {"radius", radius}});
}

Where by(const std::string& id, std::vector<std::pair<std::string, Value>> values) {
    Where where = stepCatalogue().newCriterion(id);
    where.settings = settingsWith(stepCatalogue().criterion(id), values);
    return where;
}

Where near() { return whereFromJson({{"by", "depth"}, {"to", 5.0}}, stepCatalogue()); }

Recipe brighterBehind(const std::vector<Step>& before, const Where& where, float stops = 1.0F) {
    Recipe recipe;
    recipe.steps = before;
    recipe.steps.push_back(step("grade", "grade", {{"exposure", stops}}));
    recipe.steps.back().where = where;
    return recipe;
}

Image evaluated(const PassSet& set, const Recipe& recipe) {
    Evaluator evaluator(stepCatalogue());
    evaluator.setPasses(set);
    return evaluator.evaluate(recipe);
}

/// The same with the crate's light multiplied before everything else.
PassSet withBrighterCrate(PassSet set, float gain) {
    Image& picture = set.passes.front().image;
    for (int c = 0; c < 3; ++c)
        for (int y = 0; y < kHeight; ++y)
            for (int x = 0; x < kWidth; ++x)
                if (isCrate(x, y))
                    picture.editPlane(c)[picture.rowStride() * y + x] *= gain;
    return set;
}

}  // namespace

TEST_CASE("a gain on a matte behind the lens is the same gain before it", "[recipe][where][dof]") {
    const PassSet set = crateBeforeWall();
    for (const float focus : {3.0F, 8.0F, 30.0F})
        for (const float radius : {2.0F, 10.0F, 30.0F}) {
            INFO("focus " << focus << " m, radius " << radius << " px");
            Recipe lensOnly;
            lensOnly.steps = {lens(focus, radius)};
            const Image wanted = evaluated(withBrighterCrate(set, 2.0F), lensOnly);
            const Image behind = evaluated(set, brighterBehind({lens(focus, radius)}, near()));
            CHECK(psnrOf(behind, wanted) > 40.0);
        }
    // Three stops brighter, the strong blur of a near thing has no cut-out's rim.
    Recipe lensOnly;
    lensOnly.steps = {lens(30.0F, 20.0F)};
    const Image wanted = evaluated(withBrighterCrate(set, 8.0F), lensOnly);
    const Image behind = evaluated(set, brighterBehind({lens(30.0F, 20.0F)}, near(), 3.0F));
    CHECK(psnrOf(behind, wanted) > 40.0);
}

TEST_CASE("through several lenses a mask goes in their order", "[recipe][where][dof]") {
    const PassSet set = crateBeforeWall();
    const std::vector<Step> lenses{lens(30.0F, 12.0F, "first"), lens(3.0F, 6.0F, "second")};
    Recipe only;
    only.steps = lenses;
    const Image wanted = evaluated(withBrighterCrate(set, 2.0F), only);
    CHECK(psnrOf(evaluated(set, brighterBehind(lenses, near())), wanted) > 40.0);
    // One that is mixed in by half, or works in a part only, carries a mask as far as it moves light.
    std::vector<Step> half = lenses;
    half[0].amount = 0.5F;
    half[1].where = by("ellipse", {{"centre", V2f(90.0F, 60.0F)}});
    only.steps = half;
    const Image wantedOfHalf = evaluated(withBrighterCrate(set, 2.0F), only);
    CHECK(psnrOf(evaluated(set, brighterBehind(half, near())), wantedOfHalf) > 40.0);
}

TEST_CASE("a mask of everything stays one, and of nothing none, alpha and dark parts included",
          "[recipe][where][dof]") {
    PassSet set = crateBeforeWall(true);
    Image& picture = set.passes.front().image;
    for (int c = 0; c < 3; ++c)  // a part without any light
        for (int y = 0; y < kHeight; ++y)
            std::fill_n(picture.editPlane(c) + picture.rowStride() * y, 30, 0.0F);
    const Where all = whereFromJson({{"by", "depth"}, {"from", 0.5}}, stepCatalogue());
    const Where none =
        whereFromJson({{"by", "depth"}, {"from", 500.0}, {"to", 600.0}}, stepCatalogue());
    const std::vector<Step> through{lens(30.0F, 12.0F)};
    const Image everywhere = evaluated(set, brighterBehind(through, {}));
    const Image masked = evaluated(set, brighterBehind(through, all));
    REQUIRE(masked.channels() == 4);
    CHECK(test::mostApart(masked, everywhere) < 1e-4);
    Recipe lensOnly;
    lensOnly.steps = through;
    CHECK(sameBits(evaluated(set, brighterBehind(through, none)), evaluated(set, lensOnly)));
}

TEST_CASE("a mask where there is no light goes through the lens by itself",
          "[recipe][where][dof]") {
    PassSet set = crateBeforeWall();
    Image& picture = set.passes.front().image;
    for (int c = 0; c < 3; ++c)
        std::fill_n(picture.editPlane(c), picture.rowStride() * kHeight, 0.0F);
    Evaluator evaluator(stepCatalogue());
    evaluator.setPasses(set);
    const Image mask = evaluator.where(brighterBehind({lens(30.0F, 1.2F)}, near()), "grade");
    CHECK(mask(85, 65, 0) > 0.99F);
    CHECK(mask(60, 65, 0) == Approx(0.5F).margin(0.06));  // the crate's edge
    CHECK(mask(20, 20, 0) == 0.0F);
}

TEST_CASE("what is drawn or read behind the lens isn't carried through it",
          "[recipe][where][dof]") {
    const PassSet set = crateBeforeWall();
    const Where ellipse = by("ellipse", {{"centre", V2f(90.0F, 60.0F)}});
    const Where bright = whereFromJson({{"by", "luminance"}, {"from", 0.12}}, stepCatalogue());
    Recipe lensOnly;
    lensOnly.steps = {lens(30.0F, 1.2F)};
    const Image blurred = evaluated(set, lensOnly);
    PassSet behind = set;
    behind.passes.front().image = blurred;
    for (const Where& where : {ellipse, bright}) {
        INFO(where.name);
        const Image after = evaluated(set, brighterBehind({lens(30.0F, 1.2F)}, where));
        CHECK(sameBits(after, evaluated(behind, brighterBehind({}, where))));
    }
    // Together with one that is: the least of both.
    Where both;
    both.parts = {near(), ellipse};
    Where softened = both;
    softened.refinement.soften = 2.0F;
    Evaluator evaluator(stepCatalogue());
    evaluator.setPasses(set);
    const auto maskOf = [&](const Where& where) {
        return evaluator.where(brighterBehind({lens(30.0F, 1.2F)}, where), "grade");
    };
    const Image carried = maskOf(near());
    const Image drawn = maskOf(ellipse);
    const Image least = maskOf(both);
    float worst = 0.0F;
    for (int y = 0; y < kHeight; ++y)
        for (int x = 0; x < kWidth; ++x)
            worst = test::worse(worst, least(x, y, 0) - std::min(carried(x, y, 0), drawn(x, y, 0)));
    CHECK(worst < 1e-5F);
    CHECK(maskOf(softened)(85, 65, 0) > 0.9F);
    Where inverted;
    inverted.kind = Where::Kind::Not;
    inverted.parts = {both};
    CHECK(maskOf(inverted)(85, 65, 0) == Approx(1.0F - least(85, 65, 0)).margin(1e-5));
}

TEST_CASE("a carried mask is kept, and made anew only where the lens or the mask changed",
          "[recipe][where][dof]") {
    Evaluator evaluator(stepCatalogue());
    evaluator.setPasses(crateBeforeWall());
    Recipe recipe = brighterBehind({lens(30.0F, 12.0F)}, near());
    const Image first = evaluator.evaluate(recipe);
    (void)evaluator.takeStepCount();
    recipe.steps.back().settings.set("exposure", 2.0F);
    (void)evaluator.evaluate(recipe);
    CHECK(evaluator.takeStepCount() == 1);  // the grade alone
    recipe.steps.back().settings.set("exposure", 1.0F);
    CHECK(sameBits(evaluator.evaluate(recipe), first));
    // From a cold start with another lens it isn't the mask of the former one.
    recipe.steps.front() = lens(3.0F, 12.0F);
    const Image other = evaluator.evaluate(recipe);
    CHECK(sameBits(other, evaluated(crateBeforeWall(), recipe)));
}

TEST_CASE("masks behind the lens are the same bits fused or apart",
          "[recipe][where][dof][threads]") {
    Recipe recipe = brighterBehind({lens(30.0F, 12.0F)}, near());
    Step second = step("grade", "second", {{"saturation", 0.3F}});
    second.where = near();
    second.where.refinement.soften = 3.0F;
    recipe.steps.push_back(second);
    Evaluator evaluator(stepCatalogue());
    evaluator.setPasses(crateBeforeWall(true));
    EvaluateOptions apart;
    apart.fused = false;
    Evaluator other(stepCatalogue());
    other.setPasses(crateBeforeWall(true));
    CHECK(sameBits(evaluator.evaluate(recipe), other.evaluate(recipe, apart)));
}
