#include "app/session/pass_reader.h"

#include "app/picture/picture_room.h"
#include "app/window/main_window.h"
#include "app/window/note_bar.h"
#include "core/image/error.h"
#include "core/passes/pass_file.h"
#include "support/files.h"
#include "support/stop_button.h"
#include "support/windows.h"

#include <QPushButton>
#include <QTest>

#include <catch2/catch.hpp>

#include <atomic>
#include <thread>

using namespace noctis;
using namespace noctis::test;

namespace {

PassSet beautyOf(float value) {
    PassSet set;
    Pass beauty;
    beauty.name = "beauty";
    beauty.kind = PassKind::Beauty;
    beauty.image = Image(32, 18, {"R", "G", "B"}, value);
    set.put(std::move(beauty));
    return set;
}

/// What was done, in order.
struct Log {
    PassReader reader;
    QStringList done;

    [[nodiscard]] PassReader::Request request(const QString& what, const QString& once = {}) {
        return {what,
                [this, what]() -> PassReader::Work {
                    done << "begin " + what;
                    return [this, what](const RunContext&) -> PassReader::Apply {
                        return [this, what] { done << "apply " + what; };
                    };
                },
                [this](const QString& text) { done << "failed: " + text; }, once};
    }
    /// Reads until it is stopped.
    [[nodiscard]] PassReader::Request endless(std::atomic<bool>& ended) {
        PassReader::Request slow = request("slow");
        slow.begin = [this, &ended]() -> PassReader::Work {
            return [this, &ended](const RunContext& run) -> PassReader::Apply {
                run.report(0.25F);
                while (!run.stopped())
                    std::this_thread::sleep_for(std::chrono::milliseconds(2));
                ended = true;
                return [this] { done << "apply slow"; };
            };
        };
        return slow;
    }
    void settle() {
        REQUIRE(waitFor([&] { return !reader.running(); }));
    }
};

}  // namespace

TEST_CASE("requests are read one after another, each begun when its turn comes", "[pass-reader]") {
    Log log;
    log.reader.ask(log.request("a"));
    log.reader.ask(log.request("b"));
    CHECK(log.done == QStringList{"begin a"});
    CHECK(log.reader.what() == "a");
    log.settle();
    CHECK(log.done == QStringList{"begin a", "apply a", "begin b", "apply b"});
    CHECK(log.reader.what().isEmpty());
}

TEST_CASE("what is to be read once waits only once", "[pass-reader]") {
    Log log;
    log.reader.ask(log.request("a", "again"));
    log.reader.ask(log.request("b", "again"));
    log.reader.ask(log.request("c", "other"));
    log.settle();
    CHECK(log.done == QStringList{"begin a", "apply a", "begin c", "apply c"});
    log.reader.ask(log.request("d", "again"));
    log.settle();
    CHECK(log.done.last() == "apply d");
}

TEST_CASE("an error wherever it arises is said, and the next request goes on", "[pass-reader]") {
    Log log;
    PassReader::Request begin = log.request("begin");
    begin.begin = []() -> PassReader::Work { throw Error(ErrorCode::BadFile, "at the start"); };
    PassReader::Request work = log.request("work");
    work.begin = []() -> PassReader::Work {
        return [](const RunContext&) -> PassReader::Apply {
            throw Error(ErrorCode::BadFile, "while reading");
        };
    };
    PassReader::Request apply = log.request("apply");
    apply.begin = []() -> PassReader::Work {
        return [](const RunContext&) -> PassReader::Apply {
            return [] { throw Error(ErrorCode::BadFile, "with the result"); };
        };
    };
    for (const auto& request : {begin, work, apply, log.request("z")})
        log.reader.ask(request);
    log.settle();
    CHECK(log.done == QStringList{"failed: at the start", "failed: while reading",
                                  "failed: with the result", "begin z", "apply z"});
}

TEST_CASE("stopping drops what is read and what waits; what is asked then is read",
          "[pass-reader]") {
    Log log;
    std::atomic<bool> ended = false;
    log.reader.ask(log.endless(ended));
    log.reader.ask(log.request("waits"));
    REQUIRE(waitFor([&] { return log.reader.done() == 0.25F; }));
    log.reader.stop();
    log.reader.ask(log.request("next"));
    log.settle();
    CHECK(ended);
    CHECK(log.done == QStringList{"begin next", "apply next"});
}

TEST_CASE("a result may stop the reader and ask for more", "[pass-reader]") {
    Log log;
    PassReader::Request first = log.request("first");
    first.begin = [&]() -> PassReader::Work {
        return [&](const RunContext&) -> PassReader::Apply {
            return [&] {
                log.reader.stop();  // drops "waits"
                log.reader.ask(log.request("again"));
                log.reader.ask(log.request("last"));
                log.done << "applied";
            };
        };
    };
    log.reader.ask(first);
    log.reader.ask(log.request("waits"));
    log.settle();
    CHECK(log.done ==
          QStringList{"applied", "begin again", "apply again", "begin last", "apply last"});
}

TEST_CASE("files that take long to read are named at the foot of the window, and stopped there",
          "[pass-reader][app]") {
    const Folder folder;
    writePasses(folder / "shot.exr", beautyOf(0.5F));
    MainWindow window(folder / "data");
    window.show();
    Log log;
    std::atomic<bool> ended = false;
    window.session().reader().ask(log.endless(ended));
    CHECK_FALSE(window.notes().isVisible());  // what is quick says nothing
    REQUIRE(waitFor([&] { return window.notes().isVisible(); }));
    QPushButton* stop = stopButtonIn(window.notes());
    REQUIRE(stop != nullptr);
    CHECK(window.notes().grab().width() > 0);
    // Files that are dropped meanwhile wait, and are dropped with it.
    window.open({folder / "shot.exr"});
    QTest::mouseClick(stop, Qt::LeftButton);
    REQUIRE(waitForReading(window.session()));
    CHECK(ended);
    CHECK(window.session().passes().empty());
    CHECK_FALSE(window.notes().isVisible());
    // And the window goes on.
    REQUIRE(openAndRead(window, {folder / "shot.exr"}));
    CHECK(window.session().passes().width == 32);
    CHECK(window.picture().isVisible());
}

TEST_CASE("the picture follows files that change faster than they are read", "[pass-reader]") {
    const Folder folder;
    const auto named = [&](int i) { return folder / ("f.000" + std::to_string(i) + ".exr"); };
    for (int i = 1; i <= 4; ++i)
        writePasses(named(i), beautyOf(0.1F * static_cast<float>(i)));
    Session session(folder / "data");
    REQUIRE(openAndRead(session, {named(1)}));
    const Project before = session.project();
    for (int i = 2; i <= 4; ++i)
        session.goTo(i);
    REQUIRE(waitFor([&] { return !session.readingFrame(); }));
    CHECK(session.passes().find(PassKind::Beauty)->image(3, 3, 0) == Approx(0.4F).epsilon(1e-3));
    CHECK(session.project() == before);  // the frame shown is no part of the document
}
