#include "app/dispatch/dispatch_form.h"
#include "app/dispatch/dispatch_room.h"
#include "app/dispatch/queue_card.h"
#include "app/dispatch/queue_list.h"
#include "app/picture/picture_room.h"
#include "app/window/main_window.h"
#include "core/image/safe_write.h"
#include "core/passes/frame_name.h"
#include "core/passes/pass_file.h"
#include "support/files.h"
#include "support/frames.h"
#include "support/windows.h"
#include "support/yard.h"

#include <QComboBox>
#include <QImage>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTest>

#include <catch2/catch.hpp>

using namespace noctis;
using namespace noctis::test;

namespace {

constexpr int kWide = 160;
constexpr int kHigh = 90;

PassSet frameOf(float grey) {
    PassSet set = greyFrame(kWide, kHigh, grey);
    set.put(passOf({PassKind::Depth, {}}, kWide, kHigh,
                   [](int x, int, int) { return 2.0F + 0.05F * static_cast<float>(x); }));
    return set;
}

/// Dispatch in a real window, worked by mouse and keys.
struct Dispatched {
    Folder folder;
    Folder data;
    std::unique_ptr<MainWindow> window;

    explicit Dispatched(int frames = 1) {
        for (int i = 1; i <= frames; ++i)
            writePasses(fileOf(i, frames), frameOf(0.02F * static_cast<float>(i)));
        start();
        REQUIRE(openAndRead(*window, {fileOf(1, frames)}));
        QTest::keyClick(window.get(), Qt::Key_F5);
        REQUIRE(&window->room() == &room());
        settle();
    }
    [[nodiscard]] std::filesystem::path fileOf(int frame, int frames) const {
        return frames == 1 ? folder / "frame.exr" : fileOfFrame(folder / "shot.####.exr", frame);
    }
    void start() {
        window = std::make_unique<MainWindow>(data.path());
        window->resize(1280, 800);
        window->show();
    }
    [[nodiscard]] DispatchRoom& room() { return window->dispatch(); }
    void settle() {
        REQUIRE(waitFor([&] { return room().settled(); }));
    }
    template <typename Widget> Widget& in(const char* name) {
        auto* widget = room().findChild<Widget*>(QLatin1String(name));
        INFO(name);
        REQUIRE(widget != nullptr);
        return *widget;
    }
    void choose(const char* what) {
        QTest::mouseClick(&in<QWidget>(what), Qt::LeftButton);
        settle();
    }
    /// Picks an entry of a box with the keyboard.
    void pick(const char* name, const QString& entry) {
        auto& box = in<QComboBox>(name);
        REQUIRE(box.isVisible());
        const int at = box.findText(entry);
        REQUIRE(at >= 0);
        box.setFocus();
        for (int guard = 0; box.currentIndex() != at && guard < 20; ++guard)
            QTest::keyClick(&box, box.currentIndex() < at ? Qt::Key_Down : Qt::Key_Up);
        settle();
    }
    void type(const char* name, const QString& text) {
        auto& line = in<QLineEdit>(name);
        REQUIRE(line.isVisible());
        line.setFocus();
        line.selectAll();
        QTest::keyClicks(&line, text);
        QTest::keyClick(&line, Qt::Key_Return);
        settle();
    }
    void tick(const char* list, int row) {
        auto& view = in<QListWidget>(list);
        REQUIRE(view.isVisible());
        view.setFocus();
        view.setCurrentRow(row);
        QTest::keyClick(&view, Qt::Key_Space);
        settle();
    }
    void add() { QTest::mouseClick(&in<QPushButton>("add to queue"), Qt::LeftButton); }
    [[nodiscard]] std::vector<QueuedJob> jobs() { return window->queue().jobs().jobs(); }
    bool allDone() {
        return waitFor([&] {
            const auto all = jobs();
            return !all.empty() && std::ranges::all_of(all, [](const QueuedJob& q) {
                return q.stage == JobStage::Done || q.stage == JobStage::Failed;
            });
        });
    }
    QString firstFile() { return in<QListWidget>("files").item(0)->text(); }
};

}  // namespace

TEST_CASE("the finished picture is seen as its file will hold it, queued and written",
          "[app][dispatch]") {
    Dispatched d;
    CHECK(d.room().chosen() == "finished");
    CHECK(d.firstFile() == "frame finished.png");
    CHECK(d.room().headSize() == "160 × 90");
    d.pick("file format", "TIFF");
    CHECK(d.firstFile() == "frame finished.tif");
    d.pick("bit depth", "8 bits");
    d.type("size", "80");
    CHECK(d.room().headSize() == "80 × 45");
    d.type("letterbox", "2");
    // What stands under the pointer is what the file will hold: a bar, then the grey as seen.
    const auto& view = d.room().written();
    const auto valuesAt = [&](double x, double y) {
        const QRectF frame = view.frame();
        return view.valuesAt({frame.left() + frame.width() * x, frame.top() + frame.height() * y});
    };
    CHECK(valuesAt(0.5, 0.02).contains("R 0.0000"));
    d.type("letterbox", "");
    const QString middle = valuesAt(0.5, 0.5);
    d.add();
    REQUIRE(d.allDone());
    const auto file = d.folder / "frame finished.tif";
    REQUIRE(std::filesystem::exists(file));
    const Image stored = readFileChannels(readFileInfo(file), {0, 1, 2});
    CHECK(stored.width() == 80);
    CHECK(middle.contains(QString::number(static_cast<double>(stored(40, 22, 0)), 'f', 2)));
    // It exists now, and is marked.
    CHECK(waitFor([&] { return d.firstFile().contains("exists"); }));
    // What can't be read is said, and nothing is queued.
    d.type("name", "{nothing}.tif");
    CHECK(d.in<QLabel>("name example").text().contains("{nothing}"));
    CHECK_FALSE(d.in<QPushButton>("add to queue").isEnabled());
    CHECK(d.jobs().size() == 1);
}

TEST_CASE("depth goes out as greys between two distances, and comes back in metres",
          "[app][dispatch]") {
    Dispatched d;
    d.choose("out passes");
    CHECK(d.firstFile() == "frame passes.exr");
    d.pick("packing", "a file each");
    d.type("name", "{project} {pass}.png");
    CHECK(d.in<QListWidget>("files").count() == 2);
    d.tick("passes", 0);  // beauty goes
    CHECK(d.firstFile() == "frame depth.png");
    d.pick("distances", "as greys, near is bright");
    d.in<QDoubleSpinBox>("near end").setFocus();
    for (const auto& [name, value] : {std::pair("near end", "2"), std::pair("far end", "10")}) {
        auto& box = d.in<QDoubleSpinBox>(name);
        box.setFocus();
        box.selectAll();
        QTest::keyClicks(&box, value);
        QTest::keyClick(&box, Qt::Key_Return);
    }
    d.settle();
    CHECK(d.room().written().preview().values(0, 10, 0) == Approx(1.0F).margin(1e-4));
    d.add();
    REQUIRE(d.allDone());
    const PassSet read = readPasses({d.folder / "frame depth.png"});
    REQUIRE(read.find(PassKind::Depth) != nullptr);
    CHECK(read.find(PassKind::Depth)->image(100, 40, 0) == Approx(7.0F).margin(8.0 / 65535.0));
}

TEST_CASE("a print's menu sets up that pass alone", "[app][dispatch]") {
    Dispatched d;
    QTest::keyClick(d.window.get(), Qt::Key_F3);
    auto* print = d.window->picture().findChild<QAbstractButton*>("depth");
    REQUIRE(waitFor([&] {
        print = d.window->picture().findChild<QAbstractButton*>("depth");
        return print != nullptr;
    }));
    bool taken = false;
    QTimer::singleShot(50, [&] {
        if (auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget())) {
            menu->actions().front()->trigger();
            taken = true;
            menu->close();
        }
    });
    QContextMenuEvent asked(QContextMenuEvent::Keyboard, {5, 5}, print->mapToGlobal(QPoint(5, 5)));
    QApplication::sendEvent(print, &asked);
    REQUIRE(taken);
    CHECK(&d.window->room() == &d.room());
    d.settle();
    CHECK(d.room().form().job().settings.passes == std::vector<std::string>{"depth"});
    CHECK(d.firstFile() == "frame depth.exr");
}

TEST_CASE("a queue that is stopped by closing the window goes on in the next one",
          "[app][dispatch]") {
    constexpr int kFrames = 30;
    Dispatched d(kFrames);
    d.choose("out sequence");
    CHECK(d.in<QListWidget>("files").count() == kFrames);
    d.type("size", "1500");  // so that a frame takes a while
    d.add();
    REQUIRE(waitFor([&] { return d.jobs().front().state.written >= 2; }));
    REQUIRE(d.room().queueList().cards().size() == 1);
    d.window->close();
    d.window.reset();
    const auto last = d.folder / "shot frames/shot.0030.exr";
    CHECK_FALSE(std::filesystem::exists(last));
    d.start();
    REQUIRE(d.jobs().size() == 1);
    REQUIRE(d.allDone());
    CHECK(d.jobs().front().state.kept >= 2);
    CHECK(std::filesystem::exists(last));
}

TEST_CASE("the queue's cards stop, go on, change places and leave", "[app][dispatch]") {
    Dispatched d(20);
    QTest::mouseClick(&d.in<QPushButton>("pause all"), Qt::LeftButton);
    d.add();
    d.choose("out sequence");
    d.type("size", "1200");
    d.add();
    const auto cards = [&] { return d.room().queueList().cards(); };
    REQUIRE(waitFor([&] { return cards().size() == 2; }));
    const std::string sequence = d.jobs()[1].job.id;
    // With the keyboard, then by dragging it back below the other.
    cards()[1]->setFocus();
    QTest::keyClick(cards()[1], Qt::Key_Up, Qt::AltModifier);
    REQUIRE(waitFor([&] { return cards()[0]->id() == sequence; }));
    QueueCard* card = cards()[0];
    QTest::mousePress(card, Qt::LeftButton, {}, {300, 20});
    QTest::mouseMove(card, {300, 60});
    QTest::mouseMove(card, {300, 95});
    QTest::mouseRelease(card, Qt::LeftButton, {}, {300, 95});
    REQUIRE(waitFor([&] { return cards()[1]->id() == sequence; }));
    QTest::mouseClick(&d.in<QPushButton>("pause all"), Qt::LeftButton);
    REQUIRE(waitFor([&] { return d.jobs()[1].state.written >= 1; }));
    card = cards()[1];
    QTest::mouseClick(card->findChild<QPushButton*>("stop job"), Qt::LeftButton);
    REQUIRE(waitFor([&] { return d.jobs()[1].stage == JobStage::Stopped; }));
    auto* goOn = card->findChild<QPushButton*>("retry job");
    REQUIRE(waitFor([&] { return goOn->isVisible(); }));
    CHECK(goOn->text() == "Go on");
    QTest::mouseClick(goOn, Qt::LeftButton);
    REQUIRE(d.allDone());
    CHECK(std::filesystem::exists(d.folder / "shot frames/shot.0020.exr"));
    QTest::mouseClick(cards()[0]->findChild<QPushButton*>("remove job"), Qt::LeftButton);
    REQUIRE(waitFor([&] { return cards().size() == 1; }));
}

TEST_CASE("a failed frame is named on its card and written when its cause is gone",
          "[app][dispatch]") {
    Dispatched d(4);
    std::filesystem::rename(d.fileOf(3, 4), d.folder / "away.exr");
    d.choose("out sequence");
    d.add();
    REQUIRE(d.allDone());
    QueueCard* card = d.room().queueList().cards().front();
    auto* state = card->findChild<QLabel*>("job state");
    REQUIRE(waitFor([&] { return state->text().contains("frame 3"); }));
    std::filesystem::rename(d.folder / "away.exr", d.fileOf(3, 4));
    QTest::mouseClick(card->findChild<QPushButton*>("retry job"), Qt::LeftButton);
    REQUIRE(waitFor([&] { return d.jobs().front().stage == JobStage::Done; }));
    CHECK(d.jobs().front().state.written == 1);
}

TEST_CASE("settings are kept under a name and used for another project", "[app][dispatch]") {
    Dispatched d;
    d.pick("file format", "TIFF");
    d.type("size", "64");
    const auto inMenu = [&](const std::function<void(QMenu&)>& act) {
        bool done = false;
        QTimer::singleShot(50, [&] {
            if (auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget())) {
                act(*menu);
                done = true;
                menu->close();
            }
        });
        QTest::mouseClick(&d.in<QPushButton>("presets"), Qt::LeftButton);
        REQUIRE(done);
    };
    inMenu([](QMenu& menu) {
        auto* name = menu.findChild<QLineEdit*>("preset name");
        REQUIRE(name != nullptr);
        QTest::keyClicks(name, "small");
        QTest::keyClick(name, Qt::Key_Return);
    });
    d.type("size", "");
    d.pick("file format", "PNG");
    inMenu([](QMenu& menu) {
        REQUIRE(menu.actions().front()->menu() != nullptr);
        menu.actions().front()->menu()->actions().front()->trigger();
    });
    d.settle();
    CHECK(d.room().form().job().settings.picture.framing.longest == 64);
    CHECK(d.firstFile() == "frame finished.tif");
    CHECK(d.room().headSize() == "64 × 36");
}

TEST_CASE("a sheet of views shows what is there and what the job renders", "[app][dispatch]") {
    Folder folder;
    Folder data;
    MainWindow window(data.path());
    window.resize(1280, 800);
    window.show();
    window.session().open({yardFile(folder)});
    REQUIRE(waitFor([&] { return window.session().scene() != nullptr; }));
    window.session().change("views", {}, [](Project& p) {
        p.width = 64;
        p.height = 36;
        p.views = {{"side 1", lookingAt(V3f(0, 1, 4), V3f(0, 1, 0), 0.6F)},
                   {"side 2", lookingAt(V3f(0, 1, 6), V3f(0, 1, 0), 0.6F)}};
        p.passes = {passRequest(PassKind::Beauty)};
        p.passes.back().settings.set("samples", 1.0F);
    });
    QTest::keyClick(&window, Qt::Key_F5);
    DispatchRoom& room = window.dispatch();
    REQUIRE(waitFor([&] { return room.settled(); }));
    auto* sheet = room.findChild<QAbstractButton*>("out sheet");
    REQUIRE(sheet != nullptr);
    QTest::mouseClick(sheet, Qt::LeftButton);
    REQUIRE(waitFor([&] { return room.settled() && !room.written().preview().cells.empty(); }));
    // The sides of one thing are offered, and not the scene's other views.
    CHECK(room.findChild<QListWidget*>("views")->count() > 2);
    CHECK(room.written().preview().cells.size() == 2);
    CHECK(room.written().preview().missing.size() == 2);
    QTest::mouseClick(room.findChild<QPushButton*>("add to queue"), Qt::LeftButton);
    REQUIRE(waitFor([&] {
        const auto jobs = window.queue().jobs().jobs();
        return !jobs.empty() && jobs.front().stage == JobStage::Done;
    }));
    CHECK(std::filesystem::exists(folder / "side sheet.png"));
    CHECK(std::filesystem::exists(folder / "side sheet.json"));
}
