#pragma once

#include <QWidget>

class QMenu;
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
    void change(const QSpinBox& width, const QSpinBox& height, bool widthChanged);
    void showSizes(const QPoint& at);
    [[nodiscard]] QWidget* sidesRow(QMenu& menu);

    Session& m_session;
    QPushButton* m_size;
};

}  // namespace noctis
