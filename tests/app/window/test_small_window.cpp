#include "app/picture/picture_room.h"
#include "app/picture/recipe_panel.h"
#include "app/relief/relief_room.h"
#include "app/survey/turnaround_panel.h"
#include "support/stone.h"
#include "support/surveyed.h"

#include <QComboBox>

using namespace noctis;
using namespace noctis::test;

// A window of 1024 x 640, as on a small screen at 150 %: nothing is cut off.

TEST_CASE("no text is cut off in a small window", "[app][small]") {
    SECTION("in Survey, with a turnaround") {
        Surveyed o;
        o.window.resize(1024, 640);
        CHECK(cutOff(o.window).join("\n").toStdString() == "");
        o.press("turnaround-offer");
        CHECK(o.room.turnaround().isVisible());
        CHECK(cutOff(o.window).join("\n").toStdString() == "");
    }
    SECTION("in Picture, with an export and a step open") {
        Surveyed o;
        o.window.showRoom(o.window.picture());
        o.window.resize(1024, 640);
        o.window.picture().recipe().addStep("depth_of_field");
        QTest::keyClick(&o.window, Qt::Key_E, Qt::ControlModifier);
        QTest::qWait(50);
        CHECK(cutOff(o.window).join("\n").toStdString() == "");
    }
    SECTION("in Picture, with curves over time") {
        Surveyed o;
        o.window.showRoom(o.window.picture());
        o.window.resize(1024, 640);
        o.window.picture().recipe().addStep("depth_of_field");
        o.session.change({}, {}, [](Project& p) {
            Key first;
            first.value = 4.0F;
            first.ease = Ease::Settle;
            Key last = first;
            last.frame = 40;
            p.recipe.steps[0].tracks.keys["focus"] = {first, last};
        });
        auto* curves = o.window.findChild<QPushButton*>("curves");
        REQUIRE(curves != nullptr);
        REQUIRE(waitFor([&] { return curves->isVisible() && curves->isEnabled(); }));
        QTest::mouseClick(curves, Qt::LeftButton);
        REQUIRE(waitFor([&] { return o.window.findChild<QWidget*>("key-curves")->isVisible(); }));
        QTest::qWait(50);
        CHECK(cutOff(o.window).join("\n").toStdString() == "");
    }
    SECTION("in Relief, writing a solid") {
        OpenedRelief opened;
        opened.window.resize(1024, 640);
        CHECK(cutOff(opened.window).join("\n").toStdString() == "");
        opened.click("write-heights");
        auto* what = opened.child<QComboBox>("export-what");
        what->setCurrentIndex(what->count() - 1);
        QTest::qWait(50);
        CHECK(cutOff(opened.window).join("\n").toStdString() == "");
    }
}
