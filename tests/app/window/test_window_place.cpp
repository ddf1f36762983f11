#include "app/window/window_place.h"

#include "support/files.h"

#include <QWidget>

#include <catch2/catch.hpp>

using namespace noctis;

TEST_CASE("a first window fits its screen, and fills one that is hardly larger", "[app][window]") {
    CHECK(firstWindowSize({3840, 2100}) == QSize(3072, 1680));
    CHECK(firstWindowSize({1440, 900}) == QSize(1280, 800));
    CHECK_FALSE(firstWindowSize({1024, 640}).isValid());
    CHECK_FALSE(firstWindowSize({1280, 800}).isValid());
}

TEST_CASE("a window opens where the last one was", "[app][window]") {
    const test::Folder folder;
    const QString file = QString::fromStdString((folder.path() / "noctis.ini").string());
    {
        QWidget first;
        first.setGeometry(60, 70, 410, 330);
        first.show();
        QSettings settings(file, QSettings::IniFormat);
        keepWindowPlace(first, settings);
    }
    QWidget second;
    placeWindow(second, QSettings(file, QSettings::IniFormat));
    CHECK(second.size() == QSize(410, 330));
    QWidget without;
    placeWindow(without, QSettings(file + "x", QSettings::IniFormat));
    // The screen of these tests is smaller than a window's usual size.
    CHECK(without.windowState() == Qt::WindowMaximized);
}
