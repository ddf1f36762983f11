// Curves of what moves, and keys dragged in the strip, by mouse and keys.
#include "app/controls/key_button.h"
#include "app/look/picture_paint.h"
#include "app/picture/key_curves.h"
#include "app/picture/picture_bar.h"
#include "app/picture/time_strip.h"
#include "core/image/colour.h"
#include "core/recipe/evaluator.h"
#include "core/steps/registry.h"
#include "support/desk.h"

#include <QComboBox>
#include <QContextMenuEvent>

using namespace noctis;
using test::Desk;
using test::kBoatX;
using test::kHeight;

namespace {

/// A grade whose exposure goes from 0 to 2 EV over frames 11 to 31.
struct Curved : Desk {
    Curved() {
        add("Grade");
        window.session().change("keys", {}, [](Project& p) {
            Key first;
            first.frame = 11;
            first.value = 0.0F;
            Key last;
            last.frame = 31;
            last.value = 2.0F;
            p.recipe.steps[0].tracks.keys["exposure"] = {first, last};
        });
        window.session().endGesture();
        settle();
    }
    TimeStrip& strip() { return *window.findChild<TimeStrip*>(); }
    KeyCurves& curves() { return *window.findChild<KeyCurves*>(); }
    KeyGraph& graph() { return curves().graph(); }
    void showCurves() {
        auto* button = window.findChild<QPushButton*>("curves");
        REQUIRE(test::waitFor([&] { return button->isVisible() && button->isEnabled(); }));
        QTest::mouseClick(button, Qt::LeftButton);
        REQUIRE(test::waitFor([&] { return graph().isVisible() && graph().width() > 300; }));
        settle();
    }
    KeyList keys() {
        const auto& all = recipe().steps[0].tracks.keys;
        const auto found = all.find("exposure");
        return found == all.end() ? KeyList() : found->second;
    }
    QPoint at(double frame, float value) { return graph().placeOf(frame, value).toPoint(); }
    void drag(QWidget& widget, const QPoint& from, const QPoint& to,
              Qt::KeyboardModifiers modifiers = {}) {
        QTest::mousePress(&widget, Qt::LeftButton, modifiers, from);
        for (int i = 1; i <= 4; ++i) {
            const QPoint here = from + (to - from) * i / 4;
            QMouseEvent move(QEvent::MouseMove, here, widget.mapToGlobal(here), Qt::NoButton,
                             Qt::LeftButton, modifiers);
            QApplication::sendEvent(&widget, &move);
        }
        QTest::mouseRelease(&widget, Qt::LeftButton, modifiers, to);
        settle();
    }
    static std::vector<int> framesOf(const KeyList& list) {
        std::vector<int> frames;
        for (const Key& key : list)
            frames.push_back(key.frame);
        return frames;
    }
};

}  // namespace

TEST_CASE("a key of a curve is dragged in time and value, as one undo", "[app][time]") {
    Curved desk;
    desk.showCurves();
    const QPoint from = desk.at(31, 2.0F);
    const QPoint to = desk.at(26, 1.0F);
    desk.drag(desk.graph(), from, to);
    REQUIRE(desk.keys().size() == 2);
    CHECK(desk.keys()[1].frame == 26);
    CHECK(std::get<float>(desk.keys()[1].value) == Approx(1.0F).margin(0.03));
    desk.window.session().undo();
    CHECK(desk.keys()[1].frame == 31);
    CHECK(std::get<float>(desk.keys()[1].value) == 2.0F);
    // With Ctrl a copy goes, and the key stays.
    desk.drag(desk.graph(), desk.at(31, 2.0F), desk.at(36, 2.0F), Qt::ControlModifier);
    CHECK(Curved::framesOf(desk.keys()) == std::vector{11, 31, 36});
    desk.window.session().undo();
}

TEST_CASE("keys are set on the curve, moved by the arrow keys, copied, and taken", "[app][time]") {
    Curved desk;
    desk.showCurves();
    KeyGraph& graph = desk.graph();
    QTest::mouseDClick(&graph, Qt::LeftButton, {}, desk.at(21, 0.3F));
    desk.settle();
    CHECK(Curved::framesOf(desk.keys()) == std::vector{11, 21, 31});
    CHECK(std::get<float>(desk.keys()[1].value) == Approx(1.0F));
    graph.setFocus();
    QTest::mouseClick(&graph, Qt::LeftButton, {}, desk.at(21, 1.0F));
    QTest::keyClick(&graph, Qt::Key_Right);
    QTest::keyClick(&graph, Qt::Key_Right);
    QTest::keyClick(&graph, Qt::Key_Up);
    CHECK(desk.keys()[1].frame == 23);
    CHECK(std::get<float>(desk.keys()[1].value) > 1.0F);
    QTest::keyClick(&graph, Qt::Key_C, Qt::ControlModifier);
    desk.window.session().goTo(40);
    desk.settle();
    QTest::keyClick(&graph, Qt::Key_V, Qt::ControlModifier);
    CHECK(Curved::framesOf(desk.keys()) == std::vector{11, 23, 31, 40});
    QTest::keyClick(&graph, Qt::Key_Delete);
    CHECK(Curved::framesOf(desk.keys()) == std::vector{11, 23, 31});
    QTest::keyClick(&graph, Qt::Key_A, Qt::ControlModifier);
    QTest::keyClick(&graph, Qt::Key_Delete);
    // Without keys, what there was at this frame stays.
    CHECK(desk.recipe().steps[0].tracks.empty());
    CHECK(desk.recipe().steps[0].settings.number("exposure") == Approx(2.0F));
}

TEST_CASE("chosen keys are stretched in time by the line above them", "[app][time]") {
    Curved desk;
    desk.showCurves();
    KeyGraph& graph = desk.graph();
    // A rectangle around both.
    desk.drag(graph, desk.at(5, 2.2F), desk.at(35, -0.2F));
    CHECK(graph.chosenKeys() == std::set<int>{11, 31});
    const int y = 10;
    desk.drag(graph, QPoint(desk.at(31, 0.0F).x(), y), QPoint(desk.at(21, 0.0F).x(), y));
    CHECK(Curved::framesOf(desk.keys()) == std::vector{11, 21});
    desk.window.session().undo();
    CHECK(Curved::framesOf(desk.keys()) == std::vector{11, 31});
}

TEST_CASE("an ease is chosen, and its bend and overshoot are dragged", "[app][time]") {
    Curved desk;
    desk.showCurves();
    KeyGraph& graph = desk.graph();
    QTest::mouseClick(&graph, Qt::LeftButton, {}, desk.at(11, 0.0F));
    auto* ease = desk.curves().findChild<QComboBox*>("ease");
    if (ease == nullptr)
        for (auto* box : desk.curves().findChildren<QComboBox*>())
            if (box->findText("Settle") >= 0)
                ease = box;
    REQUIRE(ease != nullptr);
    REQUIRE(ease->isVisible());
    const auto choose = [&](const QString& text) {
        ease->setFocus();
        while (ease->currentText() != text) {
            const int before = ease->currentIndex();
            QTest::keyClick(ease, ease->findText(text) > before ? Qt::Key_Down : Qt::Key_Up);
            REQUIRE(ease->currentIndex() != before);
        }
        desk.settle();
    };
    choose("Ease");
    CHECK(desk.keys()[0].ease == Ease::Ease);
    // The first handle of the bend, a third along.
    desk.drag(graph, desk.at(11 + 20 / 3.0, 0.0F), desk.at(21, 0.0F));
    REQUIRE(desk.keys()[0].bend.has_value());
    CHECK((*desk.keys()[0].bend)[0] == Approx(0.5F).margin(0.03));
    choose("Settle");
    CHECK(desk.keys()[0].ease == Ease::Settle);
    desk.drag(graph, desk.at(21, 2.0F * 1.15F), desk.at(26, 2.0F * 1.1F));
    CHECK(desk.keys()[0].over == Approx(0.1F).margin(0.03));
    CHECK(desk.keys()[0].settleFrames == 5);
}

TEST_CASE("a right click on a key button shows the curve, and a setting may flicker alone",
          "[app][time]") {
    Curved desk;
    KeyButton* key = nullptr;
    for (auto* button : desk.card().findChildren<KeyButton*>())
        if (button->isVisible() && button->accessibleName().endsWith("Contrast"))
            key = button;
    REQUIRE(key != nullptr);
    QContextMenuEvent click(QContextMenuEvent::Mouse, QPoint(5, 5), key->mapToGlobal(QPoint(5, 5)));
    QApplication::sendEvent(key, &click);
    desk.settle();
    REQUIRE(desk.graph().isVisible());
    CHECK(desk.curves().chosen() == TrackPlace{desk.recipe().steps[0].id, "contrast"});
    ValueBar* flicker = nullptr;
    for (auto* bar : desk.curves().findChildren<ValueBar*>())
        if (bar->isVisible() && bar->objectName() == "amount")
            flicker = bar;
    REQUIRE(flicker != nullptr);
    desk.type(flicker, "40");
    CHECK(desk.recipe().steps[0].tracks.flicker.at("contrast").amount == Approx(0.4F));
    desk.window.session().undo();
    CHECK(desk.recipe().steps[0].tracks.flicker.empty());
}

TEST_CASE("the amount, the switch and a criterion get keys from the card", "[app][time]") {
    Desk desk;
    desk.add("Grade");
    desk.limitToObjects("boat");
    const auto press = [&](const QString& name) {
        for (auto* button : desk.card().findChildren<KeyButton*>())
            if (button->isVisible() && button->accessibleName() == name) {
                QTest::mouseClick(button, Qt::LeftButton);
                desk.settle();
                return button;
            }
        FAIL(name.toStdString());
        return static_cast<KeyButton*>(nullptr);
    };
    CHECK(press("Key of Amount")->state() == KeyState::Here);
    CHECK(desk.recipe().steps[0].tracks.keys.contains("amount"));
    press("Key of On");
    CHECK(desk.recipe().steps[0].tracks.keys.contains("on"));
    press("Key of Names");
    const Where& where = desk.recipe().steps[0].where;
    const Where& criterion = where.parts.empty() ? where : where.parts[0];
    CHECK(criterion.tracks.keys.contains("names"));
    CHECK(press("Key of Amount")->state() == KeyState::None);
    CHECK_FALSE(desk.recipe().steps[0].tracks.keys.contains("amount"));
}

TEST_CASE("keys are dragged in the strip, and with Ctrl copied", "[app][time]") {
    Curved desk;
    TimeStrip& strip = desk.strip();
    REQUIRE(test::waitFor([&] { return strip.placeOf(31) - strip.placeOf(11) > 100; }));
    desk.drag(strip, strip.keyPlace(31).toPoint(), strip.keyPlace(25).toPoint());
    CHECK(Curved::framesOf(desk.keys()) == std::vector{11, 25});
    desk.drag(strip, strip.keyPlace(25).toPoint(), strip.keyPlace(41).toPoint(),
              Qt::ControlModifier);
    CHECK(Curved::framesOf(desk.keys()).back() == 41);
    CHECK(Curved::framesOf(desk.keys())[1] == 25);
    desk.window.session().undo();
    desk.window.session().undo();
    CHECK(Curved::framesOf(desk.keys()) == std::vector{11, 31});
}

TEST_CASE("only the part between the marks plays", "[app][time]") {
    Curved desk;
    TimeStrip& strip = desk.strip();
    REQUIRE(test::waitFor([&] { return strip.placeOf(31) - strip.placeOf(11) > 100; }));
    const auto [first, last] = desk.window.session().frames();
    const auto dragMark = [&](bool ofLast, int to) {
        const QPoint from = strip.markOf(ofLast).toPoint();
        desk.drag(strip, from, QPoint(static_cast<int>(std::lround(strip.placeOf(to))), from.y()));
    };
    dragMark(true, 9);
    dragMark(false, 6);
    CHECK(strip.part() == std::pair(6, 9));
    std::set<int> seen;
    QObject::connect(&desk.window.session(), &Session::timeChanged,
                     [&] { seen.insert(desk.window.session().time().number); });
    strip.setFocus();
    QTest::keyClick(&strip, Qt::Key_Space);
    REQUIRE(test::waitFor([&] { return seen.size() >= 4; }));
    QTest::qWait(300);
    QTest::keyClick(&strip, Qt::Key_Space);
    CHECK(seen == std::set<int>{6, 7, 8, 9});
    QTest::mouseDClick(&strip, Qt::LeftButton, {}, strip.markOf(true).toPoint());
    CHECK(strip.part() == std::pair(first, last));
}

TEST_CASE("the window's frame is the one that finish makes, bit for bit", "[app][time]") {
    Curved desk;
    desk.window.session().change("flicker", {}, [](Project& p) {
        p.recipe.steps[0].tracks.flicker["exposure"] = {0.5F, 7.0F, 3};
    });
    for (const int frame : {1, 17, 31}) {
        desk.window.session().goTo(frame);
        QImage shown;
        const auto seen =
            QObject::connect(&desk.window.picture().worker(), &PictureWorker::pictureReady,
                             [&](const QImage& picture, int) { shown = picture; });
        desk.window.session().change("exposure", {}, [](Project& p) { p.exposure += 0.001F; });
        desk.settle();
        QObject::disconnect(seen);
        Evaluator evaluator(stepCatalogue());
        evaluator.setPasses(desk.window.session().passes());
        EvaluateOptions how;
        how.time = {frame, (frame - 1) / 24.0};
        const Project& project = desk.window.session().project();
        const Image made = viewed(evaluator.evaluate(project.recipe, how), project.viewTransform,
                                  project.exposure);
        REQUIRE(shown.size() == QSize(made.width(), made.height()));
        CHECK(shown == toQImage(made));
    }
}

TEST_CASE("another frame is compared with the one that was kept", "[app][time]") {
    Curved desk;
    desk.window.session().goTo(1);
    desk.settle();
    const QColor dark = desk.shownAt(kBoatX);
    for (const RoomCommand& command : desk.window.picture().commands())
        if (command.text == "Compare other frames with this one")
            command.run();
    desk.window.session().goTo(40);
    desk.settle();
    desk.window.picture().bar().setCompare(PictureView::Compare::None);
    CHECK(desk.shownAt(kBoatX).green() > dark.green() + 30);
    desk.window.picture().bar().setCompare(PictureView::Compare::Before);
    desk.settle();
    REQUIRE(test::waitFor([&] { return desk.shownAt(kBoatX) == dark; }));
}

TEST_CASE("two thousand keys are shown, moved and undone", "[app][time]") {
    Curved desk;
    desk.window.session().change("many", {}, [](Project& p) {
        KeyList keys;
        for (int frame = 1; frame <= 2000; ++frame) {
            Key key;
            key.frame = frame;
            key.value = static_cast<float>(frame % 7) * 0.2F;
            keys.push_back(key);
        }
        p.recipe.steps[0].tracks.keys["exposure"] = keys;
    });
    desk.window.session().endGesture();
    desk.showCurves();
    CHECK(desk.window.session().frames() == std::pair(1, 2000));
    desk.graph().setFocus();
    QTest::keyClick(&desk.graph(), Qt::Key_A, Qt::ControlModifier);
    QTest::keyClick(&desk.graph(), Qt::Key_Right);
    CHECK(desk.keys().size() == 2000);
    CHECK(desk.keys().front().frame == 2);
    desk.window.session().undo();
    CHECK(desk.keys().front().frame == 1);
    CHECK(desk.graph().grab().width() > 0);
}
