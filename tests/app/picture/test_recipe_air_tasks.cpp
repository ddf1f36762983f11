// Light and mist in the air, by mouse and keys.
#include "support/desk.h"

#include <QLabel>

using namespace noctis;
using test::Desk;

TEST_CASE("a fog is lit by a click, by light in the same air", "[app][tasks][air]") {
    Desk desk;
    desk.add("Fog");
    desk.type(desk.inCard<ValueBar>("density"), "100");
    QTest::mouseClick(desk.inCard<QPushButton>("Light this fog"), Qt::LeftButton);
    desk.settle();
    REQUIRE(desk.recipe().steps.size() == 2);
    const Step& light = desk.recipe().steps.back();
    CHECK(light.type == "airlight");
    CHECK(light.settings.number("density") == Approx(0.03F));
    CHECK(desk.window.picture().recipe().chosen() == light.id);
    desk.window.session().undo();
    CHECK(desk.recipe().steps.size() == 1);
}

TEST_CASE("light in the air before a fog says what is amiss, and moves behind it",
          "[app][tasks][air]") {
    Desk desk;
    desk.add("Light in the air");
    desk.add("Fog");
    desk.settle();
    auto* remedy = desk.window.picture().recipe().findChild<QPushButton*>("remedy");
    REQUIRE(remedy != nullptr);
    REQUIRE(remedy->isVisible());
    CHECK(remedy->text() == "Move it last");
    QTest::mouseClick(remedy, Qt::LeftButton);
    desk.settle();
    CHECK(desk.recipe().steps.back().type == "airlight");
    for (const QPushButton* button :
         desk.window.picture().recipe().findChildren<QPushButton*>("remedy"))
        CHECK_FALSE(button->isVisible());
}

TEST_CASE("haze is sought by a click, and where there is none the window says so",
          "[app][tasks][air]") {
    Desk desk;
    desk.add("Clear the air");
    const Recipe before = desk.recipe();
    QStringList said;
    QObject::connect(&desk.window.session(), &Session::notified, &desk.window,
                     [&](const QString& text) { said << text; });
    QTest::mouseClick(desk.inCard<QPushButton>("Find"), Qt::LeftButton);
    desk.settle();
    CHECK(desk.recipe() == before);
    CHECK(said.join(' ').contains("no haze"));
}

TEST_CASE("a fog's top is dragged down, and at the bar's end there is none", "[app][tasks][air]") {
    Desk desk;
    desk.add("Fog");
    auto* top = desk.inCard<ValueBar>("top");
    CHECK(top->text() == "no limit");
    desk.type(top, "1.5");
    CHECK(desk.recipe().steps.back().settings.number("top") == 1.5F);
    const QPoint end(top->track().right() - 2, top->height() / 2);
    QTest::mouseClick(top, Qt::LeftButton, {}, end);
    desk.settle();
    CHECK(top->text() == "no limit");
    desk.type(top, "2");
    desk.type(top, "no limit");
    CHECK(desk.recipe().steps.back().settings.number("top") == 1e5F);
}
