#include "app/window/window_place.h"

#include <QScreen>
#include <QWidget>

namespace noctis {

namespace {

constexpr QSize kUsual{1280, 800};
constexpr double kOfScreen = 0.8;
/// The room for title bar and frame.
constexpr QSize kAround{8, 40};

QString key() { return QStringLiteral("window"); }

}  // namespace

QSize firstWindowSize(QSize available) {
    const QSize room = available - kAround;
    if (room.width() < kUsual.width() || room.height() < kUsual.height())
        return {};
    return (available * kOfScreen).expandedTo(kUsual);
}

void placeWindow(QWidget& window, const QSettings& settings) {
    if (window.restoreGeometry(settings.value(key()).toByteArray()))
        return;
    const QSize size = firstWindowSize(window.screen()->availableSize());
    if (size.isValid())
        window.resize(size);
    else
        window.setWindowState(Qt::WindowMaximized);
}

void keepWindowPlace(const QWidget& window, QSettings& settings) {
    settings.setValue(key(), window.saveGeometry());
}

}  // namespace noctis
