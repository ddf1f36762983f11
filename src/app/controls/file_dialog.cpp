#include "app/controls/file_dialog.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QRegularExpression>

namespace noctis {

namespace {

QString firstEnding(const QString& filter) {
    static const QRegularExpression pattern(QStringLiteral("\\*\\.(\\w+)"));
    return pattern.match(filter).captured(1);
}

}  // namespace

QString askFileToWrite(QWidget* parent, const QString& title, const QString& suggested,
                       const QString& filter) {
    const QFileInfo file(suggested);
    QFileDialog dialog(parent, title, file.isDir() ? suggested : file.path(), filter);
    dialog.setAcceptMode(QFileDialog::AcceptSave);
    dialog.setFileMode(QFileDialog::AnyFile);
    const QString ending = file.isDir() ? QString() : file.suffix();
    dialog.setDefaultSuffix(ending.isEmpty() ? firstEnding(filter) : ending);
    if (!file.isDir())
        dialog.selectFile(file.fileName());
    return dialog.exec() == QDialog::Accepted ? dialog.selectedFiles().value(0) : QString();
}

}  // namespace noctis
