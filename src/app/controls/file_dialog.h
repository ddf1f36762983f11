#pragma once

#include <QString>

class QWidget;

namespace noctis {

/// Asks for a file to write; empty if nothing was chosen. A name without an ending gets that of the suggested
/// file, or the filter's first, before an existing file is asked about.
QString askFileToWrite(QWidget* parent, const QString& title, const QString& suggested,
                       const QString& filter);

}  // namespace noctis
