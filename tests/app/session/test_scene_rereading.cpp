#include "app/window/note_bar.h"
#include "support/hills.h"
#include "support/stop_button.h"
#include "support/surveyed.h"

#include <fstream>

using namespace noctis;
using namespace noctis::test;

// A scene whose file changes while it is open.

namespace {

constexpr int kChangesSettleMs = 600;

struct Rereading : Surveyed {
    /// Another post, so many metres tall.
    void rewrite(double tall) {
        QTest::qWait(20);  // another time of writing
        const std::string top = std::to_string(tall);
        yardFile(folder, "o tower\nv 2 0 -3\nv 3 0 -3\nv 3 " + top + " -3\nv 2 " + top +
                             " -3\nf 13 14 15 16\n");
    }
    [[nodiscard]] bool offered() { return window.notes().isVisible(); }
    void readAgain() {
        QTest::mouseClick(window.notes().findChild<QPushButton*>("note-action"), Qt::LeftButton);
    }
    [[nodiscard]] float height() { return boundsOf(session.scene()->scene).max.y; }
};

}  // namespace

TEST_CASE("a scene that changes on disk is offered, and stays shown until the new one is read",
          "[app][scene-file]") {
    Rereading o;
    REQUIRE_FALSE(o.offered());
    const QImage before = o.room.view().grab().toImage();
    o.rewrite(4.5);
    REQUIRE(waitFor([&] { return o.offered(); }));
    CHECK(o.window.notes().text().contains("changed"));
    CHECK(o.height() < 4.0F);
    CHECK(o.room.view().grab().toImage() == before);
    const View view = o.session.view();
    o.readAgain();
    CHECK(o.session.scene() != nullptr);
    REQUIRE(waitFor([&] { return o.height() > 4.0F; }));
    CHECK(o.session.view() == view);
    o.settle();
    CHECK(o.room.view().grab().toImage() != before);
    QTest::qWait(kChangesSettleMs);
    CHECK_FALSE(o.offered());
}

TEST_CASE("a scene that changes again before it is read is offered no second time",
          "[app][scene-file]") {
    Rereading o;
    o.rewrite(4.5);
    REQUIRE(waitFor([&] { return o.offered(); }));
    o.rewrite(5.5);
    o.readAgain();
    REQUIRE(waitFor([&] { return o.height() > 5.0F; }));
    QTest::qWait(kChangesSettleMs);
    CHECK_FALSE(o.offered());
    o.rewrite(6.5);
    REQUIRE(waitFor([&] { return o.offered(); }));
    CHECK(o.height() < 6.0F);
}

TEST_CASE("a scene that was damaged on disk is named, and the one that was read stays",
          "[app][scene-file]") {
    Rereading o;
    std::ofstream(o.folder / "yard.obj") << "no scene at all";
    REQUIRE(waitFor([&] { return o.offered(); }));
    o.readAgain();
    REQUIRE(waitFor([&] { return o.window.notes().text().contains("yard.obj"); }));
    CHECK(o.height() > 2.9F);
}

TEST_CASE("a large scene is named while it is read, can be stopped, and read after all",
          "[app][scene-file]") {
    const Folder folder;
    const auto path = hillsFile(folder, 600);
    MainWindow window(folder / "data");
    window.resize(1280, 800);
    window.show();
    window.open({path});
    REQUIRE(waitFor([&] { return window.notes().isVisible(); }));
    QPushButton* stop = stopButtonIn(window.notes());
    REQUIRE(stop != nullptr);
    QTest::mouseClick(stop, Qt::LeftButton);
    REQUIRE(waitFor([&] { return !window.session().loadingScene(); }));
    CHECK(window.session().scene() == nullptr);
    CHECK(window.notes().text().contains("hills.obj wasn't read"));
    window.session().reloadScene();
    REQUIRE(waitFor([&] { return window.session().scene() != nullptr; }));
    CHECK(triangleCount(window.session().scene()->scene) == 720'000);
    CHECK(stopButtonIn(window.notes()) == nullptr);
}
