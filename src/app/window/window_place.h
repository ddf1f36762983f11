#pragma once

#include <QSettings>
#include <QSize>

class QWidget;

namespace noctis {

/// How large a new window is on a screen with so much room; none where it should fill the screen.
QSize firstWindowSize(QSize available);

/// Puts a window where the last one was; the first gets a size that fits the screen.
void placeWindow(QWidget& window, const QSettings& settings);
void keepWindowPlace(const QWidget& window, QSettings& settings);

}  // namespace noctis
