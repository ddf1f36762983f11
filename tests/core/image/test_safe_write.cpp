#include "core/image/safe_write.h"

#include "core/image/error.h"
#include "core/image/image_file.h"
#include "support/files.h"

#include <array>
#include <set>

#include <catch2/catch.hpp>
#include <sys/wait.h>
#include <unistd.h>

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
                                      [](OutputFile& file) {
                                          file.writeAt(0, "half", 4);
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
    writeThenRename(folder / "a.txt", [&](OutputFile& file) {
        written = file.part();
        file.writeAt(0, "new", 3);
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
                CHECK_THAT(error.what(),
                           Catch::Contains(name) && Catch::Contains("free some space"));
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
    const std::vector<std::filesystem::path> inputs{folder / "b.exr", folder / "a.exr", ""};
    CHECK_THROWS_WITH(requireNoInput({folder / "c.exr", folder / "link.exr"}, inputs),
                      Catch::Contains("link.exr") && Catch::Contains("choose another name"));
    CHECK_NOTHROW(requireNoInput({folder / "c.exr"}, inputs));
    // One that isn't there yet, by a roundabout name, and the sidecar of one.
    CHECK_THROWS_AS(requireNoInput({folder.path() / "." / "b.exr"}, inputs), Error);
    CHECK_THROWS_AS(requireNoInput({folder / "a.exr.json"}, inputs), Error);
}

TEST_CASE("a remedy is named that helps", "[image][files]") {
    const Folder folder;
    CHECK_THROWS_WITH(requireWritable(folder / "none" / "a.txt"),
                      Catch::EndsWith("(the folder doesn't exist); choose another folder"));
    CHECK_THROWS_WITH(requireWritable(folder / std::string(300, 'x')),
                      Catch::EndsWith("choose another name"));
}

TEST_CASE("files written together come together or not at all", "[image][files]") {
    const Folder folder;
    writeTextFile(folder / "a.txt", "old");
    const auto fails = [](OutputFile& file) {
        file.writeAt(0, "half", 4);
        throw Error(ErrorCode::FileAccess, "the disk is full");
    };
    CHECK_THROWS_AS(writeTogether({{folder / "a.txt", textWriter("new")},
                                   {folder / "b.txt", textWriter("new")},
                                   {folder / "c.txt", fails}}),
                    Error);
    CHECK(readTextFile(folder / "a.txt") == "old");
    CHECK(folder.count() == 1);
    // The last one can't be put in place: a folder takes its name meanwhile.
    const auto blocks = [&](OutputFile& file) {
        std::filesystem::create_directories(folder / "c.txt" / "d");
        file.writeAt(0, "new", 3);
    };
    CHECK_THROWS_AS(writeTogether({{folder / "a.txt", textWriter("new")},
                                   {folder / "b.txt", textWriter("new")},
                                   {folder / "c.txt", blocks}}),
                    Error);
    CHECK(readTextFile(folder / "a.txt") == "old");
    CHECK_FALSE(std::filesystem::exists(folder / "b.txt"));
    writeTogether({{folder / "a.txt", textWriter("new")}, {folder / "b.txt", textWriter("new")}});
    CHECK(readTextFile(folder / "a.txt") == "new");
    CHECK(readTextFile(folder / "b.txt") == "new");
    CHECK(folder.count() == 3);
}

TEST_CASE("parts have names that can't be known, and are short", "[image][files]") {
    const Folder folder;
    const std::string longest(255, 'n');
    std::set<std::filesystem::path> parts;
    for (int i = 0; i < 8; ++i)
        writeThenRename(folder / longest, [&](OutputFile& file) {
            parts.insert(file.part());
            file.writeAt(0, "text", 4);
        });
    CHECK(parts.size() == 8);
    CHECK(readTextFile(folder / longest) == "text");
}

TEST_CASE("what a process left when it was killed is removed by the next that writes there",
          "[image][files]") {
    const Folder folder;
    std::array<int, 2> ready{};
    REQUIRE(::pipe(ready.data()) == 0);
    const ::pid_t child = ::fork();
    if (child == 0) {
        const OutputFile half(folder / "a.txt");
        (void)!::write(ready[1], "x", 1);
        ::pause();
        ::_exit(0);
    }
    char byte = 0;
    REQUIRE(::read(ready[0], &byte, 1) == 1);
    CHECK(folder.count() == 1);
    const auto leftBy = [&](const char* name) {
        // The parts of a folder are looked for once by each process.
        if (const ::pid_t other = ::fork(); other == 0) {
            writeTextFile(folder / name, "text");
            ::_exit(0);
        } else {
            ::waitpid(other, nullptr, 0);
        }
        return folder.count();
    };
    CHECK(leftBy("b.txt") == 2);  // who writes the other one still lives
    ::kill(child, SIGKILL);
    ::waitpid(child, nullptr, 0);
    CHECK(leftBy("b.txt") == 1);
}
