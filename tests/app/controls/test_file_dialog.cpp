#include "app/controls/file_dialog.h"
#include "support/files.h"
#include "support/windows.h"

#include <QFileDialog>
#include <QLineEdit>
#include <QMessageBox>
#include <QTest>
#include <QTimer>

#include <catch2/catch.hpp>

using namespace noctis;
using namespace noctis::test;

namespace {

/// Asks, and types a name and Return into the dialog; what comes after it is answered with No and Escape.
struct Asked {
    QString file;
    bool warned = false;

    Asked(const QString& suggested, const QString& typed) {
        QTimer::singleShot(100, [&] {
            auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
            if (dialog == nullptr)
                return;
            auto* line = dialog->findChild<QLineEdit*>();
            if (!typed.isNull()) {
                line->selectAll();
                QTest::keyClicks(line, typed);
            }
            QTimer::singleShot(100, [&] {
                auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
                if (box == nullptr)
                    return;
                warned = true;
                QTest::mouseClick(box->button(QMessageBox::No), Qt::LeftButton);
                QTest::keyClick(dialog, Qt::Key_Escape);
            });
            QTest::keyClick(line, Qt::Key_Return);
        });
        file = askFileToWrite(nullptr, "Save", suggested, "Pictures (*.exr *.png)");
    }
};

QString in(const Folder& folder, const std::string& name) {
    return QString::fromStdString((folder / name).string());
}

}  // namespace

TEST_CASE("a name without an ending gets one before an existing file is asked about",
          "[app][files]") {
    const Folder folder;
    CHECK(Asked(in(folder, "a.png"), {}).file == in(folder, "a.png"));
    CHECK(Asked(in(folder, "a.png"), "b").file == in(folder, "b.png"));
    CHECK(Asked(in(folder, "a.png"), "b.tif").file == in(folder, "b.tif"));
    CHECK(Asked(QString::fromStdString(folder.path().string()), "b").file == in(folder, "b.exr"));

    folder.write("there.png", "kept");
    const Asked refused(in(folder, "a.png"), "there");
    CHECK(refused.warned);
    CHECK(refused.file.isEmpty());
}
