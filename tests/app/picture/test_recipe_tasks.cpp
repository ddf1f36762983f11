// What an artist comes for, from an opened frame to the picture, by mouse and keys alone.
#include "app/controls/colour_well.h"
#include "app/controls/gradient_editor.h"
#include "app/controls/switch_box.h"
#include "app/instruments/bearing.h"
#include "app/instruments/sounding.h"
#include "support/desk.h"

using namespace noctis;
using test::Desk;
using test::kBoatX;
using test::kCrateX;

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
    QTest::mouseClick(well, Qt::LeftButton, {}, QPoint(84 + (right - 84) / 3, 46));
    QTest::mouseClick(well, Qt::LeftButton, {}, QPoint(right - 1, 64));
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
    Sounding& sounding = desk.window.picture().instrument<Sounding>();
    const QPoint from = sounding.handlePlace(id, "farthest").value().toPoint();
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
    QTest::mouseClick(well, Qt::LeftButton, {}, QPoint(85, 28));
    desk.settle();
    CHECK(desk.at(kCrateX).g < 0.001F);
    CHECK(desk.at(kBoatX).g == near.g);
    CHECK(desk.shownAt(kCrateX).green() < 20);
    desk.window.session().undo();
    CHECK(desk.at(kCrateX).g > 0.1F);
}

TEST_CASE("a second sun from one side lights what faces it, and casts on request", "[app][tasks]") {
    Desk desk;
    desk.add("Relight");
    const std::string id = desk.recipe().steps.back().id;
    Bearing& bearing = desk.window.picture().instrument<Bearing>();
    REQUIRE(bearing.isVisible());
    const V3f fromLeft = V3f(-0.9F, 0.2F, 0.3F).normalized();
    const QPoint from = bearing.handlePlace(id, "towards").value().toPoint();
    const QPoint to = bearing.placeOf(fromLeft).toPoint();
    QTest::mousePress(&bearing, Qt::LeftButton, {}, from);
    for (int i = 1; i <= 4; ++i)
        QTest::mouseMove(&bearing, from + (to - from) * i / 4);
    QTest::mouseRelease(&bearing, Qt::LeftButton, {}, to);
    desk.settle();
    // The boat faces left, the crate right.
    const float lit = desk.at(kBoatX).g;
    CHECK(lit > 0.25F);
    CHECK(desk.at(kCrateX).g == Approx(0.2F));
    desk.type(desk.inCard<ValueBar>("strength"),
              QString::number(2.0 * static_cast<double>(
                                        desk.recipe().steps.back().settings.number("strength"))));
    CHECK(desk.at(kBoatX).g - 0.2F == Approx(2.0F * (lit - 0.2F)).epsilon(0.02));
    desk.window.session().undo();
    desk.window.session().undo();
    desk.settle();
    CHECK(desk.recipe().steps.size() == 1);
    CHECK(desk.at(kBoatX).g != Approx(lit));
}
