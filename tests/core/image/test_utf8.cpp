#include "core/image/utf8.h"

#include <catch2/catch.hpp>

using namespace noctis;

TEST_CASE("well-formed texts stay, others are read as Latin-1", "[image]") {
    for (const std::string text : {"", "crate", "Körper", "灯台", "\xf0\x9f\x8c\x8a"}) {
        CHECK(isUtf8(text));
        CHECK(asUtf8(text) == text);
    }
    CHECK(asUtf8("K\xf6rper") == "Körper");
    // Cut short, overlong, a surrogate, beyond the last character, a stray middle byte.
    for (const std::string text :
         {"\xc3", "\xc0\xaf", "\xed\xa0\x80", "\xf4\x90\x80\x80", "a\x80"}) {
        CHECK_FALSE(isUtf8(text));
        CHECK(isUtf8(asUtf8(text)));
    }
    CHECK(charactersOf("Kö灯\xf0\x9f\x8c\x8a") == U"Kö灯\U0001f30a");
    CHECK(charactersOf("K\xf6") == U"Kö");
}
