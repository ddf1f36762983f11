#include "app/cards/step_card.h"
#include "app/look/theme.h"
#include "app/picture/picture_room.h"
#include "app/picture/recipe_panel.h"
#include "app/relief/relief_room.h"
#include "support/surveyed.h"

#include <QApplication>
#include <QPointer>

#include <set>

using namespace noctis;
using namespace noctis::test;

// Whoever works by keyboard sees where the keys go.

namespace {

constexpr int kLeastMarked = 12;

bool isNear(QRgb a, const QColor& b) {
    return std::abs(qRed(a) - b.red()) + std::abs(qGreen(a) - b.green()) +
               std::abs(qBlue(a) - b.blue()) <
           60;
}

QImage around(const QWidget& widget) {
    constexpr int kAround = 4;
    QWidget* const window = widget.window();
    return window
        ->grab({widget.mapTo(window, QPoint(-kAround, -kAround)),
                widget.size() + QSize(2 * kAround, 2 * kAround)})
        .toImage();
}

/// Pixels that took the colour of focus, which is text's on controls filled with the accent's.
int marked(const QImage& with, const QImage& without) {
    int count = 0;
    for (int y = 0; y < with.height(); ++y)
        for (int x = 0; x < with.width(); ++x) {
            const QRgb is = with.pixel(x, y);
            const bool ofFocus = isNear(is, theme::kAccent) || isNear(is, theme::kText);
            count += ofFocus && is != without.pixel(x, y) ? 1 : 0;
        }
    return count;
}

/// Goes through a window by Tab, and names the stops that show nothing.
QStringList stopsUnseen(QWidget& window, int& stops) {
    QStringList unseen;
    std::set<QWidget*> been;
    window.setFocus();
    for (int i = 0; i < 300; ++i) {
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Tab);
        const QPointer<QWidget> stop = QApplication::focusWidget();
        if (stop == nullptr || !been.insert(stop).second)
            break;
        const QString name = QStringLiteral("%1 %2 %3")
                                 .arg(QLatin1String(stop->metaObject()->className()),
                                      stop->objectName(), stop->accessibleName());
        QApplication::processEvents();
        const QImage with = stop ? around(*stop) : QImage();
        if (stop)
            stop->clearFocus();
        QApplication::processEvents();
        if (!stop)
            return unseen << name + " goes while it has the focus";
        const QImage without = around(*stop);
        stop->setFocus(Qt::TabFocusReason);
        if (QApplication::focusWidget() == nullptr)
            return unseen << name + " loses it";
        if (marked(with, without) < kLeastMarked)
            unseen << name;
    }
    stops += static_cast<int>(been.size());
    return unseen;
}

}  // namespace

TEST_CASE("every stop of the Tab key shows that it has the focus", "[app][keyboard]") {
    Surveyed o;
    o.window.activateWindow();
    REQUIRE(waitFor([&] { return o.window.isActiveWindow(); }));
    int stops = 0;
    SECTION("in Survey") {
        CHECK(stopsUnseen(o.window, stops).join("\n").toStdString() == "");
        CHECK(stops > 30);
    }
    SECTION("in Picture, with a step open") {
        o.window.showRoom(o.window.picture());
        o.session.change({}, {}, [](Project&) {});
        o.window.picture().recipe().addStep("fog");
        QTest::qWait(100);
        CHECK(stopsUnseen(o.window, stops).join("\n").toStdString() == "");
        CHECK(stops > 20);
    }
    SECTION("in Relief") {
        o.window.showRoom(o.window.relief());
        QTest::qWait(100);
        CHECK(stopsUnseen(o.window, stops).join("\n").toStdString() == "");
        CHECK(stops > 10);
    }
}

TEST_CASE("Tab goes through an open step from top to bottom, and back", "[app][keyboard]") {
    Surveyed o;
    o.window.showRoom(o.window.picture());
    RecipePanel& recipe = o.window.picture().recipe();
    recipe.addStep("fog");
    recipe.addStep("depth_of_field");
    recipe.addStep("fog");
    QTest::qWait(100);
    o.window.setFocus();
    std::vector<QWidget*> inside;
    for (int i = 0; i < 200; ++i) {
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Tab);
        QWidget* const stop = QApplication::focusWidget();
        if (std::find(inside.begin(), inside.end(), stop) != inside.end())
            break;
        if (recipe.isAncestorOf(stop))
            inside.push_back(stop);
    }
    REQUIRE(inside.size() > 15);
    const auto topOf = [&](QWidget* stop) { return stop->mapTo(&recipe, QPoint(0, 0)).y(); };
    for (std::size_t i = 1; i < inside.size(); ++i) {
        CAPTURE(i, inside[i]->metaObject()->className(), inside[i]->objectName().toStdString());
        CHECK(topOf(inside[i]) + inside[i]->height() > topOf(inside[i - 1]));
    }
    inside[5]->setFocus();
    QTest::keyClick(inside[5], Qt::Key_Backtab);
    CHECK(QApplication::focusWidget() == inside[4]);
}
