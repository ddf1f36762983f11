#include "app/look/theme.h"
#include "app/picture/picture_room.h"
#include "app/picture/picture_view.h"
#include "app/picture/recipe_panel.h"
#include "app/window/main_window.h"
#include "core/passes/frame_name.h"
#include "core/passes/pass_file.h"
#include "core/steps/registry.h"
#include "support/files.h"
#include "support/windows.h"

#include <QPushButton>
#include <QSpinBox>
#include <QTest>

#include <catch2/catch.hpp>

using namespace noctis;
using namespace noctis::test;

// A render takes the place of another one.

namespace {

constexpr int kWidth = 160;
constexpr int kHeight = 90;

void write(const std::filesystem::path& path, const Image& image) {
    FilePart part;
    part.image = image;
    part.type = SampleType::Byte;
    writeImageFile(path, {part});
}

struct Opened {
    Folder folder;
    Folder data;
    MainWindow window{data.path()};
    Opened() {
        write(folder / "shot.png", Image(kWidth, kHeight, {"R", "G", "B"}, 0.4F));
        write(folder / "shot_z.png", Image(kWidth, kHeight, {"Y"}, 0.5F));
        window.show();
        REQUIRE(openAndRead(window, {folder / "shot.png", folder / "shot_z.png"}));
        REQUIRE(waitFor([&] { return !window.picture().view().picture().isNull(); }));
    }
    PictureView& view() { return window.picture().view(); }
    /// Of the window, at a place of the picture.
    int greyAt(double x, double y) {
        QApplication::processEvents();
        return qGray(view().grab().toImage().pixel(view().fromPicture({x, y}).toPoint()));
    }
    QPushButton* buttonSaying(const QString& text) {
        for (auto* button : window.findChildren<QPushButton*>())
            if (button->text() == text && button->isVisible())
                return button;
        return nullptr;
    }
    void click(const QString& text) {
        QPushButton* button = buttonSaying(text);
        REQUIRE(button != nullptr);
        QTest::mouseClick(button, Qt::LeftButton);
        QApplication::processEvents();
    }
};

}  // namespace

TEST_CASE("a new render in the old place keeps every step, and what differs is said", "[relink]") {
    Opened opened;
    Session& session = opened.window.session();
    opened.window.picture().recipe().addStep("fog");
    QApplication::processEvents();
    write(opened.folder / "new.png", Image(kWidth / 2, kHeight, {"R", "G", "B"}, 0.8F));
    QString reported;
    QObject::connect(&session, &Session::notified, &session,
                     [&](const QString& text, bool) { reported = text; });
    QObject::connect(&session, &Session::relinked, &session,
                     [&](const QString& differs) { reported = differs; });
    session.relink({opened.folder / "new.png"});
    REQUIRE(waitForReading(session));
    CHECK(reported.contains("80 x 90"));
    CHECK(reported.contains("Gone: depth"));
    CHECK(session.passes().width == kWidth / 2);
    CHECK(session.project().recipe.steps.size() == 1);
    session.undo();
    REQUIRE(waitForReading(session));
    CHECK(session.passes().width == kWidth);
    CHECK(session.passes().find(PassKind::Depth) != nullptr);
    session.relink({opened.folder / "gone.png"});
    REQUIRE(waitForReading(session));
    CHECK(reported.contains("gone.png"));
    CHECK(session.passes().width == kWidth);
}

TEST_CASE("pass files that were written again are offered to be read again", "[relink]") {
    Opened opened;
    bool offered = false;
    QObject::connect(&opened.window.session(), &Session::passFilesChanged, &opened.window,
                     [&] { offered = true; });
    QTest::qWait(1100);  // file times may count whole seconds
    write(opened.folder / "shot.png", Image(kWidth, kHeight, {"R", "G", "B"}, 0.9F));
    REQUIRE(waitFor([&] { return offered; }));
    opened.window.session().relink(opened.window.session().project().passFiles);
    REQUIRE(waitForReading(opened.window.session()));
    CHECK(opened.window.session().passes().find(PassKind::Beauty)->image(5, 5, 0) > 0.7F);
}

TEST_CASE("undoing a relink to files that are gone says so and keeps the frame", "[relink]") {
    Opened opened;
    Session& session = opened.window.session();
    write(opened.folder / "new.png", Image(kWidth, kHeight, {"R", "G", "B"}, 0.8F));
    session.relink({opened.folder / "new.png"});
    REQUIRE(waitForReading(session));
    std::filesystem::remove(opened.folder / "shot.png");
    QString reported;
    QObject::connect(
        &session, &Session::notified, &session,
        [&](const QString& text, bool warning) { reported = warning ? text : reported; });
    session.undo();
    REQUIRE(waitForReading(session));
    CHECK(reported.contains("shot.png"));
    CHECK(session.passes().find(PassKind::Beauty)->image(5, 5, 0) > 0.5F);
}

TEST_CASE("a new render is compared with the former one, until another project is opened",
          "[relink]") {
    Opened opened;
    CHECK(opened.buttonSaying("Previous render") == nullptr);
    const int former = opened.greyAt(40, 45);
    write(opened.folder / "new.png", Image(kWidth, kHeight, {"R", "G", "B"}, 0.8F));
    opened.window.session().relink({opened.folder / "new.png"});
    REQUIRE(waitForReading(opened.window.session()));
    REQUIRE(waitFor([&] { return opened.greyAt(40, 45) > former + 60; }));
    const int fresh = opened.greyAt(120, 45);
    // The note leads there: the former render lies left of the line, the new one right of it.
    opened.click("Compare with the previous one");
    CHECK(opened.view().compare() == PictureView::Compare::Wipe);
    CHECK(std::abs(opened.greyAt(40, 45) - former) <= 1);
    CHECK(std::abs(opened.greyAt(120, 45) - fresh) <= 1);
    // Without it the picture is compared with itself before its recipe, as ever.
    opened.click("Previous render");
    CHECK(std::abs(opened.greyAt(40, 45) - fresh) <= 1);
    opened.click("Previous render");
    CHECK(std::abs(opened.greyAt(40, 45) - former) <= 1);
    opened.window.session().newProject();
    QApplication::processEvents();
    CHECK(opened.buttonSaying("Previous render") == nullptr);
}

TEST_CASE("a former render of another shape is shown as it was", "[relink]") {
    Opened opened;
    write(opened.folder / "new.png", Image(kHeight, kHeight, {"R", "G", "B"}, 0.8F));
    opened.window.session().relink({opened.folder / "new.png"});
    REQUIRE(waitForReading(opened.window.session()));
    REQUIRE(waitFor([&] { return opened.greyAt(45, 45) > 200; }));
    opened.click("Compare with the previous one");
    opened.click("Before");
    // It is wider: as wide as the square, half as high.
    CHECK(std::abs(opened.greyAt(45, 45) - 102) <= 2);
    CHECK(std::abs(opened.greyAt(45, 10) - qGray(theme::kSurround.rgb())) <= 2);
}

TEST_CASE("another frame of a sequence is chosen by its number, and what is missing is bridged",
          "[relink][frames]") {
    Folder folder;
    Folder data;
    for (const int frame : {1, 2, 5}) {
        const std::string number = "000" + std::to_string(frame);
        write(folder / ("shot." + number + ".png"),
              Image(kWidth, kHeight, {"R", "G", "B"}, 0.1F * static_cast<float>(frame)));
        if (frame < 5)
            write(folder / ("shot_z." + number + ".png"), Image(kWidth, kHeight, {"Y"}, 0.5F));
    }
    MainWindow window{data.path()};
    window.show();
    REQUIRE(openAndRead(
        window, {folder / "shot.0001.png", folder / "shot.0002.png", folder / "shot_z.0001.png"}));
    REQUIRE(waitFor([&] { return !window.session().passes().empty(); }));
    window.picture().recipe().addStep("grade");
    auto* chooser = window.findChild<QSpinBox*>("frame");
    REQUIRE(chooser != nullptr);
    REQUIRE(chooser->isVisible());
    CHECK(chooser->value() == 1);
    const auto brightness = [&] {
        REQUIRE(waitFor([&] { return !window.session().readingFrame(); }));
        return window.session().passes().find(PassKind::Beauty)->image(4, 4, 0);
    };
    const Project before = window.session().project();
    const float first = brightness();
    chooser->setFocus();
    QTest::keyClick(chooser, Qt::Key_Up);
    CHECK(brightness() > 1.5F * first);
    CHECK(window.session().passes().find(PassKind::Depth)->file == folder / "shot_z.0002.png");
    CHECK(window.session().project().recipe.steps.size() == 1);
    // The fifth lacks its depth: the nearest whole one stands in for it.
    QString reported;
    QObject::connect(&window.session(), &Session::notified, &window,
                     [&](const QString& text, bool) { reported = text; });
    const float second = brightness();
    for (int i = 0; i < 3; ++i)
        QTest::keyClick(chooser, Qt::Key_Up);
    CHECK(chooser->value() == 5);
    CHECK(brightness() == second);
    CHECK(reported.toStdString() == "Frame 5 is missing; it is shown with the passes of frame 2.");
    CHECK(window.session().time().number == 5);
    CHECK(window.session().project() == before);
    for (int i = 0; i < 4; ++i)
        QTest::keyClick(chooser, Qt::Key_Down);
    CHECK(brightness() == first);
    CHECK(chooser->value() == 1);
}

TEST_CASE("a render of twice the size keeps what was drawn on what it was drawn on", "[relink]") {
    Opened opened;
    Session& session = opened.window.session();
    session.change("shape", {}, [](Project& p) {
        p.recipe.steps = {stepCatalogue().newStep("grade")};
        Where& where = p.recipe.steps[0].where;
        where = stepCatalogue().newCriterion("ellipse");
        where.settings.set("centre", V2f(100, 50));
        where.settings.set("radii", V2f(30, 20));
        where.settings.set("soft", 8.0F);
        where.refinement.grow = 3.0F;
    });
    session.endGesture();
    write(opened.folder / "large.png", Image(2 * kWidth, 2 * kHeight, {"R", "G", "B"}, 0.8F));
    session.relink({opened.folder / "large.png"});
    REQUIRE(waitForReading(session));
    const auto drawn = [&]() -> const Where& { return session.project().recipe.steps[0].where; };
    CHECK(drawn().settings.get<V2f>("centre") == V2f(200, 100));
    CHECK(drawn().settings.get<V2f>("radii") == V2f(60, 40));
    CHECK(drawn().settings.number("soft") == 16.0F);
    CHECK(drawn().refinement.grow == 6.0F);
    session.undo();
    CHECK(drawn().settings.get<V2f>("centre") == V2f(100, 50));
}

TEST_CASE("files of another shot are asked about, and opened as new or added", "[relink]") {
    Opened opened;
    Session& session = opened.window.session();
    const Folder elsewhere;
    write(elsewhere / "harbour.png", Image(kWidth, kHeight, {"R", "G", "B"}, 0.9F));
    opened.window.open({elsewhere / "harbour.png"});
    QApplication::processEvents();
    CHECK(session.project().passFiles.size() == 2);  // nothing has happened yet
    auto* first = opened.window.findChild<QPushButton*>("note-action");
    REQUIRE(first != nullptr);
    CHECK(first->text() == "Open as new");
    QTest::mouseClick(first, Qt::LeftButton);
    REQUIRE(waitForReading(session));
    CHECK(session.project().passFiles ==
          std::vector<std::filesystem::path>{elsewhere / "harbour.png"});
    // Of the same shot, wherever it lies, and beside it, without a name that says another.
    write(elsewhere / "harbour_mask.png", Image(kWidth, kHeight, {"Y"}, 0.9F));
    opened.window.open({elsewhere / "harbour_mask.png"});
    REQUIRE(waitForReading(session));
    CHECK(session.project().passFiles.size() == 2);
    CHECK(shotOf("/x/Mole_quay.depth.0012.exr") == "mole quay");
    CHECK(shotOf("depth.exr").empty());
}
