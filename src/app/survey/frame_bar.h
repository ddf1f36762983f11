#pragma once

#include "core/image/camera.h"

#include <QWidget>

#include <functional>

class QDoubleSpinBox;
class QPushButton;
class QSpinBox;

namespace noctis {

class Session;

/// The frame's size in pixels, with its sides tied together or not.
class FrameBar : public QWidget {
    Q_OBJECT
public:
    explicit FrameBar(Session& session, QWidget* parent = nullptr);

private:
    void refresh();
    void change(bool widthChanged);
    void showSizes(const QPoint& at);
    void changeLens(const std::function<void(Camera&)>& edit);

    Session& m_session;
    QSpinBox* m_width;
    QSpinBox* m_height;
    QPushButton* m_lock;
    QDoubleSpinBox* m_lens;
    QPushButton* m_parallel;
};

}  // namespace noctis
