#pragma once

#include <QWidget>

namespace noctis {

/// The view's exposure in stops: dragged sideways, reset by a double click.
class ExposureField : public QWidget {
    Q_OBJECT
public:
    explicit ExposureField(QWidget* parent = nullptr);
    void setStops(float stops);
    [[nodiscard]] QSize sizeHint() const override { return {72, 24}; }

Q_SIGNALS:
    void moved(float stops);
    void rested();

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void moveTo(float stops);
    float m_stops = 0.0F;
    float m_grabbed = 0.0F;
    qreal m_grabbedX = 0.0;
};

}  // namespace noctis
