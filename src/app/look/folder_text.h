#pragma once

#include <QDir>
#include <QString>

#include <filesystem>

namespace noctis {

/// A folder as it is shown and typed: below home from "~/" on.
inline QString folderText(const std::filesystem::path& folder) {
    const QString whole = QString::fromStdString(folder.string());
    const QString home = QDir::homePath();
    if (whole == home)
        return QStringLiteral("~/");
    return whole.startsWith(home + QLatin1Char('/')) ? QStringLiteral("~") + whole.mid(home.size())
                                                     : whole;
}

}  // namespace noctis
