#pragma once

#include "core/dispatch/job_queue.h"

#include <QWidget>

class QPushButton;

namespace noctis {

class ElidedLabel;

/// A job in the queue: its picture, what it is, how far it is, and what can be done with it.
class QueueCard : public QWidget {
    Q_OBJECT
public:
    explicit QueueCard(std::string id, QWidget* parent = nullptr);

    void showJob(const QueuedJob& queued, bool paused);
    [[nodiscard]] const std::string& id() const { return m_id; }

Q_SIGNALS:
    void stopAsked();
    void retryAsked();
    void removeAsked();
    void folderAsked();
    void dragged(int y);  ///< to that place of its parent
    void moveAsked(int by);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    std::string m_id;
    QImage m_picture;
    float m_progress = 0.0F;
    bool m_pressed = false;
    bool m_dragging = false;
    QPoint m_from;
    ElidedLabel* m_title;
    ElidedLabel* m_detail;
    ElidedLabel* m_state;
    QWidget* m_bar;
    QPushButton* m_stop;
    QPushButton* m_retry;
    QPushButton* m_folder;
    QPushButton* m_remove;
};

}  // namespace noctis
