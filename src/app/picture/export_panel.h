#pragma once

#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;

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
    void write();
    void updateDepths();

    Session& m_session;
    QLineEdit* m_path;
    QComboBox* m_bits;
    QLabel* m_state;
    class Background* m_background;
};

}  // namespace noctis
