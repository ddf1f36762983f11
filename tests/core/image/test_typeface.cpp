#include "core/image/typeface.h"

#include "core/image/error.h"
#include "core/image/shipped.h"
#include "core/image/text_image.h"
#include "support/files.h"

#include <catch2/catch.hpp>

using namespace noctis;
using test::Folder;

namespace {

std::string shippedFont() { return readTextFile(shippedData("fonts/NoctisSans-Medium.otf")); }

}  // namespace

TEST_CASE("text is as wide as its letters, line by line, with any script the font has",
          "[typeface]") {
    const Typeface typeface{std::filesystem::path()};
    const Image one = textImage("H", typeface, 100);
    const Image two = textImage("HH", typeface, 100);
    const Image lines = textImage("H\nH", typeface, 100);
    CHECK(one.height() == Approx(70).margin(8));  // of capitals, at 100 px from line to line
    CHECK(two.width() - one.width() == Approx(typeface.glyph(U'H', 100).advance).margin(1.0));
    CHECK(two.height() == one.height());
    CHECK(lines.height() == one.height() + 100);
    CHECK(lines.width() == one.width());
    // Its stems are solid, what is between them is empty.
    const int middle = one.height() / 4;
    CHECK(one(4, middle, 0) == 1.0F);
    CHECK(one(one.width() / 2, middle, 0) == 0.0F);
    CHECK(textImage("Ö", typeface, 100).height() > textImage("O", typeface, 100).height() + 5);
    CHECK(textImage(" \n ", typeface, 100).empty());
    CHECK_THROWS_AS(textImage(std::string(4000, 'W'), typeface, 100), Error);
}

TEST_CASE("a font is read once, whatever becomes of its file", "[typeface]") {
    const Folder folder;
    const auto path = folder.write("own.otf", shippedFont());
    const Typeface typeface(path);
    const Image before = textImage("Quay", typeface, 64);
    folder.write("own.otf", std::string(shippedFont().size(), '\xff'));  // in place
    CHECK(test::sameBits(textImage("Quay", typeface, 64), before));
    std::filesystem::remove(path);
    CHECK(test::sameBits(textImage("Quay", typeface, 64), before));
}

TEST_CASE("damaged fonts are refused, or drawn as far as they go", "[typeface]") {
    const Folder folder;
    const std::string whole = shippedFont();
    CHECK_THROWS_AS(Typeface(folder.write("a.otf", "no font")), Error);
    CHECK_THROWS_AS(Typeface(folder.write("b.otf", "")), Error);
    CHECK_THROWS_AS(Typeface(folder / "none.otf"), Error);
    for (std::size_t part = 1; part < 8; ++part) {
        std::string damaged = whole.substr(0, whole.size() * part / 8);
        for (std::size_t i = 300 * part; i < damaged.size(); i += 997)
            damaged[i] = static_cast<char>(damaged[i] ^ 0x5a);
        const auto path = folder.write("damaged.otf", damaged);
        try {
            const Typeface typeface(path);
            (void)textImage("Saltern Quay", typeface, 64);
        } catch (const Error& error) {
            CHECK((error.code() == ErrorCode::BadFile || error.code() == ErrorCode::TooLarge));
        }
    }
}
