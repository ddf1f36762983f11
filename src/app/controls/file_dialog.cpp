#include "app/controls/file_dialog.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QHeaderView>
#include <QRegularExpression>
#include <QTreeView>

namespace noctis {

namespace {

constexpr QSize kDialogSize(860, 520);

QString firstEnding(const QString& filter) {
    static const QRegularExpression pattern(QStringLiteral("\\*\\.(\\w+)"));
    return pattern.match(filter).captured(1);
}

/// Runs the dialog, with its columns as wide as their texts.
QStringList answerOf(QFileDialog& dialog, const QString& from) {
    const QFileInfo file(from);
    dialog.setDirectory(file.isDir() ? from : file.path());
    if (!file.isDir() && !file.fileName().isEmpty())
        dialog.selectFile(file.fileName());
    dialog.resize(kDialogSize);
    for (const QTreeView* files : dialog.findChildren<QTreeView*>()) {
        files->header()->setSectionResizeMode(QHeaderView::ResizeToContents);
        files->header()->setSectionResizeMode(0, QHeaderView::Stretch);
    }
    return dialog.exec() == QDialog::Accepted ? dialog.selectedFiles() : QStringList();
}

QStringList askToRead(QWidget* parent, const QString& title, const QString& from,
                      const QString& filter, QFileDialog::FileMode mode) {
    QFileDialog dialog(parent, title, {}, filter);
    dialog.setFileMode(mode);
    dialog.setOption(QFileDialog::HideNameFilterDetails);  // there are many
    return answerOf(dialog, from);
}

}  // namespace

QString askFileToWrite(QWidget* parent, const QString& title, const QString& suggested,
                       const QString& filter) {
    QFileDialog dialog(parent, title, {}, filter);
    dialog.setAcceptMode(QFileDialog::AcceptSave);
    dialog.setFileMode(QFileDialog::AnyFile);
    const QFileInfo file(suggested);
    const QString ending = file.isDir() ? QString() : file.suffix();
    dialog.setDefaultSuffix(ending.isEmpty() ? firstEnding(filter) : ending);
    return answerOf(dialog, suggested).value(0);
}

QStringList askFilesToRead(QWidget* parent, const QString& title, const QString& from,
                           const QString& filter) {
    return askToRead(parent, title, from, filter, QFileDialog::ExistingFiles);
}

QString askFileToRead(QWidget* parent, const QString& title, const QString& from,
                      const QString& filter) {
    return askToRead(parent, title, from, filter, QFileDialog::ExistingFile).value(0);
}

QString askFolder(QWidget* parent, const QString& title, const QString& from) {
    QFileDialog dialog(parent, title);
    dialog.setFileMode(QFileDialog::Directory);
    dialog.setOption(QFileDialog::ShowDirsOnly);
    return answerOf(dialog, from).value(0);
}

}  // namespace noctis
