#include "app/controls/endless_box.h"
#include "app/controls/number_box.h"

#include <QLineEdit>
#include <QTest>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

/// While it lives the system's language is one that writes 2,5 for two and a half.
struct German {
    QLocale before;
    German() { QLocale::setDefault(QLocale(QLocale::German, QLocale::Germany)); }
    ~German() { QLocale::setDefault(before); }
};

void type(QDoubleSpinBox& box, const QString& text) {
    box.selectAll();
    QTest::keyClicks(&box, text);
    QTest::keyClick(&box, Qt::Key_Return);
}

template <typename Box> void checkTyping(const char* which) {
    CAPTURE(which);
    const German german;
    Box box;
    box.setRange(0.0, 10'000.0);
    box.setDecimals(2);
    box.setSuffix(" m");
    box.show();
    type(box, "2.5");
    CHECK(box.value() == 2.5);
    CHECK(box.text().toStdString() == "2.50 m");
    type(box, "12,25");
    CHECK(box.value() == 12.25);
    CHECK(box.text().toStdString() == "12.25 m");
    type(box, "1234");
    CHECK(box.text().toStdString() == "1234.00 m");
    type(box, "1,5,5");
    CHECK(box.value() < 2.0);
}

}  // namespace

TEST_CASE("numbers have a point in any language, and a typed comma is one", "[app][controls]") {
    checkTyping<NumberBox>("number");
    checkTyping<EndlessBox>("endless");
}
