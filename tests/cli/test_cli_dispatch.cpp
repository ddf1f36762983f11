#include "core/image/image_file.h"
#include "core/passes/pass_file.h"
#include "support/cli.h"
#include "support/files.h"
#include "support/frames.h"

#include <catch2/catch.hpp>

using namespace noctis;
using test::Folder;
using test::run;

namespace {

std::string frameIn(const Folder& folder) {
    PassSet set;
    set.put(test::passOf({PassKind::Beauty, {}}, 40, 30,
                         [](int x, int, int) { return 0.01F * static_cast<float>(x); }));
    set.put(test::passOf({PassKind::Depth, {}}, 40, 30, [](int x, int, int) {
        return x < 30 ? 1.0F + static_cast<float>(x) : kNothingHit;
    }));
    writePasses(folder / "frame.exr", set);
    return (folder / "frame.exr").string();
}

}  // namespace

TEST_CASE("export writes a pass between two typed distances, which is read back in metres",
          "[cli][dispatch]") {
    const Folder folder;
    const std::string frame = frameIn(folder);
    const std::string grey = (folder / "grey.png").string();
    CHECK(run({"export", frame, "--pass", "depth", "--normalise", "2,22", "--bright", "near",
               "--bits", "16", "-o", grey})
              .status == 0);
    const FileInfo info = readFileInfo(grey);
    const Image stored = readFileChannels(info, {0});
    CHECK(stored(1, 5, 0) == 1.0F);  // 2 m
    CHECK(stored(11, 5, 0) == Approx(0.5F).margin(1e-4));
    CHECK(stored(29, 5, 0) == 0.0F);  // 30 m
    CHECK(stored(35, 5, 0) == 0.0F);  // nothing
    const PassSet read = readPasses({grey});
    CHECK(read.passes.front().image(11, 5, 0) == Approx(12.0F).margin(20.0 / 65535.0));
    const std::string far = (folder / "far.exr").string();
    CHECK(run({"export", frame, "--pass", "depth", "--normalise", "2,22", "-o", far}).status == 0);
    CHECK(readFileChannels(readFileInfo(far), {0})(35, 5, 0) == 1.0F);
    CHECK(run({"export", frame, "--pass", "depth", "-o", (folder / "m.exr").string()}).status == 0);
    CHECK(readPasses({folder / "m.exr"}).passes.front().image(11, 5, 0) == 12.0F);
    CHECK(run({"export", frame, "--pass", "fog", "-o", grey}).status == 2);
    CHECK(run({"export", frame, "--pass", "depth", "--normalise", "9,2", "-o", grey}).status != 0);
    CHECK(run({"export", frame, "--pass", "depth", "-o", frame}).status != 0);
}

TEST_CASE("finish crops, then resizes, then lays bars", "[cli][dispatch]") {
    const Folder folder;
    const std::string frame = frameIn(folder);
    const std::string recipe =
        folder.write("none.json", R"({"format":"noctis-recipe","version":2,"steps":[]})").string();
    const std::string out = (folder / "out.exr").string();
    CHECK(run({"finish", "--recipe", recipe, "--passes", frame, "--crop", "10,4,20,20", "--size",
               "10", "--letterbox", "2", "--bits", "32", "-o", out})
              .status == 0);
    const Image picture = readPicture(out);
    REQUIRE(picture.width() == 10);
    REQUIRE(picture.height() == 10);
    CHECK(picture(0, 5, 0) == Approx(0.105F));
    CHECK(picture(0, 1, 0) == 0.0F);
    CHECK(run({"finish", "--recipe", recipe, "--passes", frame, "--crop", "30,4,20,20", "-o", out})
              .status != 0);
    CHECK(
        run({"finish", "--recipe", recipe, "--passes", frame, "--size", "big", "-o", out}).status !=
        0);
}

TEST_CASE("run runs a saved job, keeps what it has written, and takes a share", "[cli][dispatch]") {
    const Folder folder;
    frameIn(folder);
    folder.write("p.noctis",
                 R"({"format":"noctis-project","version":1,"pass_files":["frame.exr"]})");
    const std::string job =
        folder
            .write("job.json",
                   R"({"format":"noctis-job","version":1,"id":"j","kind":"finished","project":
"p.noctis","frames":[1,4],"to":"out/{project}_{frame}.png","settings":{"bits":8}})")
            .string();
    const test::Outcome first = run({"run", job, "--part", "1/2"});
    INFO(first.err);
    CHECK(first.status == 0);
    CHECK(std::filesystem::exists(folder / "out/p_0002.png"));
    CHECK_FALSE(std::filesystem::exists(folder / "out/p_0003.png"));
    const test::Outcome rest = run({"run", job});
    CHECK(rest.status == 0);
    CHECK(rest.err.find("kept 2 of 4 frames") != std::string::npos);
    CHECK(std::filesystem::exists(folder / "out/p_0004.png"));
    CHECK(run({"run", job, "--part", "3/2"}).status != 0);
    CHECK(run({"run", (folder / "p.noctis").string()}).status == 3);
}
