#include "app/look/theme.h"

#include <QApplication>
#include <QPalette>

#include <cmath>
#include <utility>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

/// Source: WCAG 2.2, relative luminance and contrast ratio.
double luminanceOf(const QColor& colour) {
    const auto linear = [](double v) {
        return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
    };
    return 0.2126 * linear(colour.redF()) + 0.7152 * linear(colour.greenF()) +
           0.0722 * linear(colour.blueF());
}

double contrast(const QColor& a, const QColor& b) {
    const auto [dark, light] = std::minmax(luminanceOf(a), luminanceOf(b));
    return (light + 0.05) / (dark + 0.05);
}

}  // namespace

TEST_CASE("text of every kind stands out from what it is written on", "[app][theme]") {
    CHECK(contrast(Qt::black, Qt::white) == Approx(21.0));
    for (const QColor& text : {theme::kText, theme::kQuiet, theme::kDisabled, theme::kAccent,
                               theme::kNear, theme::kFarText, theme::kWarning})
        for (const QColor& behind :
             {theme::kPanel, theme::kRaised, theme::kSurround, theme::kField}) {
            CAPTURE(text.name().toStdString(), behind.name().toStdString());
            CHECK(contrast(text, behind) >= 4.5);
        }
    CHECK(contrast(theme::kText, theme::kSelected) >= 4.5);
    CHECK(contrast(QApplication::palette().color(QPalette::HighlightedText), theme::kAccent) >=
          4.5);
}
