#pragma once

#include <vector>

class QWidget;

namespace noctis {

/// Where the Tab key stops in a window, in the order in which its layouts show it, whenever it was made.
std::vector<QWidget*> tabOrder(QWidget& window);

/// The stop after a widget, or before it, around the end; none if there is no stop.
QWidget* nextStop(QWidget& window, const QWidget* from, bool forwards);

}  // namespace noctis
