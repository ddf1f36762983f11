#pragma once

#include "app/session/background.h"

#include <QTimer>
#include <QWidget>

#include <atomic>
#include <stop_token>

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

Q_SIGNALS:
    void closed();

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    /// One at a time; closing Noctis waits for it.
    void write();
    void updateState();
    void updateDepths();

    Session& m_session;
    QLineEdit* m_path;
    QComboBox* m_bits;
    QLabel* m_state;
    QPushButton* m_write;
    QTimer m_shown;  ///< shows the progress while a picture is made
    std::stop_source m_stop;
    std::atomic<int> m_progress = 0;  ///< percent
    Background m_background{this};    ///< last: it uses all of the above
};

}  // namespace noctis
