#include "core/image/safe_write.h"

#include "core/image/error.h"
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

TEST_CASE("a folder that is not there is told by name", "[image][files]") {
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

TEST_CASE("folders are made with those above them, or it is told which can't be",
          "[image][files]") {
    const Folder folder;
    makeFolder(folder / "a" / "b");
    makeFolder(folder / "a" / "b");
    writeTextFile(folder / "a" / "b" / "c.txt", "text");
    CHECK_THROWS_WITH(makeFolder(folder / "a" / "b" / "c.txt" / "d"),
                      Catch::Contains("c.txt/d: the folder can't be made"));
}
