// What is played: frames in real time where they are ready, in order where they aren't.
#include "app/picture/player.h"
#include "app/session/played_pictures.h"
#include "support/windows.h"

#include <QTest>

#include <set>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

struct Played {
    std::set<int> ready;
    bool idle = true;
    std::vector<int> shown;
    Player player{{[this](int frame) { return ready.contains(frame); }, [this] { return idle; },
                   [this](int frame) { shown.push_back(frame); }}};

    explicit Played(std::pair<int, int> frames) {
        player.setFrames(frames);
        player.setRate(200.0);
    }
    void readyAll(int first, int last) {
        for (int frame = first; frame <= last; ++frame)
            ready.insert(frame);
    }
    bool waitForShown(std::size_t count) {
        return test::waitFor([&] { return shown.size() >= count; });
    }
};

}  // namespace

TEST_CASE("frames that aren't ready are played one after the other", "[player]") {
    Played played({3, 6});
    played.player.play(4);
    REQUIRE(played.waitForShown(7));
    played.player.stop();
    played.shown.resize(7);
    CHECK(played.shown == std::vector{4, 5, 6, 3, 4, 5, 6});
    CHECK(played.player.dropped() == 0);
}

TEST_CASE("while a picture is made, no other is asked for", "[player]") {
    Played played({1, 9});
    played.player.play(1);
    played.idle = false;
    QTest::qWait(60);
    CHECK(played.shown == std::vector{1});
    played.idle = true;
    REQUIRE(played.waitForShown(2));
    // What wasn't ready held it up: nothing was left out.
    CHECK(played.shown[1] == 2);
    CHECK(played.player.dropped() == 0);
}

TEST_CASE("ready frames that are late are left out and counted", "[player]") {
    Played played({1, 1000});
    played.readyAll(1, 1000);
    played.player.play(1);
    played.idle = false;  // the window was busy
    QTest::qWait(100);
    played.idle = true;
    REQUIRE(played.waitForShown(2));
    CHECK(played.shown[1] > 10);
    CHECK(played.player.dropped() >= played.shown[1] - 2);
}

TEST_CASE("after the last frame it stops, begins again, or goes back", "[player]") {
    Played played({1, 3});
    bool stopped = false;
    QObject::connect(&played.player, &Player::stopped, [&] { stopped = true; });
    played.player.setAfterLast(AfterLast::Stop);
    played.player.play(1);
    REQUIRE(test::waitFor([&] { return stopped; }));
    CHECK(played.shown == std::vector{1, 2, 3});
    CHECK_FALSE(played.player.playing());

    played.shown.clear();
    played.player.setAfterLast(AfterLast::Backwards);
    played.player.play(3);  // from the last one, it begins anew
    REQUIRE(played.waitForShown(7));
    played.player.stop();
    played.shown.resize(7);
    CHECK(played.shown == std::vector{1, 2, 3, 2, 1, 2, 3});
}

TEST_CASE("a picture that was played is known by all that it was made from", "[player]") {
    PlayedPictures pictures;
    PlayedPictures::Source source;
    source.time = {4, 0.125};
    source.passes = 7;
    source.factor = 3;
    Image picture(5, 3, {"R", "G", "B", "A"}, 0.25F);
    picture.editPlane(1)[picture.rowStride() + 2] = 1000.0F;
    pictures.put(source, picture);
    const auto found = pictures.find(source);
    REQUIRE(found.has_value());
    CHECK(found->width() == 5);
    CHECK(found->channelName(3) == "A");
    CHECK((*found)(2, 1, 1) == 1000.0F);
    CHECK((*found)(2, 2, 0) == 0.25F);
    for (const auto& change : std::vector<std::function<void(PlayedPictures::Source&)>>{
             [](auto& s) { s.recipe.amount = 0.5F; }, [](auto& s) { s.solo = "g"; },
             [](auto& s) { s.time.seconds = 1.0; }, [](auto& s) { s.time.number = 5; },
             [](auto& s) { s.passes = 8; }, [](auto& s) { s.factor = 1; }}) {
        PlayedPictures::Source other = source;
        change(other);
        CHECK_FALSE(pictures.has(other));
        CHECK_FALSE(pictures.find(other).has_value());
    }
}

TEST_CASE("played pictures stay within their memory, the farthest go first", "[player]") {
    PlayedPictures pictures;
    const Image picture(10, 10, {"R", "G", "B"}, 0.5F);
    pictures.setMostBytes(600 * 3);
    for (int frame = 1; frame <= 6; ++frame) {
        PlayedPictures::Source source;
        source.time.number = frame;
        pictures.put(source, picture);
        CHECK(pictures.bytes() <= 600 * 3);
    }
    CHECK(pictures.frames() == std::vector{4, 5, 6});
}
