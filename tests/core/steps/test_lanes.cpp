#include "core/steps/registry.h"

#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;

// What the Sounding relies on, for every step that has a lane.

TEST_CASE("a lane's strength is a part of one at every distance", "[steps][lanes]") {
    for (const StepType& type : stepCatalogue().types()) {
        if (type.lane.handles.empty())
            continue;
        const Settings settings = initialSettings(type.parameters);
        for (const float metres : {0.001F, 0.5F, 3.0F, 40.0F, 1e5F}) {
            INFO(type.id << " at " << metres << " m");
            const float strength = type.lane.strength(settings, metres);
            CHECK(strength >= 0.0F);
            CHECK(strength <= 1.0F);
        }
    }
}

TEST_CASE("a handle stands where it was dragged, and its setting stays in range",
          "[steps][lanes]") {
    for (const StepType& type : stepCatalogue().types())
        for (const DepthHandle& handle : type.lane.handles) {
            INFO(type.id << ", " << handle.label);
            Settings settings = initialSettings(type.parameters);
            const float from = handle.at(settings);
            REQUIRE(std::isfinite(from));
            // An end of a span stops at its middle, so one of the two ways may be closed.
            int followed = 0;
            for (const float target : {from * 1.2F, from * 0.8F}) {
                Settings moved = settings;
                handle.moveTo(moved, target);
                const float to = handle.at(moved);
                followed += std::abs(to - target) < 0.02F * target ? 1 : 0;
                CHECK((to - from) * (target - from) >= 0.0F);
            }
            CHECK(followed >= 1);
            for (const float metres : {-5.0F, 0.0F, 1e9F}) {
                handle.moveTo(settings, metres);
                CHECK(std::isfinite(handle.at(settings)));
                for (std::size_t i = 0; i < settings.size(); ++i)
                    if (type.parameters[i].isNumber())
                        CHECK_NOTHROW(checkedValue(type.parameters[i], settings[i]));
            }
        }
}

TEST_CASE("presets are values their steps accept, and change something", "[steps][presets]") {
    for (const StepType& type : stepCatalogue().types())
        for (const Preset& preset : type.presets) {
            INFO(type.id << ", " << preset.label);
            CHECK_FALSE(preset.values.empty());
            const Settings settings = settingsWith(type, preset.values);
            CHECK(settings.size() == type.parameters.size());
            for (std::size_t i = 0; i < settings.size(); ++i)
                CHECK_NOTHROW(checkedValue(type.parameters[i], settings[i]));
        }
}
