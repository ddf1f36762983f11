#include "app/survey/measure_bar.h"
#include "app/survey/pins_panel.h"
#include "app/survey/view_overlay.h"
#include "support/surveyed.h"

#include <QLabel>

using namespace noctis;
using test::kMiddleY;
using test::kPostX;
using test::Surveyed;

TEST_CASE("a click measures a thing, a second one the way between", "[app][survey]") {
    Surveyed o;
    o.clickAt(kPostX, kMiddleY);
    CHECK(o.room.measure().text().contains("post"));
    CHECK(o.room.measure().text().contains("5.00"));
    o.clickAt(0.7, kMiddleY);
    CHECK(o.room.measure().text().contains("wall"));
    CHECK(o.room.measure().text().contains("9.00"));
    CHECK(o.room.measure().text().contains("from the last place"));
    // The sky has no distance: the last measure stays.
    const QString before = o.room.measure().text();
    o.clickAt(0.5, 0.02);
    CHECK(o.room.measure().text() == before);
}

TEST_CASE("near, far, focus and mist are set from a measured place", "[app][survey]") {
    Surveyed o;
    o.clickAt(kPostX, kMiddleY);
    o.press("near-here");
    o.press("mist-here");
    o.clickAt(0.7, kMiddleY);
    o.press("far-here");
    o.press("focus-here");
    CHECK(o.project().ramp.nearest == Approx(5.0F).epsilon(1e-3));
    CHECK(o.project().ramp.farthest == Approx(9.0F).epsilon(1e-3));
    CHECK(o.passSetting(PassKind::Mist, "begins") == Approx(5.0F).epsilon(1e-3));
    REQUIRE(o.project().recipe.steps.size() == 1);
    const Step& lens = o.project().recipe.steps[0];
    CHECK(lens.type == "depth_of_field");
    o.session.undo();
    CHECK(o.project().recipe.steps.empty());
    o.press("range-from-picture");
    CHECK(o.project().ramp.automatic());
}

TEST_CASE("pins stay, are listed with their distances, and go one by one", "[app][survey]") {
    Surveyed o;
    o.clickAt(kPostX, kMiddleY);
    o.press("pin");
    o.clickAt(0.7, kMiddleY);
    o.press("pin");
    REQUIRE(o.project().pins.size() == 2);
    CHECK(o.project().pins[0].name == "post");
    CHECK(o.project().pins[1].position.z == Approx(-5.0F).margin(1e-3));
    auto* panel = o.room.findChild<PinsPanel*>();
    REQUIRE(panel->isVisible());
    QStringList texts;
    for (auto* label : panel->findChildren<QLabel*>())
        texts << label->text();
    CHECK(texts.join(' ').contains("9.00"));
    QApplication::processEvents();
    for (auto* button : panel->findChildren<QPushButton*>())
        if (button->accessibleName().contains("post")) {
            QTest::mouseClick(button, Qt::LeftButton);
            break;
        }
    REQUIRE(o.project().pins.size() == 1);
    CHECK(o.project().pins[0].name == "wall");
}

TEST_CASE("pins are drawn where their place is seen", "[app][survey]") {
    const ViewPlace view{QRectF(10, 20, 320, 180), lookingAt(V3f(0, 0, 5), V3f(0, 0, 0), 0.7F)};
    const auto middle = view.at(V3f(0, 0, 0));
    REQUIRE(middle);
    CHECK(middle->x() == Approx(170.0).margin(0.6));
    CHECK(middle->y() == Approx(110.0).margin(0.6));
    CHECK_FALSE(view.at(V3f(0, 0, 9)));  // behind the camera
    const CameraRay ray = view.ray(QPointF(170, 110));
    CHECK(ray.direction.dot(V3f(0, 0, -1)) > 0.9999F);
}
