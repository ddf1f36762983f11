#include "core/image/error.h"
#include "core/passes/frame_name.h"
#include "core/project/frame_files.h"
#include "support/files.h"

#include <catch2/catch.hpp>

using namespace noctis;
using test::Folder;

namespace {

Project projectOf(const std::vector<std::filesystem::path>& files) {
    Project project;
    project.passFiles = files;
    return project;
}

}  // namespace

TEST_CASE("the frames of numbered files are those that lie beside them", "[frame-files]") {
    const Folder folder;
    for (const char* name : {"a.0003.exr", "a.0004.exr", "a.0006.exr", "a_z.0003.exr",
                             "a_z.0004.exr", "a_z.0007.exr", "still.exr"})
        (void)folder.write(name, "x");
    const FrameFiles frames = frameFilesOf(
        projectOf({folder / "a.0004.exr", folder / "a_z.0004.exr", folder / "still.exr"}));
    CHECK(frames.isSequence());
    CHECK(frames.named == 4);
    CHECK(frames.first == 3);
    CHECK(frames.last == 7);
    // A frame is there when all of its files are.
    CHECK(frames.there == std::vector{3, 4});
    CHECK(frames.missing() == std::vector{5, 6, 7});
    CHECK(frames.at(12) ==
          std::vector{folder / "a.0012.exr", folder / "a_z.0012.exr", folder / "still.exr"});
}

TEST_CASE("the nearest frame stands in for one that is missing", "[frame-files]") {
    FrameFiles frames;
    CHECK_FALSE(frames.standIn(1).has_value());
    frames.there = {2, 3, 7, 20};
    CHECK(frames.standIn(3) == 3);
    CHECK(frames.standIn(5) == 3);  // of two as near the earlier
    CHECK(frames.standIn(6) == 7);
    CHECK(frames.standIn(-4) == 2);
    CHECK(frames.standIn(400) == 20);
}

TEST_CASE("frames that are numbered by tens have no gaps between", "[frame-files]") {
    const Folder folder;
    for (const char* name : {"b.0010.exr", "b.0020.exr", "b.0040.exr"})
        (void)folder.write(name, "x");
    const FrameFiles frames = frameFilesOf(projectOf({folder / "b.0010.exr"}));
    CHECK(frames.step == 10);
    CHECK(frames.missing() == std::vector{30});
}

TEST_CASE("files of one frame alone are a still, and of two frames, the later stands",
          "[frame-files]") {
    const Folder folder;
    (void)folder.write("c.0010.exr", "x");
    CHECK_FALSE(frameFilesOf(projectOf({folder / "c.0010.exr"})).isSequence());
    CHECK_FALSE(frameFilesOf(projectOf({})).isSequence());
    for (const char* name : {"c.0011.exr", "d.0010.exr", "d.0011.exr"})
        (void)folder.write(name, "x");
    const FrameFiles mixed =
        frameFilesOf(projectOf({folder / "c.0010.exr", folder / "d.0011.exr"}));
    CHECK(mixed.at(11) == std::vector{folder / "c.0011.exr", folder / "d.0011.exr"});
    CHECK(mixed.at(10) == std::vector{folder / "c.0010.exr", folder / "d.0011.exr"});
}

TEST_CASE("numbers that are far apart are those of no sequence", "[frame-files]") {
    const Folder folder;
    for (const char* name : {"shot_1080.exr", "shot_20261201.exr"})
        (void)folder.write(name, "x");
    const FrameFiles frames = frameFilesOf(projectOf({folder / "shot_1080.exr"}));
    CHECK_FALSE(frames.isSequence());
    CHECK(frames.missing().empty());
    CHECK(frames.named == 1);
    CHECK(frames.at(7) == std::vector{folder / "shot_1080.exr"});
}

TEST_CASE("a project's sequence says which frames there are", "[frame-files]") {
    const Folder folder;
    for (const char* name : {"e.01.exr", "e.03.exr", "e.04.exr"})
        (void)folder.write(name, "x");
    Project project = projectOf({});
    project.sequence = Sequence{folder / "e.##.exr", 1, 5, 2, 24.0};
    const FrameFiles frames = frameFilesOf(project);
    CHECK(frames.isSequence());
    CHECK(frames.named == 1);
    CHECK(frames.there == std::vector{1, 3});
    CHECK(frames.missing() == std::vector{5});
    CHECK(frames.at(4) == std::vector{folder / "e.04.exr"});
    // One without files is a still that moves.
    project.sequence = Sequence{{}, 1, 36, 1, 24.0};
    CHECK_FALSE(frameFilesOf(project).isSequence());
    CHECK(frameFilesOf(project).last == 36);
}
