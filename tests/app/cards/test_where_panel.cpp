#include "app/cards/where_panel.h"

#include "app/controls/switch_box.h"
#include "app/instruments/bearing.h"
#include "app/instruments/plan.h"
#include "app/instruments/sounding.h"
#include "core/steps/registry.h"
#include "support/desk.h"

using namespace noctis;
using test::kHeight;
using test::kWidth;

namespace {

/// A grey picture whose right half is farther than its left.
PassSet nearAndFar() {
    PassSet set = test::greyFrame(kWidth, kHeight, 0.2F);
    set.put(test::passOf({PassKind::Depth, {}}, kWidth, kHeight,
                         [](int x, int, int) { return x < kWidth / 2 ? 4.0F : 40.0F; }));
    return set;
}

struct Opened : test::Desk {
    Opened() : Desk(nearAndFar()) {}
};

}  // namespace

TEST_CASE("a step is limited by hand, and its place is shown over the picture or alone",
          "[app][where]") {
    Opened o;
    o.window.picture().recipe().addStep("grade");
    o.settle();
    o.choose(o.inCard<QPushButton>("grade", "add-criterion"), "Depth");
    REQUIRE(o.recipe().steps[0].where.parts.size() == 1);
    // The far end is closed, and dragged to where only the near half is left.
    auto* to = o.inCard<ValueBar>("grade", "to");
    REQUIRE(to != nullptr);
    auto switches = to->parentWidget()->findChildren<SwitchBox*>();
    REQUIRE(switches.size() == 2);
    QTest::mouseClick(switches[1], Qt::LeftButton);
    const auto span = [&] { return o.recipe().steps[0].where.parts[0].settings.get<Span>("span"); };
    CHECK(span().to == 100.0F);
    QTest::keyClick(to, Qt::Key_Return);
    QTest::keyClicks(to->findChild<QLineEdit*>(), "10");
    QTest::keyClick(to->findChild<QLineEdit*>(), Qt::Key_Return);
    o.settle();
    CHECK(span().to == 10.0F);

    const auto lit = [&](int x) {
        const QPointF at = o.view().fromPicture(QPointF(x, kHeight / 2));
        return o.view().grab().toImage().pixelColor(at.toPoint());
    };
    const QColor plain = lit(30);
    CHECK(lit(30) == lit(150));
    QTest::mouseClick(o.inCard<QPushButton>("grade", "where-overlay"), Qt::LeftButton);
    o.settle();
    CHECK(lit(30).green() > plain.green() + 20);
    CHECK(lit(150) == plain);
    QTest::mouseClick(o.inCard<QPushButton>("grade", "where-matte"), Qt::LeftButton);
    o.settle();
    CHECK(lit(30) == QColor(Qt::white));
    CHECK(lit(150) == QColor(Qt::black));
    o.window.picture().recipe().choose({});
    o.settle();
    CHECK(lit(30) == plain);
    o.window.session().undo();
    o.window.session().undo();
    o.window.session().undo();
    CHECK(o.recipe().steps[0].where.everywhere());
}

TEST_CASE("a standee goes where the picture is clicked, and its foot is dragged as one undo",
          "[app][handles]") {
    Opened o;
    o.window.picture().recipe().addStep("standee");
    o.window.session().change({}, {}, [](Project& p) {
        p.recipe.steps[0].settings.set("distance", 8.0F);
        p.recipe.steps[0].settings.set("at", V2f(20.0F, 20.0F));
    });
    o.settle();
    const auto foot = [&] { return o.recipe().steps[0].settings.get<V2f>("at"); };
    QTest::mouseClick(&o.view(), Qt::LeftButton, {},
                      o.view().fromPicture(QPointF(60, 80)).toPoint());
    CHECK(foot().x == Approx(60.0F).margin(1.0));
    CHECK(foot().y == Approx(80.0F).margin(1.0));
    const QPoint from = o.view().fromPicture(QPointF(60, 80)).toPoint();
    QTest::mousePress(&o.view(), Qt::LeftButton, {}, from);
    for (int i = 1; i <= 4; ++i)
        QTest::mouseMove(&o.view(), from + QPoint(20 * i, -5 * i));
    QTest::mouseRelease(&o.view(), Qt::LeftButton, {}, from + QPoint(80, -20));
    o.settle();
    CHECK(foot().x > 70.0F);
    o.window.session().undo();
    CHECK(foot().x == Approx(60.0F).margin(1.0));
}

TEST_CASE("a step of a newer Noctis stands in its place, switched off, and goes with undo",
          "[app][recipe]") {
    Opened o;
    const Recipe recipe = test::recipeOf(
        R"({"step":"fog","id":"f"},{"step":"shimmer","id":"s","settings":{"heat":3}})");
    o.window.session().change({}, {}, [&](Project& p) { p.recipe = recipe; });
    o.settle();
    auto* card = o.window.picture().recipe().findChild<StepCard*>("s");
    REQUIRE(card != nullptr);
    card->setFocus();
    QTest::keyClick(card, Qt::Key_Return);  // there is nothing to open
    QTest::keyClick(card, Qt::Key_Delete);
    CHECK(o.recipe().steps.size() == 1);
    QTest::keyClick(&o.window, Qt::Key_Z, Qt::ControlModifier);
    CHECK(o.recipe() == recipe);
}

TEST_CASE("shapes and strokes of a Where are drawn on the picture, each one undo", "[app][where]") {
    Opened o;
    o.window.picture().recipe().addStep("grade");
    o.settle();
    o.choose(o.inCard<QPushButton>("grade", "add-criterion"), "Ellipse");
    const auto part = [&](std::size_t i) { return o.recipe().steps[0].where.parts.at(i); };
    const auto drag = [&](Qt::MouseButton button, const QPointF& from, const QPointF& to) {
        const QPoint start = o.view().fromPicture(from).toPoint();
        const QPoint end = o.view().fromPicture(to).toPoint();
        QTest::mousePress(&o.view(), button, {}, start);
        for (int i = 1; i <= 4; ++i)
            QTest::mouseMove(&o.view(), start + (end - start) * i / 4);
        QTest::mouseRelease(&o.view(), button, {}, end);
        o.settle();
    };
    // A new shape is in hand at once, and its overlay is shown.
    CHECK(o.inCard<QPushButton>("grade", "draw-0")->isChecked());
    CHECK(o.inCard<QPushButton>("grade", "where-overlay")->isChecked());
    const V2f middle = part(0).settings.get<V2f>("centre");
    drag(Qt::LeftButton, {20, 20}, {60, 50});
    CHECK(part(0).settings.get<V2f>("centre").x == Approx(40.0F).margin(1.0));
    CHECK(part(0).settings.get<V2f>("radii").y == Approx(15.0F).margin(1.0));
    o.window.session().undo();
    CHECK(part(0).settings.get<V2f>("centre") == middle);
    o.window.session().redo();

    o.choose(o.inCard<QPushButton>("grade", "add-criterion"), "Strokes");
    CHECK(o.inCard<QPushButton>("grade", "draw-1")->isChecked());
    CHECK_FALSE(o.inCard<QPushButton>("grade", "draw-0")->isChecked());
    drag(Qt::LeftButton, {100, 50}, {150, 60});
    drag(Qt::RightButton, {120, 40}, {120, 80});
    const Strokes strokes = part(1).settings.get<Strokes>("strokes");
    REQUIRE(strokes.list().size() == 2);
    CHECK(strokes.list()[0].points.size() > 2);
    CHECK_FALSE(strokes.list()[0].takesAway);
    CHECK(strokes.list()[1].takesAway);
    // Out of the hand, the picture is panned and clicked as ever.
    QTest::mouseClick(o.inCard<QPushButton>("grade", "draw-1"), Qt::LeftButton);
    drag(Qt::LeftButton, {100, 50}, {110, 60});
    CHECK(part(1).settings.get<Strokes>("strokes").list().size() == 2);
}

TEST_CASE("a sun is dragged on the Bearing and a lamp on the Plan, each shown with its step alone",
          "[app][handles]") {
    Opened o;
    CHECK_FALSE(o.window.picture().instrument<Bearing>().isVisible());
    o.window.picture().recipe().addStep("relight");
    o.settle();
    Bearing& bearing = o.window.picture().instrument<Bearing>();
    Plan& plan = o.window.picture().instrument<Plan>();
    CHECK(bearing.isVisible());
    CHECK_FALSE(plan.isVisible());
    const std::string id = o.recipe().steps[0].id;
    const auto settings = [&] { return o.recipe().steps[0].settings; };
    const V3f first = settings().get<V3f>("towards");
    const QPoint from = bearing.handlePlace(id, "towards").value().toPoint();
    const V3f wanted = V3f(-0.5F, 0.5F, 0.7F).normalized();
    const QPoint to = bearing.placeOf(wanted).toPoint();
    QTest::mousePress(&bearing, Qt::LeftButton, {}, from);
    QTest::mouseMove(&bearing, (from + to) / 2);
    QTest::mouseMove(&bearing, to);
    QTest::mouseRelease(&bearing, Qt::LeftButton, {}, to);
    o.settle();
    CHECK((settings().get<V3f>("towards").normalized() - wanted).length() < 0.05F);
    bearing.setFocus();
    QTest::keyClick(&bearing, Qt::Key_Right);
    CHECK(settings().get<V3f>("towards").x > wanted.x);
    o.window.session().undo();
    o.window.session().undo();
    CHECK(settings().get<V3f>("towards") == first);

    o.window.session().change({}, {}, [](Project& p) {
        p.recipe.steps[0].settings.set("kind", std::string("point"));
        p.recipe.steps[0].settings.set("position", V3f(0.5F, 0.2F, -5.0F));
    });
    o.settle();
    CHECK_FALSE(bearing.isVisible());
    REQUIRE(plan.isVisible());
    const QPoint mark = plan.handlePlace(id, "position").value().toPoint();
    QTest::mousePress(&plan, Qt::LeftButton, {}, mark);
    QTest::mouseMove(&plan, mark + QPoint(10, 0));
    QTest::mouseMove(&plan, mark + QPoint(20, 0));
    QTest::mouseRelease(&plan, Qt::LeftButton, {}, mark + QPoint(20, 0));
    o.settle();
    CHECK(settings().get<V3f>("position") != V3f(0.5F, 0.2F, -5.0F));
    CHECK(settings().get<V3f>("position").y == Approx(0.2F));
    o.window.picture().recipe().choose({});
    CHECK_FALSE(plan.isVisible());
}

TEST_CASE("dragging the focus on the Sounding tints what is not sharp, until it rests",
          "[app][handles]") {
    Opened o;
    o.window.picture().recipe().addStep("depth_of_field");
    o.window.session().change({}, {}, [](Project& p) {
        p.recipe.steps[0].settings.set("lens", std::string("view"));
        p.recipe.steps[0].settings.set("f_number", 0.2F);
        p.recipe.steps[0].settings.set("focus", 4.0F);
    });
    o.settle();
    Sounding& sounding = o.window.picture().instrument<Sounding>();
    const QPoint from = sounding.handlePlace(o.recipe().steps[0].id, "focus").value().toPoint();
    const auto far = [&] {
        return o.view().grab().toImage().pixelColor(
            o.view().fromPicture(QPointF(150, kHeight / 2)).toPoint());
    };
    const QColor plain = far();
    QTest::mousePress(&sounding, Qt::LeftButton, {}, from);
    QTest::mouseMove(&sounding, from + QPoint(6, 0));
    QTest::mouseMove(&sounding, from + QPoint(8, 0));
    CHECK(far().blue() > plain.blue() + 20);
    QTest::mouseRelease(&sounding, Qt::LeftButton, {}, from + QPoint(8, 0));
    o.settle();
    CHECK(std::abs(far().blue() - plain.blue()) < 6);
}
