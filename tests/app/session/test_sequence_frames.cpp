#include "app/session/sequence_frames.h"
#include "app/session/session.h"
#include "support/files.h"
#include "support/frames.h"
#include "support/windows.h"

#include <catch2/catch.hpp>
#include <fmt/format.h>

using namespace noctis;
using namespace noctis::test;
namespace fs = std::filesystem;

namespace {

constexpr int kWidth = 32;
constexpr int kHeight = 18;

/// Frames whose brightness is a hundredth of their number.
struct Shot {
    Folder folder;

    [[nodiscard]] fs::path file(int frame) const {
        return folder / fmt::format("shot.{:04}.exr", frame);
    }
    void write(int frame, int scale = 1) const {
        writePasses(file(frame),
                    greyFrame(kWidth * scale, kHeight * scale, 0.01F * static_cast<float>(frame)));
    }
    void writeAll(int first, int last) const {
        for (int frame = first; frame <= last; ++frame)
            write(frame);
    }
    [[nodiscard]] SequenceFrames::Source source(int first) const {
        Project project;
        project.passFiles = {file(first)};
        return {frameFilesOf(project), {}};
    }
};

float brightnessOf(const PassSet& set) { return set.find(PassKind::Beauty)->image(3, 3, 0); }

/// A session that shows such frames.
struct Shown {
    Shot shot;
    Session session{shot.folder / "data"};

    void open(int frame) { REQUIRE(openAndRead(session, {shot.file(frame)})); }
    float brightnessAt(int frame) {
        session.goTo(frame);
        REQUIRE(waitFor([&] { return !session.readingFrame(); }));
        return brightnessOf(session.passes());
    }
};

}  // namespace

TEST_CASE("frames are read ahead, those that follow first, round the end", "[sequence]") {
    const Shot shot;
    shot.writeAll(1, 6);
    SequenceFrames frames;
    frames.setSource(shot.source(1));
    std::vector<int> read;
    QObject::connect(&frames, &SequenceFrames::frameRead,
                     [&](int frame) { read.push_back(frame); });
    frames.want(4, 1);
    REQUIRE(waitFor([&] { return read.size() == 6; }));
    CHECK(read == std::vector{4, 5, 6, 1, 2, 3});
    CHECK(frames.kept() == std::vector{1, 2, 3, 4, 5, 6});
    CHECK(brightnessOf(frames.find(5)->passes) == Approx(0.05F).epsilon(1e-3));
}

TEST_CASE("going back, the frames before are read first", "[sequence]") {
    const Shot shot;
    shot.writeAll(1, 5);
    SequenceFrames frames;
    frames.setSource(shot.source(1));
    std::vector<int> read;
    QObject::connect(&frames, &SequenceFrames::frameRead,
                     [&](int frame) { read.push_back(frame); });
    frames.want(3, -1);
    REQUIRE(waitFor([&] { return read.size() == 5; }));
    CHECK(read == std::vector{3, 2, 1, 5, 4});
}

TEST_CASE("what is kept stays within the memory, the farthest goes first", "[sequence]") {
    const Shot shot;
    shot.writeAll(1, 12);
    SequenceFrames frames;
    frames.setSource(shot.source(1));
    const PassSet one = readPasses({shot.file(1)}, {});
    std::size_t each = 0;
    for (const Pass& pass : one.passes)
        each += pass.image.bytes() + pass.raw.bytes();
    REQUIRE(each > 0);
    frames.setMostBytes(4 * each);
    for (const int now : {1, 7, 2}) {
        frames.want(now, 1);
        REQUIRE(waitFor([&] { return frames.find(now + 3) != nullptr && frames.find(now); }));
        CHECK(frames.bytes() <= 4 * each);
        CHECK(frames.kept() == std::vector{now, now + 1, now + 2, now + 3});
    }
}

TEST_CASE("a file that was written anew is read anew", "[sequence]") {
    const Shot shot;
    shot.writeAll(1, 3);
    SequenceFrames frames;
    frames.setSource(shot.source(1));
    frames.want(2, 1);
    REQUIRE(waitFor([&] { return frames.kept().size() == 3; }));
    writePasses(shot.file(2), greyFrame(kWidth, kHeight, 0.7F));
    fs::last_write_time(shot.file(2), fs::last_write_time(shot.file(2)) + std::chrono::seconds(2));
    CHECK(frames.find(2) == nullptr);
    frames.want(2, 1);
    REQUIRE(waitFor([&] { return frames.find(2) != nullptr; }));
    CHECK(brightnessOf(frames.find(2)->passes) == Approx(0.7F).epsilon(1e-3));
}

TEST_CASE("a sequence with holes, another size in the middle and a damaged file is gone through",
          "[sequence]") {
    Shown shown;
    shown.shot.writeAll(1, 9);
    fs::remove(shown.shot.file(4));
    shown.shot.write(6, 2);
    fs::resize_file(shown.shot.file(8), 200);
    shown.open(1);
    QStringList said;
    QObject::connect(&shown.session, &Session::notified,
                     [&](const QString& text, bool) { said << text; });
    const Project before = shown.session.project();
    CHECK(shown.session.frames() == std::pair(1, 9));
    CHECK(shown.brightnessAt(3) == Approx(0.03F).epsilon(1e-3));
    CHECK(shown.brightnessAt(4) == Approx(0.03F).epsilon(1e-3));
    CHECK(shown.session.time().number == 4);
    CHECK(shown.brightnessAt(6) == Approx(0.06F).epsilon(1e-3));
    CHECK(shown.session.passes().width == 2 * kWidth);
    CHECK(shown.brightnessAt(7) == Approx(0.07F).epsilon(1e-3));
    CHECK(shown.session.passes().width == kWidth);
    const float bridged = shown.brightnessAt(8);
    CHECK((bridged == Approx(0.07F).epsilon(1e-3) || bridged == Approx(0.09F).epsilon(1e-3)));
    CHECK(said.filter("Frame 8").size() == 1);
    CHECK(shown.session.sequence().gaps() == std::vector{4, 8});
    CHECK(shown.session.project() == before);
    CHECK_FALSE(shown.session.history().canUndo());
}

TEST_CASE("another reading holds for all frames", "[sequence]") {
    Shown shown;
    shown.shot.writeAll(1, 3);
    shown.open(1);
    (void)shown.brightnessAt(2);
    const std::string key = shown.session.passes().find(PassKind::Beauty)->key;
    PassReading reading;
    reading.kind = PassKind::Colour;
    shown.session.correctReading(key, reading);
    REQUIRE(waitForReading(shown.session));
    CHECK(shown.session.passes().find(PassKind::Beauty) == nullptr);
    shown.session.goTo(3);
    REQUIRE(waitFor([&] { return !shown.session.readingFrame(); }));
    CHECK(shown.session.passes().find(PassKind::Beauty) == nullptr);
    shown.session.undo();
    REQUIRE(waitForReading(shown.session));
    REQUIRE(waitFor([&] { return shown.session.passes().find(PassKind::Beauty) != nullptr; }));
    CHECK(brightnessOf(shown.session.passes()) == Approx(0.03F).epsilon(1e-3));
}

TEST_CASE("a project with a pattern opens at its first frame, and its frames are there",
          "[sequence]") {
    Shown shown;
    shown.shot.writeAll(11, 13);
    const fs::path file = shown.shot.folder.write("walk.noctis",
                                                  R"({"format":"noctis-project","version":1,
            "sequence":{"pattern":"shot.####.exr","first":11,"last":13,"step":1,"rate":12}})");
    REQUIRE(openAndRead(shown.session, {file}));
    CHECK(shown.session.time() == FrameTime{11, 0.0});
    CHECK(brightnessOf(shown.session.passes()) == Approx(0.11F).epsilon(1e-3));
    CHECK(shown.brightnessAt(13) == Approx(0.13F).epsilon(1e-3));
    CHECK(shown.session.time().seconds == Approx(2.0 / 12.0));
}
