#include "app/controls/endless_box.h"

#include <QLineEdit>
#include <QTest>

#include <catch2/catch.hpp>

using namespace noctis;

TEST_CASE("the largest value of a box is shown and typed as a word", "[app][controls]") {
    EndlessBox box;
    box.setRange(0.01, 1e7);
    box.setSuffix(" m");
    box.setValue(40.0);
    CHECK(box.text() == "40.00 m");
    box.setValue(1e7);
    CHECK(box.text() == "endless");
    box.setValue(2.5);
    CHECK(box.text() == "2.50 m");
    box.show();
    box.selectAll();
    QTest::keyClicks(&box, "endless");
    QTest::keyClick(&box, Qt::Key_Return);
    CHECK(box.value() == 1e7);
    box.selectAll();
    QTest::keyClicks(&box, "12");
    QTest::keyClick(&box, Qt::Key_Return);
    CHECK(box.value() == 12.0);
    CHECK(box.text() == "12.00 m");
}
