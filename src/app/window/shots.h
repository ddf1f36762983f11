#pragma once

#include <QSize>
#include <QString>

namespace noctis {

class MainWindow;

/// A tour of the main views on the demo data, one PNG each, the window being of that size.
/// Returns the application's exit status: 0, or 4 where a picture could not be written.
int takeShots(MainWindow& window, const QString& folder, const QSize& size);

}  // namespace noctis
