#include "app/picture/where_panel.h"

#include "app/controls/switch_box.h"
#include "app/controls/value_bar.h"
#include "app/picture/picture_room.h"
#include "app/picture/picture_view.h"
#include "app/picture/recipe_panel.h"
#include "app/picture/step_card.h"
#include "app/window/main_window.h"
#include "core/passes/pass_file.h"
#include "core/steps/registry.h"
#include "support/files.h"
#include "support/frames.h"
#include "support/windows.h"

#include <QApplication>
#include <QMenu>
#include <QPushButton>
#include <QTest>
#include <QTimer>

#include <catch2/catch.hpp>

using namespace noctis;
using test::Folder;
using test::waitFor;

namespace {

constexpr int kWidth = 192;
constexpr int kHeight = 108;

/// A window on a grey picture whose right half is farther than its left.
struct Opened {
    Folder folder;
    MainWindow window{folder / "data"};

    Opened() {
        PassSet set = test::greyFrame(kWidth, kHeight, 0.2F);
        set.put(test::passOf({PassKind::Depth, {}}, kWidth, kHeight,
                             [](int x, int, int) { return x < kWidth / 2 ? 4.0F : 40.0F; }));
        writePasses(folder / "frame.exr", set);
        window.show();
        window.open({folder / "frame.exr"});
        settle();
    }
    void settle() {
        QTest::qWait(180);
        REQUIRE(waitFor([&] { return window.picture().worker().idle(); }));
        QApplication::processEvents();
    }
    [[nodiscard]] PictureView& view() { return window.picture().view(); }
    [[nodiscard]] const Recipe& recipe() { return window.session().project().recipe; }
    /// Opens the menu of a button and takes an entry of it.
    void choose(QPushButton* button, const QString& entry) {
        REQUIRE(button != nullptr);
        QTimer::singleShot(50, [entry] {
            auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
            REQUIRE(menu != nullptr);
            for (QAction* action : menu->actions())
                if (action->text() == entry)
                    action->trigger();
            menu->close();
        });
        QTest::mouseClick(button, Qt::LeftButton);
        settle();
    }
    template <typename Widget> Widget* inCard(const char* step, const char* name) {
        auto* card = window.picture().recipe().findChild<StepCard*>(QLatin1String(step));
        REQUIRE(card != nullptr);
        return card->findChild<Widget*>(QLatin1String(name));
    }
};

}  // namespace

TEST_CASE("a step is limited by hand, and its place is shown over the picture or alone",
          "[app][where]") {
    Opened o;
    o.window.picture().recipe().addStep("grade");
    o.settle();
    o.choose(o.inCard<QPushButton>("grade", "limit"), "Depth");
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
