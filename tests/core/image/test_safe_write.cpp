#include "core/image/safe_write.h"

#include "core/image/error.h"
#include "core/image/image_file.h"
#include "support/files.h"

#include <fstream>

#include <catch2/catch.hpp>

using namespace noctis;
using test::Folder;

TEST_CASE("a file appears whole or not at all", "[image][files]") {
    const Folder folder;
    writeTextFile(folder / "a.txt", "first");
    CHECK(readTextFile(folder / "a.txt") == "first");
    writeTextFile(folder / "a.txt", "second");
    CHECK(readTextFile(folder / "a.txt") == "second");
    CHECK(folder.count() == 1);
}

TEST_CASE("what fails half way leaves the old file and nothing beside it", "[image][files]") {
    const Folder folder;
    writeTextFile(folder / "a.txt", "kept");
    CHECK_THROWS_WITH(writeThenRename(folder / "a.txt",
                                      [](const std::filesystem::path& beside) {
                                          std::ofstream(beside) << "half";
                                          throw Error(ErrorCode::FileAccess, "the disk is full");
                                      }),
                      "the disk is full");
    CHECK(readTextFile(folder / "a.txt") == "kept");
    CHECK(folder.count() == 1);
}

TEST_CASE("while a file is written its name still holds the old one", "[image][files]") {
    const Folder folder;
    writeTextFile(folder / "a.txt", "old");
    std::filesystem::path written;
    writeThenRename(folder / "a.txt", [&](const std::filesystem::path& beside) {
        written = beside;
        std::ofstream(beside) << "new";
        CHECK(readTextFile(folder / "a.txt") == "old");
    });
    CHECK(written.parent_path() == folder.path());
    CHECK(written != folder / "a.txt");
    CHECK(readTextFile(folder / "a.txt") == "new");
    CHECK_FALSE(std::filesystem::exists(written));
}

TEST_CASE("what can't be written is known before the work", "[image][files]") {
    const Folder folder;
    folder.write("a.txt", "kept");
    CHECK_NOTHROW(requireWritable(folder / "new.txt"));
    CHECK_NOTHROW(requireWritable(folder / "a.txt"));
    CHECK_THROWS_WITH(requireWritable(folder / "none" / "a.txt"), Catch::Contains("doesn't exist"));
    CHECK_THROWS_WITH(requireWritable(folder / "a.txt" / "b.txt"),
                      Catch::Contains("doesn't exist"));
    CHECK_THROWS_WITH(requireWritable(folder.path()), Catch::Contains("a folder has this name"));
    CHECK_THROWS_WITH(requireWritable(folder / std::string(300, 'x')), Catch::Contains("too long"));
    CHECK(readTextFile(folder / "a.txt") == "kept");
    CHECK(folder.count() == 1);
    CHECK_THROWS_WITH(requireImageTarget(folder / "a.jpg"), Catch::Contains(".jpg"));
    CHECK_THROWS_WITH(requireImageTarget(folder / "none" / "a.png"),
                      Catch::Contains("doesn't exist"));
    CHECK_NOTHROW(requireImageTarget(folder / "a.PNG"));
}

TEST_CASE("a folder that is not there is named", "[image][files]") {
    const Folder folder;
    try {
        writeTextFile(folder / "none" / "a.txt", "text");
        FAIL("nothing was thrown");
    } catch (const Error& error) {
        CHECK(error.code() == ErrorCode::FileAccess);
        CHECK(std::string(error.what()).find("a.txt") != std::string::npos);
    }
    CHECK_THROWS_AS(readTextFile(folder / "none.txt"), Error);
}

TEST_CASE("folders are made with those above them, or the one that can't be is named",
          "[image][files]") {
    const Folder folder;
    makeFolder(folder / "a" / "b");
    makeFolder(folder / "a" / "b");
    writeTextFile(folder / "a" / "b" / "c.txt", "text");
    CHECK_THROWS_WITH(makeFolder(folder / "a" / "b" / "c.txt" / "d"),
                      Catch::Contains("c.txt/d: the folder can't be made"));
}

TEST_CASE("a full disk is reported, and the old file stays", "[image][files]") {
    const Folder folder;
    const Image small = test::ramp(40, 30, {"R", "G", "B"});
    const Image large = test::ramp(300, 200, {"R", "G", "B"});
    for (const std::string name : {"a.png", "a.tif", "a.exr", "parts.exr", "a.txt"}) {
        const auto write = [&](const Image& image) {
            FilePart part;
            part.image = image;
            part.name = "one";
            part.type = name == "a.png" ? SampleType::Short : SampleType::Float;
            FilePart other = part;
            other.name = other.layer = "two";
            if (name == "a.txt")
                writeTextFile(folder / name, std::string(image.bytes(), 'x'));
            else if (name == "parts.exr")
                writeImageFile(folder / name, {part, other});
            else
                writeImageFile(folder / name, {part});
        };
        write(large);
        const auto whole = std::filesystem::file_size(folder / name);
        write(small);
        const std::string before = readTextFile(folder / name);
        // Every level of free space, down to the last byte but one.
        for (unsigned level = 0; level <= 11; ++level) {
            const auto space = level == 11 ? whole - 1 : whole * level / 11;
            const test::FullDisk full(space);
            INFO(name << " with " << space << " of " << whole << " bytes free");
            try {
                write(large);
                FAIL_CHECK("nothing was thrown");
            } catch (const Error& error) {
                CHECK(error.code() == ErrorCode::FileAccess);
                CHECK_THAT(error.what(), Catch::Contains(name) && Catch::Contains("free some"));
            }
        }
        CHECK(readTextFile(folder / name) == before);
    }
    CHECK(folder.count() == 5);
}

TEST_CASE("a picture never replaces what it is made from, by whatever name", "[image][files]") {
    const Folder folder;
    writeTextFile(folder / "a.exr", "x");
    std::filesystem::create_symlink(folder / "a.exr", folder / "link.exr");
    CHECK_THROWS_WITH(requireNoInput(folder / "link.exr", {folder / "b.exr", folder / "a.exr"}),
                      Catch::Contains("choose another name"));
    CHECK_NOTHROW(requireNoInput(folder / "c.exr", {folder / "a.exr", ""}));
}
