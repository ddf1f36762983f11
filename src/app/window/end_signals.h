#pragma once

class QWidget;

namespace noctis {

/// Closes the window when the system asks Noctis to end (SIGTERM, SIGHUP, SIGINT), so that unsaved work is kept. A file
/// that grows beyond its limit is an error of its writer. Once a process.
void closeOnSignals(QWidget& window);

}  // namespace noctis
