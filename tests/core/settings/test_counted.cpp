#include "core/settings/counted.h"

#include <catch2/catch.hpp>

using noctis::counted;

TEST_CASE("counts agree with their nouns", "[settings]") {
    CHECK(counted(0, "sample") == "0 samples");
    CHECK(counted(1, "sample") == "1 sample");
    CHECK(counted(12, "sample") == "12 samples");
}
