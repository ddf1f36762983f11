#include "app/look/theme.h"

#include <QApplication>
#include <QDialogButtonBox>
#include <QFileDialog>
#include <QPushButton>
#include <QStyle>
#include <QToolButton>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

/// How many pixels an icon fills, all of which are to be of that colour.
int filledBy(const QIcon& icon, const QColor& colour) {
    const QImage image = icon.pixmap(32, 32).toImage().convertToFormat(QImage::Format_ARGB32);
    int filled = 0;
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x)
            if (const QColor pixel = image.pixelColor(x, y); pixel.alpha() > 200) {
                REQUIRE(std::abs(pixel.red() - colour.red()) < 12);
                REQUIRE(std::abs(pixel.green() - colour.green()) < 12);
                REQUIRE(std::abs(pixel.blue() - colour.blue()) < 12);
                ++filled;
            }
    return filled;
}

}  // namespace

TEST_CASE("the file dialog has the application's icons, and its buttons have none", "[app][look]") {
    QFileDialog dialog;
    dialog.setOption(QFileDialog::DontUseNativeDialog);
    dialog.setAcceptMode(QFileDialog::AcceptSave);
    int buttons = 0;
    for (const QToolButton* button : dialog.findChildren<QToolButton*>())
        if (!button->icon().isNull() && button->objectName().contains("Button")) {
            INFO(button->objectName().toStdString());
            CHECK(filledBy(button->icon(), theme::kQuiet) > 10);
            ++buttons;
        }
    CHECK(buttons >= 6);
    CHECK(filledBy(QApplication::style()->standardIcon(QStyle::SP_DirIcon), theme::kQuiet) > 10);
    CHECK(filledBy(QApplication::style()->standardIcon(QStyle::SP_FileIcon), theme::kQuiet) > 10);
    const auto* box = dialog.findChild<QDialogButtonBox*>();
    REQUIRE(box != nullptr);
    for (const QAbstractButton* button : box->buttons())
        CHECK(button->icon().isNull());
}
