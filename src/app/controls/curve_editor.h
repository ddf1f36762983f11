#pragma once

#include "app/controls/value_editor.h"

namespace noctis {

/// A curve from 0 to 1 as a graph: drag points, click to add one, right-click to remove one. Keys: Page Up and
/// Down choose a point, arrows move it, Delete removes it.
class CurveGraph : public QWidget {
    Q_OBJECT
public:
    explicit CurveGraph(QWidget* parent = nullptr);

    void setCurve(const Curve& curve);
    [[nodiscard]] const Curve& curve() const { return m_curve; }
    /// Where a point of the graph is in the widget.
    [[nodiscard]] QPointF fromCurve(const V2f& place) const;

Q_SIGNALS:
    void moved(const noctis::Curve& curve);
    void rested();

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent* event) override;
    void leaveEvent(QEvent*) override;

private:
    [[nodiscard]] QRectF plot() const;
    [[nodiscard]] V2f toCurve(const QPointF& widget) const;
    [[nodiscard]] int pointAt(const QPointF& widget) const;
    /// Kept between its neighbours, so that the curve stays a function.
    void movePoint(int index, V2f to);
    void removePoint(int index);

    Curve m_curve;
    int m_chosen = -1;
    int m_over = -1;
    bool m_dragged = false;
};

ValueEditor* makeCurveEditor(const Parameter& parameter, const NameSource& names, QWidget* parent);

}  // namespace noctis
