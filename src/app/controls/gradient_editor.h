#pragma once

#include "app/controls/value_editor.h"

namespace noctis {

/// A gradient as a bar of its colours above its stops: drag a stop, click beside them to add one, right-click
/// to remove one. Keys: Page Up and Down choose a stop, arrows move it, Delete removes it.
class GradientBar : public QWidget {
    Q_OBJECT
public:
    explicit GradientBar(QWidget* parent = nullptr);

    void setGradient(const Gradient& gradient);
    [[nodiscard]] const Gradient& gradient() const { return m_gradient; }
    /// The stop whose colour is edited.
    [[nodiscard]] int chosen() const { return m_chosen; }
    void setColour(const LinearRgb& colour);
    /// Where a stop at a place from 0 to 1 is in the widget.
    [[nodiscard]] QPointF fromPlace(float at) const;

Q_SIGNALS:
    void moved(const noctis::Gradient& gradient);
    void rested();
    void chose(int stop);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF bar() const;
    [[nodiscard]] float placeOf(qreal x) const;
    [[nodiscard]] int stopAt(qreal x) const;
    void choose(int stop);
    /// Kept between its neighbours, so that positions stay in order.
    void moveStop(float to);
    void removeStop(int stop);

    Gradient m_gradient;
    int m_chosen = 0;
    bool m_dragged = false;
};

ValueEditor* makeGradientEditor(const Parameter& parameter, const NameSource& names,
                                QWidget* parent);

}  // namespace noctis
