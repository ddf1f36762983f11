#include "app/controls/elided_label.h"
#include "app/controls/lower_area.h"
#include "app/controls/wrap_line.h"
#include "app/look/theme.h"
#include "app/look/wipe_line.h"

#include <QImage>
#include <QPainter>
#include <QPushButton>
#include <QTest>
#include <QVBoxLayout>

#include <catch2/catch.hpp>

using namespace noctis;

// Controls that share a line, give room, or are cut.

namespace {

QWidget* box(int width) {
    auto* widget = new QWidget;
    auto* layout = new QHBoxLayout(widget);
    layout->setContentsMargins(0, 0, 0, 0);
    auto* fixed = new QWidget;
    fixed->setFixedSize(width, 20);
    layout->addWidget(fixed);
    return widget;
}

bool hasInk(const QImage& image, int from, int to) {
    for (int x = from; x < to; ++x)
        for (int y = 0; y < image.height(); ++y)
            if (image.pixel(x, y) != image.pixel(0, 0))
                return true;
    return false;
}

/// In a window 500 px wide.
void showAtTop(QWidget& window, WrapLine& line) {
    auto* layout = new QVBoxLayout(&window);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(&line);
    layout->addStretch(1);
    window.resize(500, 200);
    window.show();
    QTest::qWait(10);
}

}  // namespace

TEST_CASE("two groups share a line where they fit, and have one each where not",
          "[app][controls]") {
    QWidget* left = box(200);
    QWidget* right = box(150);
    auto* line = new WrapLine(left, right);
    QWidget window;
    showAtTop(window, *line);
    CHECK(left->y() == right->y());
    CHECK(right->geometry().right() == 499);
    CHECK(line->height() == 20);
    window.resize(300, 200);
    QTest::qWait(10);
    CHECK(right->y() >= 20);
    CHECK(right->y() + 20 == line->height());
    CHECK(right->x() == 0);
    CHECK(right->width() == 150);
    window.resize(500, 200);
    QTest::qWait(10);
    CHECK(line->height() == 20);
}

TEST_CASE("a group that expands takes what the other one leaves, or a line of its own",
          "[app][controls]") {
    QWidget* wide = box(100);
    QWidget* left = lineGroup({wide}, 4, wide);
    QWidget* right = box(150);
    QWidget window;
    showAtTop(window, *new WrapLine(left, right));
    CHECK(left->width() > 300);
    CHECK(left->geometry().right() < right->x());
    window.resize(200, 200);
    QTest::qWait(10);
    CHECK(left->width() == 200);
    CHECK(right->y() > left->y());
}

TEST_CASE("instruments are lowered to their headings and raised again, by hand and by key",
          "[app][controls]") {
    auto* inside = new QWidget;
    inside->setMinimumHeight(120);
    LowerArea area(*inside, 120, 240);
    area.resize(400, 120);
    area.show();
    QTest::qWait(10);
    auto* button = area.findChild<QPushButton*>("lower");
    REQUIRE(button != nullptr);
    CHECK(button->geometry().right() < 400);
    QTest::mouseClick(button, Qt::LeftButton);
    CHECK(area.lowered());
    CHECK(area.maximumHeight() < 40);
    CHECK(inside->height() >= 120);  // it is covered, not squeezed
    CHECK(button->text() == "Expand");
    QTest::keyClick(button, Qt::Key_Space);
    CHECK_FALSE(area.lowered());
    CHECK(area.minimumHeight() == 120);
}

TEST_CASE("a line that is cut keeps all of its text", "[app][controls]") {
    ElidedLabel label;
    label.setText("dinghy    9.12 m deep    9.60 m away    4.80 m from the last place");
    label.resize(120, 20);
    label.show();
    QTest::qWait(10);
    const QImage cut = label.grab().toImage();
    label.resize(label.fontMetrics().horizontalAdvance(label.text()) + 10, 20);
    const QImage whole = label.grab().toImage();
    CHECK(label.text().endsWith("last place"));
    CHECK(hasInk(whole, whole.width() - 40, whole.width() - 12));
    bool differs = false;  // the sign at its end stands where there were letters
    for (int x = 90; x < 120 && !differs; ++x)
        for (int y = 0; y < 20; ++y)
            differs = differs || cut.pixel(x, y) != whole.pixel(x, y);
    CHECK(differs);
}

TEST_CASE("a wipe shows the other picture at its left alone", "[app][controls]") {
    WipeLine wipe;
    wipe.dragTo({60, 0}, 200.0);
    CHECK(wipe.part == Approx(0.3));
    CHECK(wipe.isUnder({65, 40}, 200.0));
    CHECK_FALSE(wipe.isUnder({90, 40}, 200.0));
    QImage picture(200, 80, QImage::Format_RGB32);
    picture.fill(Qt::black);
    {
        QPainter painter(&picture);
        wipe.paint(painter, {200, 80}, [&] { painter.fillRect(0, 0, 200, 80, Qt::red); }, {}, {});
    }
    CHECK(picture.pixelColor(20, 70) == QColor(Qt::red));
    CHECK(picture.pixelColor(120, 70) == QColor(Qt::black));
    wipe.dragTo({-500, 0}, 200.0);
    CHECK(wipe.part > 0.0);
}
