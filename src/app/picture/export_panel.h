#pragma once

#include "app/session/file_writing.h"

#include <QWidget>

#include <memory>

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace noctis {

class Session;

/// Writes the finished picture, at full size, while work goes on.
class ExportPanel : public QWidget {
    Q_OBJECT
public:
    explicit ExportPanel(Session& session, QWidget* parent = nullptr);

    void present();
    /// The pass that is shown in the picture's place; empty: none.
    void setShownPass(const QString& name);

Q_SIGNALS:
    void closed();

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    void write();
    void updateState();
    void updateDepths();

    Session& m_session;
    QLineEdit* m_path;
    QString m_shownPass;
    QString m_offered;  ///< the file that was offered last
    QComboBox* m_bits;
    QLabel* m_state;
    QPushButton* m_write;
    std::unique_ptr<FileWriting> m_writing;  ///< last: it uses all of the above
};

}  // namespace noctis
