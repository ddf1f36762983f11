#pragma once

#include <QWidget>

class QPushButton;
class QSpinBox;

namespace noctis {

class Session;

/// The frame's size in pixels, with its sides tied together or not; and the lens.
class FrameBar : public QWidget {
    Q_OBJECT
public:
    explicit FrameBar(Session& session, QWidget* parent = nullptr);

private:
    void refresh();
    void change(bool widthChanged);
    void showSizes(const QPoint& at);

    Session& m_session;
    QSpinBox* m_width;
    QSpinBox* m_height;
    QPushButton* m_lock;
};

}  // namespace noctis
