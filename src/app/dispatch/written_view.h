#pragma once

#include "app/look/viewport.h"
#include "core/dispatch/job_preview.h"

#include <QImage>
#include <QWidget>

namespace noctis {

/// What a file will hold, on a ground that can be changed; zoomed with the wheel, moved by dragging.
class WrittenView : public QWidget {
    Q_OBJECT
public:
    enum class Ground { Checker, Light, Dark, Picture };

    explicit WrittenView(QWidget* parent = nullptr);

    /// One of the same size keeps its zoom and place.
    void setPreview(JobPreview preview);
    [[nodiscard]] const JobPreview& preview() const { return m_preview; }
    /// What stands in the middle while there is nothing to see.
    void setInstead(const QString& text);
    void setGround(Ground ground);
    void setGroundPicture(const QImage& picture);
    void fit();
    void showWholePixels();
    /// What a place of the file holds; empty beside it.
    [[nodiscard]] QString valuesAt(const QPointF& widget) const;
    /// Where the file's picture lies in the widget.
    [[nodiscard]] QRectF frame() const { return m_viewport.frame(); }

Q_SIGNALS:
    void pointed(const QString& values);

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent*) override;
    void wheelEvent(QWheelEvent* event) override;

private:
    void paintGround(QPainter& painter, const QRectF& frame) const;
    void paintCells(QPainter& painter) const;

    JobPreview m_preview;
    QImage m_image;
    QImage m_groundPicture;
    QString m_instead;
    Ground m_ground = Ground::Checker;
    Viewport m_viewport{Viewport::Limits{}};
    QPointF m_grabbed;
};

}  // namespace noctis
