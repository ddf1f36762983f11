#include "core/settings/value_type.h"
#include "core/steps/registry.h"

#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;

// What instruments rely on, for every step and criterion that has handles or a lane.

namespace {

std::vector<const Declaration*> declarations() {
    std::vector<const Declaration*> all;
    for (const StepType& type : stepCatalogue().types())
        all.push_back(&type);
    for (const CriterionType& type : stepCatalogue().criteria())
        all.push_back(&type);
    return all;
}

void checkRanges(const Declaration& type, const Settings& settings) {
    for (const auto& [id, value] : settings)
        CHECK_NOTHROW(checkedValue(parameterNamed(type.parameters, id), value));
}

/// With both ends of every span closed and places set, so that its handles stand somewhere.
Settings closed(const Declaration& type) {
    Settings settings = initialSettings(type.parameters);
    for (const Parameter& parameter : type.parameters)
        if (parameter.type == ValueType::Span)
            settings.set(parameter.id, Span{4.0F, 9.0F});
        else if (parameter.type == ValueType::Places)
            settings.set(parameter.id, PlaceList{V2f(0, 0), V2f(9, 0), V2f(9, 9), V2f(0, 9)});
    if (settings.find("distance") != nullptr)  // what can stand at a distance does
        settings.set("distance", 12.0F);
    return settings;
}

}  // namespace

TEST_CASE("a lane's strength is a part of one at every distance", "[steps][lanes]") {
    for (const Declaration* type : declarations()) {
        if (!type->hasLane())
            continue;
        const auto strength = type->lane.strength(initialSettings(type->parameters), {});
        for (const float metres : {0.001F, 0.5F, 3.0F, 40.0F, 1e5F}) {
            INFO(type->id << " at " << metres << " m");
            CHECK(strength(metres) >= 0.0F);
            CHECK(strength(metres) <= 1.0F);
        }
    }
}

TEST_CASE("a distance stands where it was dragged, and its settings stay in range",
          "[steps][lanes]") {
    for (const Declaration* type : declarations())
        for (const Handle& handle : type->handles) {
            if (handle.kind != HandleKind::Distance)
                continue;
            INFO(type->id << ", " << handle.label);
            const Settings start = closed(*type);
            const float from = std::get<float>(handle.at(start, {}));
            REQUIRE(std::isfinite(from));
            // An end of a span stops at its middle, so one of the two ways may be closed.
            int followed = 0;
            for (const float target : {from * 1.2F, from * 0.8F}) {
                Settings moved = start;
                handle.moveTo(moved, target, {});
                const float to = std::get<float>(handle.at(moved, {}));
                followed += std::abs(to - target) < 0.02F * target ? 1 : 0;
                CHECK((to - from) * (target - from) >= 0.0F);
            }
            CHECK(followed >= 1);
            Settings settings = start;
            for (const float metres : {-5.0F, 0.0F, 1e9F, std::nanf("")}) {
                handle.moveTo(settings, metres, {});
                CHECK(std::isfinite(std::get<float>(handle.at(settings, {}))));
                checkRanges(*type, settings);
            }
        }
}

TEST_CASE("points and places stand where they were dragged", "[steps][lanes]") {
    for (const Declaration* type : declarations())
        for (const Handle& handle : type->handles) {
            INFO(type->id << ", " << handle.label);
            Settings settings = initialSettings(type->parameters);
            if (handle.kind == HandleKind::Place) {
                handle.moveTo(settings, V2f(12.0F, -3.0F), {});
                CHECK(std::get<V2f>(handle.at(settings, {})) == V2f(12.0F, -3.0F));
            } else if (handle.kind == HandleKind::Lobe) {
                handle.moveTo(settings, 0.5F, {});
                CHECK(std::get<float>(handle.at(settings, {})) == 0.5F);
                CHECK(handle.along(settings, {}).length() == Approx(1.0F));
                handle.moveTo(settings, -7.0F, {});
            } else if (handle.kind != HandleKind::Distance) {
                handle.moveTo(settings, V3f(1.0F, 2.0F, 3.0F), {});
                CHECK(std::get<V3f>(handle.at(settings, {})) == V3f(1.0F, 2.0F, 3.0F));
            }
            checkRanges(*type, settings);
        }
}

TEST_CASE("presets are values their steps accept, and say something", "[steps][presets]") {
    for (const Declaration* type : declarations())
        for (const Preset& preset : type->presets) {
            INFO(type->id << ", " << preset.label);
            CHECK_FALSE(preset.values.empty());
            const Settings settings = settingsWith(*type, preset.values);
            CHECK(settings.size() == type->parameters.size());
            checkRanges(*type, settings);
        }
}

TEST_CASE("a step's line says what it does to the frame it is shown on", "[steps][lanes]") {
    const StepType& type = stepCatalogue().type("depth_of_field");
    Settings settings = initialSettings(type.parameters);
    ShownFrame wide;
    wide.camera.yfovRadians = 1.0F;
    ShownFrame narrow = wide;
    narrow.camera.yfovRadians = 0.3F;
    CHECK_THAT(type.summary(settings, wide), Catch::Contains("mm"));
    CHECK(type.summary(settings, wide) != type.summary(settings, narrow));
    settings.set("lens", std::string("physical"));
    CHECK(type.summary(settings, wide) == type.summary(settings, narrow));
}
