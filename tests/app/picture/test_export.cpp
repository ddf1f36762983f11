#include "app/dispatch/dispatch_queue.h"
#include "app/picture/export_panel.h"
#include "app/picture/picture_room.h"
#include "app/window/main_window.h"
#include "app/window/note_bar.h"
#include "core/passes/pass_file.h"
#include "support/files.h"
#include "support/frames.h"
#include "support/windows.h"

#include <QComboBox>
#include <QFileInfo>
#include <QImage>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTest>

#include <catch2/catch.hpp>

using namespace noctis;
using namespace noctis::test;

namespace {

constexpr int kWidth = 160;
constexpr int kHeight = 90;

struct Opened {
    Folder folder;
    Folder data;
    MainWindow window{data.path()};

    explicit Opened(int scale = 1) {
        PassSet set = greyFrame(kWidth * scale, kHeight * scale, 0.2F);
        set.put(passOf({PassKind::Depth, {}}, kWidth * scale, kHeight * scale,
                       [](int x, int, int) { return 1.0F + 0.01F * static_cast<float>(x); }));
        writePasses(folder / "frame.exr", set);
        window.show();
        REQUIRE(openAndRead(window, {folder / "frame.exr"}));
    }
    ExportPanel& panel() { return *window.picture().findChild<ExportPanel*>(); }
    QLineEdit* line() { return panel().findChild<QLineEdit*>(); }
    QPushButton* button() { return panel().findChild<QPushButton*>("export now"); }
    QString state() { return panel().findChild<QLabel*>("export state")->text(); }
    void type(const QString& text) {
        QTest::keyClick(&window, Qt::Key_E, Qt::ControlModifier);
        REQUIRE(panel().isVisible());
        line()->selectAll();
        QTest::keyClicks(line(), text);
    }
    /// Qt's test keyboard has ASCII keys only: a name alone is beside the passes.
    [[nodiscard]] int widthOf(const std::string& name) const {
        return QImage(QString::fromStdString((folder / name).string())).width();
    }
    /// The job that was asked for last ends.
    bool waitUntilDone(JobStage how = JobStage::Done) {
        return waitFor([&] {
            const auto jobs = window.queue().jobs().jobs();
            return !jobs.empty() && jobs.front().stage == how;
        });
    }
};

}  // namespace

TEST_CASE("the picture is exported beside its passes, and a file of that name is announced",
          "[app][export]") {
    Folder folder;
    std::filesystem::path target;
    {
        Opened o;
        o.type("finished.png");
        CHECK(o.state() == "160 × 90 pixels, as the view shows it.");
        QTest::keyClick(o.line(), Qt::Key_Return);
        REQUIRE(o.waitUntilDone());
        CHECK(o.widthOf("finished.png") == kWidth);
        CHECK(waitFor([&] { return o.state().contains("Replaces"); }));

        o.type("finished.exr");
        CHECK(o.state() == "160 × 90 pixels, scene-linear.");
        // Never over what it is made from.
        const auto bytes = std::filesystem::file_size(o.folder / "frame.exr");
        o.type("frame.exr");
        QTest::mouseClick(o.button(), Qt::LeftButton);
        REQUIRE(o.waitUntilDone(JobStage::Failed));
        CHECK(std::filesystem::file_size(o.folder / "frame.exr") == bytes);
    }
}

TEST_CASE("an export goes before what waits, and one that closing interrupted goes on later",
          "[app][export]") {
    Folder folder;
    Folder data;
    const auto target = folder / "last.png";
    PassSet set = greyFrame(kWidth, kHeight, 0.2F);
    writePasses(folder / "frame.exr", set);
    {
        MainWindow window(data.path());
        window.show();
        REQUIRE(openAndRead(window, {folder / "frame.exr"}));
        window.queue().jobs().pause(true);
        for (const char* name : {"first.png", "last.png"}) {
            QTest::keyClick(&window, Qt::Key_E, Qt::ControlModifier);
            auto& panel = *window.picture().findChild<ExportPanel*>();
            panel.findChild<QLineEdit*>()->selectAll();
            QTest::keyClicks(panel.findChild<QLineEdit*>(), name);
            QTest::keyClick(panel.findChild<QLineEdit*>(), Qt::Key_Return);
        }
        const auto jobs = window.queue().jobs().jobs();
        REQUIRE(jobs.size() == 2);
        CHECK(jobs.front().job.to == target);
        CHECK(window.notes().text().contains("paused"));
        window.close();
    }
    CHECK_FALSE(std::filesystem::exists(target));
    MainWindow again(data.path());
    again.queue().jobs().pause(false);
    REQUIRE(waitFor([&] { return std::filesystem::exists(target); }));
    CHECK(QImage(QString::fromStdString(target.string())).width() == kWidth);
}

TEST_CASE("a file that is offered isn't there yet", "[app][export]") {
    Opened o;
    const auto offered = [&] {
        QTest::keyClick(&o.window, Qt::Key_E, Qt::ControlModifier);
        const QString file = QFileInfo(o.line()->text()).fileName();
        QTest::keyClick(o.line(), Qt::Key_Escape);
        return file;
    };
    CHECK(offered() == "frame finished.png");
    o.folder.write("frame finished.png", "there");
    o.folder.write("frame finished 2.png", "too");
    CHECK(offered() == "frame finished 3.png");
    // What was typed stays.
    o.type("mine.png");
    QTest::keyClick(o.line(), Qt::Key_Escape);
    CHECK(offered() == "mine.png");
}

TEST_CASE("another picture is not exported over the one before", "[app][export]") {
    Opened o;
    Folder second;
    PassSet other;
    other.put(passOf({PassKind::Beauty, {}}, 64, 36, [](int, int, int) { return 0.2F; }));
    writePasses(second / "other.exr", other);
    o.type("finished.png");
    o.window.session().openAsNew({second / "other.exr"});
    REQUIRE(waitForReading(o.window.session()));
    CHECK(o.line()->text().isEmpty());
    CHECK_FALSE(o.panel().isVisible());
    QTest::keyClick(&o.window, Qt::Key_E, Qt::ControlModifier);
    CHECK(o.line()->text().toStdString() == (second / "other finished.png").string());
}
