#include "core/recipe/result_cache.h"

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

Result resultOf(float value) { return {{"picture", Image::filled(64, 16, 1, value)}}; }

const std::size_t kBytes = Image::filled(64, 16, 1, 0.0F).bytes();

float valueOf(const Result* result) { return result->at("picture")(0, 0, 0); }

}  // namespace

TEST_CASE("results come back by their key, and the first under a key stays", "[recipe][cache]") {
    ResultCache cache(10 * kBytes);
    CHECK(cache.recall(1) == nullptr);
    cache.keep(1, resultOf(0.25F));
    cache.keep(1, resultOf(0.75F));
    REQUIRE(cache.recall(1) != nullptr);
    CHECK(valueOf(cache.recall(1)) == 0.25F);
    cache.clear();
    CHECK(cache.recall(1) == nullptr);
    cache.keep(1, resultOf(0.75F));
    CHECK(valueOf(cache.recall(1)) == 0.75F);
}

TEST_CASE("beyond the budget the result that was used longest ago goes", "[recipe][cache]") {
    ResultCache cache(3 * kBytes);
    for (std::uint64_t key : {1U, 2U, 3U})
        cache.keep(key, resultOf(0.1F * static_cast<float>(key)));
    (void)cache.recall(1);
    cache.keep(4, resultOf(0.4F));
    CHECK(cache.recall(2) == nullptr);
    for (std::uint64_t key : {1U, 3U, 4U})
        CHECK(cache.recall(key) != nullptr);
    // What was cleared takes no room any more.
    cache.clear();
    for (std::uint64_t key : {5U, 6U, 7U})
        cache.keep(key, resultOf(0.5F));
    for (std::uint64_t key : {5U, 6U, 7U})
        CHECK(cache.recall(key) != nullptr);
}

TEST_CASE("the latest result is kept even when it alone is over the budget", "[recipe][cache]") {
    ResultCache cache(kBytes / 2);
    cache.keep(1, resultOf(0.1F));
    REQUIRE(cache.recall(1) != nullptr);
    cache.keep(2, resultOf(0.2F));
    CHECK(cache.recall(1) == nullptr);
    REQUIRE(cache.recall(2) != nullptr);
    CHECK(valueOf(cache.recall(2)) == 0.2F);
}
