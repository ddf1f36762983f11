// Settings that move in time, set and seen in the window.
#include "app/controls/key_button.h"
#include "app/picture/time_strip.h"
#include "core/recipe/recipe_at.h"
#include "core/steps/registry.h"
#include "support/desk.h"

using namespace noctis;
using test::Desk;
using test::kBoatX;

namespace {

struct Timed : Desk {
    TimeStrip& strip() { return *window.findChild<TimeStrip*>(); }
    KeyButton* keyOf(const char* setting) {
        auto* row = inCard<QWidget>(setting);
        for (auto* button : card().findChildren<KeyButton*>())
            if (button->isVisible() &&
                button->accessibleName().endsWith(QLatin1String(setting), Qt::CaseInsensitive) &&
                row != nullptr)
                return button;
        return nullptr;
    }
    void goTo(int frame) {
        QTest::mouseClick(&strip(), Qt::LeftButton, {},
                          QPoint(static_cast<int>(strip().placeOf(frame)), 15));
        settle();
    }
};

}  // namespace

TEST_CASE("a setting gets keys, moves between them, and the picture with it", "[app][time]") {
    Timed desk;
    CHECK_FALSE(desk.strip().isVisible());
    desk.add("Grade");
    const QColor plain = desk.shownAt(kBoatX);
    KeyButton* key = desk.keyOf("exposure");
    REQUIRE(key != nullptr);
    CHECK(key->state() == KeyState::None);
    QTest::mouseClick(key, Qt::LeftButton);
    desk.settle();
    REQUIRE(desk.strip().isVisible());
    REQUIRE(test::waitFor([&] { return desk.strip().width() > 400; }));
    CHECK(key->state() == KeyState::Here);
    desk.goTo(21);
    CHECK(desk.window.session().time().number == 21);
    CHECK(key->state() == KeyState::Elsewhere);
    // With keys, what is dragged or typed sets one at the frame that is shown.
    desk.type(desk.inCard<ValueBar>("exposure"), "2");
    CHECK(key->state() == KeyState::Here);
    const KeyList keys = desk.recipe().steps[0].tracks.keys.at("exposure");
    REQUIRE(keys.size() == 2);
    CHECK(keys[1].frame == 21);
    const QColor bright = desk.shownAt(kBoatX);
    CHECK(bright.green() > plain.green() + 40);
    desk.goTo(11);
    CHECK(desk.inCard<ValueBar>("exposure")->value() == Approx(1.0F));
    const QColor middle = desk.shownAt(kBoatX);
    CHECK(middle.green() > plain.green() + 10);
    CHECK(middle.green() < bright.green() - 10);
    desk.goTo(1);
    CHECK(desk.shownAt(kBoatX) == plain);

    // The frame that is shown is no part of the document.
    const Project before = desk.window.session().project();
    desk.strip().setFocus();
    QTest::keyClick(&desk.strip(), Qt::Key_Right);
    QTest::keyClick(&desk.strip(), Qt::Key_End);
    CHECK(desk.window.session().time().number == desk.window.session().frames().second);
    CHECK(desk.window.session().project() == before);
    desk.window.session().undo();
    CHECK(desk.recipe().steps[0].tracks.keys.at("exposure").size() == 1);
    desk.window.session().undo();
    CHECK(desk.recipe().steps[0].tracks.empty());
    CHECK_FALSE(desk.strip().isVisible());
}

TEST_CASE("a still can be played if a step changes by itself, as grain does", "[app][time]") {
    Timed desk;
    desk.add("Grain");
    REQUIRE(desk.strip().isVisible());
    REQUIRE(test::waitFor([&] { return desk.strip().width() > 400; }));
    const QColor first = desk.shownAt(kBoatX);
    desk.goTo(21);
    CHECK(desk.window.session().time().number == 21);
    CHECK(desk.shownAt(kBoatX) != first);
    desk.goTo(1);
    CHECK(desk.shownAt(kBoatX) == first);
    desk.window.session().undo();
    desk.settle();
    CHECK_FALSE(desk.strip().isVisible());
}

TEST_CASE("K sets and takes the key of the setting that has the focus", "[app][time]") {
    Timed desk;
    desk.add("Grade");
    auto* bar = desk.inCard<ValueBar>("exposure");
    bar->setFocus();
    QTest::keyClick(bar, Qt::Key_K);
    desk.settle();
    CHECK(desk.recipe().steps[0].tracks.keys.contains("exposure"));
    QTest::keyClick(bar, Qt::Key_K);
    desk.settle();
    CHECK(desk.recipe().steps[0].tracks.empty());
}

TEST_CASE("a drag over keys is one undo, at the frame it is made", "[app][time]") {
    Timed desk;
    desk.add("Grade");
    QTest::mouseClick(desk.keyOf("exposure"), Qt::LeftButton);
    desk.settle();
    desk.goTo(30);
    auto* bar = desk.inCard<ValueBar>("exposure");
    const QPoint middle = bar->track().center();
    QTest::mousePress(bar, Qt::LeftButton, {}, middle);
    for (int i = 1; i <= 5; ++i)
        QTest::mouseMove(bar, middle + QPoint(6 * i, 0));
    QTest::mouseRelease(bar, Qt::LeftButton, {}, middle + QPoint(30, 0));
    desk.settle();
    REQUIRE(desk.recipe().steps[0].tracks.keys.at("exposure").size() == 2);
    desk.window.session().undo();
    CHECK(desk.recipe().steps[0].tracks.keys.at("exposure").size() == 1);
}

TEST_CASE("a still with keys plays, frame by frame, and stops", "[app][time]") {
    Timed desk;
    desk.window.session().change("keys", {}, [](Project& p) {
        p.recipe.steps = {stepCatalogue().newStep("grade")};
        Key first;
        first.value = 0.0F;
        Key last;
        last.frame = 60;
        last.value = 2.0F;
        p.recipe.steps[0].tracks.keys["exposure"] = {first, last};
    });
    desk.settle();
    auto* play = desk.window.findChild<QPushButton*>("play");
    REQUIRE(play != nullptr);
    QTest::mouseClick(play, Qt::LeftButton);
    REQUIRE(test::waitFor([&] { return desk.window.session().time().number > 5; }));
    CHECK(desk.strip().playing());
    QTest::mouseClick(play, Qt::LeftButton);
    CHECK_FALSE(desk.strip().playing());
    const int stopped = desk.window.session().time().number;
    QTest::qWait(150);
    CHECK(desk.window.session().time().number == stopped);
    // What is shown is what finish would write at that frame.
    desk.settle();
    CHECK(desk.window.session().recipeNow() ==
          recipeAt(desk.recipe(), stepCatalogue(), desk.window.session().time()));
}

TEST_CASE("the frame that lanes and cards are given has the range of its depth", "[app][time]") {
    Timed desk;
    CHECK(desk.window.session().shownFrame().nearest == 5.0F);
    CHECK(desk.window.session().shownFrame().farthest == 40.0F);
    desk.window.session().newProject();
    CHECK(desk.window.session().shownFrame().farthest == 0.0F);
}
