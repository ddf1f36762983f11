#include "core/recipe/blend.h"

#include <cmath>
#include <vector>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

float one(Blend blend, float before, float after, float amount = 1.0F) {
    blendRow(blend, amount, &before, &after, 1);
    return after;
}

}  // namespace

TEST_CASE("blend modes have their usual values", "[recipe][blend]") {
    CHECK(one(Blend::Normal, 0.2F, 0.7F) == 0.7F);
    CHECK(one(Blend::Add, 0.2F, 0.7F) == Approx(0.9F));
    CHECK(one(Blend::Subtract, 0.7F, 0.2F) == Approx(0.5F));
    CHECK(one(Blend::Subtract, 0.2F, 0.7F) == 0.0F);
    CHECK(one(Blend::Multiply, 0.2F, 0.7F) == Approx(0.14F));
    CHECK(one(Blend::Divide, 0.2F, 0.5F) == Approx(0.4F));
    CHECK(one(Blend::Screen, 0.2F, 0.7F) == Approx(0.76F));
    CHECK(one(Blend::Overlay, 0.2F, 0.7F) == Approx(0.28F));
    CHECK(one(Blend::Overlay, 0.8F, 0.5F) == Approx(0.8F));
    CHECK(one(Blend::SoftLight, 0.4F, 0.5F) == Approx(0.4F));
    CHECK(one(Blend::Lighten, 0.2F, 0.7F) == 0.7F);
    CHECK(one(Blend::Darken, 0.2F, 0.7F) == 0.2F);
    CHECK(one(Blend::Difference, 0.2F, 0.7F) == Approx(0.5F));
}

TEST_CASE("bright light is not darkened by screen or soft light", "[recipe][blend]") {
    CHECK(one(Blend::Screen, 40.0F, 0.5F) == 40.0F);
    CHECK(one(Blend::SoftLight, 40.0F, 0.1F) == 40.0F);
}

TEST_CASE("the amount runs from before to after in every mode", "[recipe][blend]") {
    for (const BlendInfo& info : blends()) {
        const float full = one(info.blend, 0.3F, 0.6F);
        CHECK(one(info.blend, 0.3F, 0.6F, 0.0F) == Approx(0.3F));
        CHECK(one(info.blend, 0.3F, 0.6F, 0.25F) == Approx(0.3F + (full - 0.3F) * 0.25F));
    }
}

TEST_CASE("rows of any length come out as single pixels do", "[recipe][blend]") {
    for (const BlendInfo& info : blends())
        for (const std::size_t count : {1U, 3U, 16U, 17U, 61U}) {
            std::vector<float> before;
            std::vector<float> after;
            for (std::size_t i = 0; i < count; ++i) {
                before.push_back(0.05F * static_cast<float>(i));
                after.push_back(1.3F - 0.02F * static_cast<float>(i));
            }
            const std::vector<float> original = after;
            blendRow(info.blend, 0.7F, before.data(), after.data(), count);
            for (std::size_t i = 0; i < count; ++i)
                CHECK(after[i] ==
                      Approx(one(info.blend, before[i], original[i], 0.7F)).margin(1e-6));
        }
}

TEST_CASE("modes are found by their ids", "[recipe][blend]") {
    for (const BlendInfo& info : blends())
        CHECK(blendNamed(blendId(info.blend)) == info.blend);
    CHECK_FALSE(blendNamed("burn it"));
}
