#include "core/steps/registry.h"

#include "core/image/error.h"
#include "core/recipe/evaluator.h"
#include "support/files.h"

#include <cmath>
#include <set>

#include <catch2/catch.hpp>

using namespace noctis;

// What holds for every step there is.

TEST_CASE("every step is declared whole", "[steps][registry]") {
    std::set<std::string> ids;
    for (const StepType& type : stepCatalogue().types()) {
        INFO(type.id);
        CHECK(ids.insert(type.id).second);
        CHECK_FALSE(type.label.empty());
        CHECK(type.help.ends_with("."));
        CHECK((type.point != nullptr) != (type.area != nullptr));
        CHECK(type.reads != nullptr);
        CHECK_FALSE(type.presets.empty());
        std::set<std::string> parameters;
        for (const Parameter& parameter : type.parameters) {
            INFO(parameter.id);
            CHECK(parameters.insert(parameter.id).second);
            CHECK_FALSE(parameter.label.empty());
            CHECK(parameter.help.ends_with("."));
            CHECK_NOTHROW(checkedValue(parameter, parameter.initial));
            if (parameter.isNumber()) {
                CHECK(parameter.range.min < parameter.range.max);
                CHECK(parameter.range.sliderEnd <= parameter.range.max);
            }
            CHECK_NOTHROW(isShown(parameter, type.parameters, initialSettings(type.parameters)));
        }
    }
    CHECK_THROWS_AS(stepCatalogue().type("nothing"), Error);
}

TEST_CASE("every preset can be laid on", "[steps][registry]") {
    for (const StepType& type : stepCatalogue().types())
        for (const Preset& preset : type.presets) {
            INFO(type.id << ": " << preset.label);
            CHECK_NOTHROW(settingsWith(type, preset.values));
            CHECK_FALSE(type.summary(settingsWith(type, preset.values)).empty());
        }
}

TEST_CASE("a handle moved on the depth axis stands where it was moved to", "[steps][registry]") {
    for (const StepType& type : stepCatalogue().types())
        for (const DepthHandle& handle : type.lane.handles) {
            INFO(type.id << ": " << handle.label);
            Settings settings = initialSettings(type.parameters);
            const float target = handle.at(settings) * 1.3F + 0.5F;
            const bool before = handle.label == "sharp from";
            const float wanted = before ? handle.at(settings) * 0.7F : target;
            handle.moveTo(settings, wanted);
            CHECK(handle.at(settings) == Approx(wanted).epsilon(0.01));
            handle.moveTo(settings, 1e9F);
            handle.moveTo(settings, 0.0F);
            for (std::size_t i = 0; i < settings.size(); ++i)
                CHECK_NOTHROW(checkedValue(type.parameters[i], settings[i]));
            CHECK(std::isfinite(type.lane.strength(settings, 10.0F)));
        }
}

TEST_CASE("every step survives a picture of one pixel, infinities and non-numbers",
          "[steps][registry]") {
    const float odd[] = {0.5F, 0.0F, -3.0F, 1e30F, kNothingHit, std::nanf("")};
    for (const StepType& type : stepCatalogue().types())
        for (const float value : odd) {
            PassSet set;
            for (const PassKind kind : {PassKind::Beauty, PassKind::Depth, PassKind::Occlusion}) {
                Pass pass;
                pass.name = passKindInfo(kind).id;
                pass.kind = kind;
                pass.image = Image(1, 1, passKindInfo(kind).channels,
                                   kind == PassKind::Beauty ? 0.5F : value);
                set.put(pass);
            }
            Recipe recipe;
            recipe.steps.push_back(stepCatalogue().newStep(type.id));
            Evaluator evaluator(stepCatalogue());
            evaluator.setPasses(set);
            const Image out = evaluator.evaluate(recipe);
            INFO(type.id << " at " << value);
            CHECK(std::isfinite(out(0, 0, 0)));
        }
}
