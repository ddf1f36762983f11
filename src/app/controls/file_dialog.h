#pragma once

#include <QStringList>

class QWidget;

namespace noctis {

/// Asks for a file to write; empty if nothing was chosen. A name without an ending gets that of the suggested
/// file, or the filter's first, before an existing file is asked about.
QString askFileToWrite(QWidget* parent, const QString& title, const QString& suggested,
                       const QString& filter);

/// Asks for files to read; empty if none was chosen. from: a folder, or a file to begin at.
QStringList askFilesToRead(QWidget* parent, const QString& title, const QString& from,
                           const QString& filter = {});
/// The same for one file.
QString askFileToRead(QWidget* parent, const QString& title, const QString& from,
                      const QString& filter = {});

/// Asks for a folder; empty if none was chosen.
QString askFolder(QWidget* parent, const QString& title, const QString& from);

}  // namespace noctis
