#pragma once

#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace noctis {

class Session;

/// Queues the finished picture, at full size, before all that waits.
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
};

}  // namespace noctis
