// What an artist comes for, from an opened frame to the picture, by mouse and keys alone.
#include "app/controls/colour_well.h"
#include "app/controls/gradient_editor.h"
#include "app/controls/switch_box.h"
#include "app/controls/value_bar.h"
#include "app/instruments/sounding.h"
#include "app/picture/picture_room.h"
#include "app/picture/picture_view.h"
#include "app/picture/recipe_panel.h"
#include "app/picture/step_card.h"
#include "app/window/main_window.h"
#include "core/passes/matte.h"
#include "core/passes/pass_file.h"
#include "support/files.h"
#include "support/frames.h"
#include "support/windows.h"

#include <QApplication>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QTest>
#include <QTimer>

#include <bit>

#include <catch2/catch.hpp>

using namespace noctis;
using test::Folder;
using test::openAndRead;
using test::waitFor;

namespace {

constexpr int kWidth = 192;
constexpr int kHeight = 108;
constexpr int kBoatX = 40;
constexpr int kCrateX = 150;

/// Left a boat, near, that faces left; right a crate, far, that faces right; lit by a moon and a lantern.
PassSet frame() {
    const auto isBoat = [](int x) { return x < kWidth / 2; };
    PassSet set = test::greyFrame(kWidth, kHeight, 0.2F);
    set.put(test::passOf({PassKind::Depth, {}}, kWidth, kHeight,
                         [&](int x, int, int) { return isBoat(x) ? 5.0F : 40.0F; }));
    set.put(test::passOf({PassKind::Normal, {}}, kWidth, kHeight, [&](int x, int, int c) {
        return c != 0 ? 0.0F : isBoat(x) ? -1.0F : 1.0F;
    }));
    set.put(test::passOf({PassKind::Light, "moon"}, kWidth, kHeight,
                         [](int, int, int) { return 0.05F; }));
    set.put(test::passOf({PassKind::Light, "lantern"}, kWidth, kHeight,
                         [](int, int, int c) { return c == 0 ? 0.1F : 0.04F; }));
    Pass objects;
    objects.kind = PassKind::Objects;
    objects.name = nameOf({PassKind::Objects, {}});
    objects.manifest = matteManifest({"boat", "crate"});
    objects.image = Image(kWidth, kHeight, matteChannels("objects", 2));
    for (int y = 0; y < kHeight; ++y)
        for (int x = 0; x < kWidth; ++x) {
            const std::ptrdiff_t at = objects.image.rowStride() * y + x;
            objects.image.editPlane(0)[at] =
                std::bit_cast<float>(matteId(isBoat(x) ? "boat" : "crate"));
            objects.image.editPlane(1)[at] = 1.0F;
        }
    set.put(std::move(objects));
    return set;
}

class Desk {
public:
    Desk() {
        writePasses(m_folder / "frame.exr", frame());
        window.resize(1280, 800);
        window.show();
        REQUIRE(openAndRead(window, {m_folder / "frame.exr"}));
        settle();
    }
    void settle() {
        QTest::qWait(180);
        REQUIRE(waitFor([&] { return window.picture().worker().idle(); }));
        QApplication::processEvents();
    }
    /// Clicks a button that opens a menu, and takes an entry of it.
    void choose(QPushButton* button, const QString& entry) {
        REQUIRE(button != nullptr);
        bool taken = false;
        QTimer::singleShot(50, [&] {
            auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
            if (menu == nullptr)
                return;
            for (QAction* action : menu->actions())
                if (action->text() == entry) {
                    action->trigger();
                    taken = true;
                }
            menu->close();
        });
        QTest::mouseClick(button, Qt::LeftButton);
        settle();
        REQUIRE(taken);
    }
    /// Adds a step from the menu; its card is open then.
    void add(const QString& label) {
        choose(panel().findChild<QPushButton*>("add step"), label);
        REQUIRE_FALSE(recipe().steps.empty());
        m_card = panel().findChild<StepCard*>(QString::fromStdString(recipe().steps.back().id));
        REQUIRE(m_card != nullptr);
    }
    template <typename Widget> Widget* inCard(const char* name) {
        auto* widget = m_card->findChild<Widget*>(QLatin1String(name));
        INFO(name);
        REQUIRE(widget != nullptr);
        return widget;
    }
    void limitToObjects(const QString& names) {
        choose(inCard<QPushButton>("limit"), "Objects");
        auto* line = inCard<QWidget>("names")->findChild<QLineEdit*>();
        REQUIRE(line != nullptr);
        QTest::mouseClick(line, Qt::LeftButton);
        QTest::keyClicks(line, names);
        QTest::keyClick(line, Qt::Key_Return);
        settle();
    }
    void turnRound() {
        for (auto* button : m_card->findChildren<QPushButton*>())
            if (button->text() == "Not" && button->isVisible())
                QTest::mouseClick(button, Qt::LeftButton);
        settle();
    }
    void type(ValueBar* bar, const QString& number) {
        QTest::keyClick(bar, Qt::Key_Return);
        auto* line = bar->findChild<QLineEdit*>();
        REQUIRE(line != nullptr);
        QTest::keyClicks(line, number);
        QTest::keyClick(line, Qt::Key_Return);
        settle();
    }
    [[nodiscard]] const Recipe& recipe() { return window.session().project().recipe; }
    [[nodiscard]] RecipePanel& panel() { return window.picture().recipe(); }
    /// The picture's colour at a place halfway down, as the recipe makes it.
    [[nodiscard]] LinearRgb at(int x) {
        const Image out = test::finished(window.session().passes(), recipe());
        return {out(x, kHeight / 2, 0), out(x, kHeight / 2, 1), out(x, kHeight / 2, 2)};
    }
    [[nodiscard]] QColor shownAt(int x) {
        PictureView& view = window.picture().view();
        return view.grab().toImage().pixelColor(
            view.fromPicture(QPointF(x, kHeight / 2)).toPoint());
    }

private:
    Folder m_folder;

public:
    MainWindow window{m_folder / "data"};

private:
    StepCard* m_card = nullptr;
};

}  // namespace

TEST_CASE("faces that look to one side are lit warmly, and the boat is left out", "[app][tasks]") {
    Desk desk;
    const QColor boat = desk.shownAt(kBoatX);
    const QColor crate = desk.shownAt(kCrateX);
    desk.add("Axis light");
    desk.type(desk.inCard<ValueBar>("right"), "1");
    CHECK(desk.at(kCrateX).r > 0.3F);
    desk.limitToObjects("boat");
    CHECK(desk.at(kCrateX).r == 0.2F);
    desk.turnRound();
    // Its place was tinted while it was chosen.
    CHECK(desk.shownAt(kCrateX).green() > crate.green() + 10);
    QTest::mouseClick(desk.inCard<QPushButton>("where-overlay"), Qt::LeftButton);
    desk.settle();
    CHECK(desk.at(kBoatX).r == 0.2F);
    CHECK(desk.at(kCrateX).r > 0.3F);
    CHECK(desk.shownAt(kBoatX) == boat);
    CHECK(desk.shownAt(kCrateX).red() > crate.red() + 10);
    while (!desk.recipe().steps.empty())
        desk.window.session().undo();
    desk.settle();
    CHECK(desk.shownAt(kCrateX) == crate);
}

TEST_CASE("the lantern twice as bright and the moon off is just that difference", "[app][tasks]") {
    Desk desk;
    desk.add("Light balance");
    auto* lantern = desk.inCard<QWidget>("lantern");
    auto* moon = desk.inCard<QWidget>("moon");
    desk.type(lantern->findChild<ValueBar*>("strength"), "200");
    auto* on = moon->findChild<QWidget*>("on");
    REQUIRE(on != nullptr);
    auto* box = on->findChild<SwitchBox*>();
    REQUIRE(box != nullptr);
    QTest::mouseClick(box, Qt::LeftButton);
    desk.settle();
    CHECK(desk.at(kBoatX).r == Approx(0.2F + 0.1F - 0.05F));
    CHECK(desk.at(kBoatX).b == Approx(0.2F + 0.04F - 0.05F));
    // One undo brings the moon back, a second one the lantern.
    desk.window.session().undo();
    CHECK(desk.at(kBoatX).b == Approx(0.24F));
    desk.window.session().undo();
    CHECK(desk.at(kBoatX).b == 0.2F);
}

TEST_CASE("the crate is painted green by its name", "[app][tasks]") {
    Desk desk;
    desk.add("Recolour");
    desk.limitToObjects("crate");
    auto* well = desk.inCard<QWidget>("colour")->findChild<ColourWell*>();
    REQUIRE(well != nullptr);
    // Hue a third of the way, then as strong as it gets.
    const int right = well->width() - 50;
    QTest::mouseClick(well, Qt::LeftButton, {}, QPoint(84 + (right - 84) / 3, 28));
    QTest::mouseClick(well, Qt::LeftButton, {}, QPoint(right - 1, 46));
    desk.settle();
    const LinearRgb crate = desk.at(kCrateX);
    CHECK(crate.g > 4.0F * crate.r);
    CHECK(crate.g > 4.0F * crate.b);
    CHECK(desk.at(kBoatX).r == 0.2F);
    const QColor shown = desk.shownAt(kCrateX);
    CHECK(shown.green() > shown.red() + 40);
}

TEST_CASE("a distance tint is set on the Sounding and on its gradient, one undo each",
          "[app][tasks]") {
    Desk desk;
    desk.add("Distance tint");
    const std::string id = desk.recipe().steps.back().id;
    const auto number = [&](const char* name) {
        return desk.recipe().steps.back().settings.number(name);
    };
    desk.type(desk.inCard<ValueBar>("nearest"), "5");
    desk.type(desk.inCard<ValueBar>("farthest"), "20");
    Sounding& sounding = desk.window.picture().sounding();
    const QPoint from = sounding.handlePlace(id, "farthest").toPoint();
    QTest::mousePress(&sounding, Qt::LeftButton, {}, from);
    for (int i = 1; i <= 5; ++i)
        QTest::mouseMove(&sounding, from + QPoint(8 * i, 0));
    QTest::mouseRelease(&sounding, Qt::LeftButton, {}, from + QPoint(40, 0));
    desk.settle();
    CHECK(number("farthest") > 21.0F);
    desk.window.session().undo();
    CHECK(number("farthest") == Approx(20.0F));

    // The far end black: what lies beyond 20 m is dark, what is near keeps its tint.
    auto* bar = desk.inCard<GradientBar>("gradient-bar");
    QTest::mouseClick(bar, Qt::LeftButton, {}, bar->fromPlace(1.0F).toPoint());
    auto* well = desk.inCard<QWidget>("colours")->findChild<ColourWell*>();
    REQUIRE(well != nullptr);
    const LinearRgb near = desk.at(kBoatX);
    QTest::mouseClick(well, Qt::LeftButton, {}, QPoint(85, 10));
    desk.settle();
    CHECK(desk.at(kCrateX).g < 0.001F);
    CHECK(desk.at(kBoatX).g == near.g);
    CHECK(desk.shownAt(kCrateX).green() < 20);
    desk.window.session().undo();
    CHECK(desk.at(kCrateX).g > 0.1F);
}
