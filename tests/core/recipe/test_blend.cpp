#include "core/recipe/blend.h"

#include <cmath>
#include <vector>

#include <limits>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

float one(Blend blend, float before, float after, float amount = 1.0F) {
    blendRow(blend, amount, nullptr, &before, &after, 1);
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
            blendRow(info.blend, 0.7F, nullptr, before.data(), after.data(), count);
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

TEST_CASE("a mask is exact at both ends and mixes between", "[recipe][blend]") {
    for (const BlendInfo& info : blends()) {
        INFO(info.id);
        std::vector<float> mask(37, 0.0F);
        mask[1] = 1.0F;
        mask[2] = 0.5F;
        const std::vector<float> before(37, 0.3F);
        std::vector<float> after(37, 0.6F);
        after[3] = std::numeric_limits<float>::infinity();
        blendRow(info.blend, 1.0F, mask.data(), before.data(), after.data(), mask.size());
        CHECK(after[0] == 0.3F);
        CHECK(after[3] == 0.3F);  // nothing of it gets in, not even as a number that is none
        CHECK(after[1] == Approx(one(info.blend, 0.3F, 0.6F)).margin(1e-6));
        CHECK(after[2] == Approx(0.5F * (0.3F + after[1])).margin(1e-6));
        CHECK(after[36] == 0.3F);
    }
}
