#include "core/recipe/picture_files.h"

#include "core/image/error.h"
#include "core/image/image_file.h"
#include "support/files.h"

#include <chrono>

#include <catch2/catch.hpp>

using namespace noctis;
using test::Folder;

namespace {

void writeGrey(const std::filesystem::path& path, int width, float value) {
    FilePart part;
    part.image = Image(width, 4, {"R", "G", "B"}, value);
    writeImageFile(path, {part});
}

/// As if it had been written later, on file systems that count in seconds, too.
void touchLater(const std::filesystem::path& path) {
    std::filesystem::last_write_time(path, std::filesystem::last_write_time(path) +
                                               std::chrono::seconds(2));
}

}  // namespace

TEST_CASE("a picture is read again when its file has changed, and only then",
          "[recipe][picture-files]") {
    const Folder folder;
    const auto path = folder / "card.exr";
    writeGrey(path, 6, 0.25F);
    PictureFiles files;
    const Image first = files.read(path);
    CHECK(first.width() == 6);
    CHECK(first(0, 0, 1) == 0.25F);
    CHECK(files.read(path).plane(0) == first.plane(0));  // the same pixels, not a copy
    const std::string before = PictureFiles::stampOf(path);
    writeGrey(path, 9, 0.5F);
    touchLater(path);
    CHECK(PictureFiles::stampOf(path) != before);
    CHECK(files.read(path).width() == 9);
    CHECK(files.read(path)(8, 3, 2) == 0.5F);
    CHECK(first(0, 0, 1) == 0.25F);
}

TEST_CASE("a picture that is gone or was never there says so, whatever was read before",
          "[recipe][picture-files]") {
    const Folder folder;
    const auto path = folder / "card.exr";
    PictureFiles files;
    CHECK(PictureFiles::stampOf(path).empty());
    CHECK_THROWS_AS(files.read(path), Error);
    writeGrey(path, 6, 0.25F);
    CHECK(files.read(path).width() == 6);
    std::filesystem::remove(path);
    CHECK_THROWS_AS(files.read(path), Error);
    folder.write("card.exr", "no picture at all");
    CHECK_THROWS_AS(files.read(path), Error);
}

TEST_CASE("a text is set once for each size and wording", "[recipe][picture-files]") {
    PictureFiles files;
    const Image one = files.text("Quay", {}, 40);
    CHECK(files.text("Quay", {}, 40).plane(0) == one.plane(0));
    CHECK(files.text("Quay", {}, 80).height() > one.height());
    CHECK(files.text("Quay side", {}, 40).width() > one.width());
    // However many are typed, each comes out as it was.
    for (int i = 0; i < 100; ++i)
        (void)files.text("Quay " + std::to_string(i), {}, 20);
    const Image again = files.text("Quay", {}, 40);
    REQUIRE(again.sameSize(one));
    for (int y = 0; y < one.height(); ++y)
        for (int x = 0; x < one.width(); ++x)
            REQUIRE(again(x, y, 0) == one(x, y, 0));
}
