#pragma once

#include "core/settings/parameter.h"

#include <QPointer>
#include <QWidget>

namespace noctis {

class LineOver;

/// A number with its label and unit: drag the bar, use the arrow keys, or type after Enter or a double click.
class ValueBar : public QWidget {
    Q_OBJECT
public:
    ValueBar(QString label, Unit unit, Range range, QWidget* parent = nullptr);

    void setValue(float value);
    /// The word for a value: shown instead of it, and accepted when typed. One beyond the bar is at its end.
    void setUnset(const QString& meaning, float value);
    /// Text to show instead of a number that has no meaning at present; empty: the number.
    void setInstead(const QString& text);
    [[nodiscard]] float value() const { return m_value; }
    /// The value as it is shown.
    [[nodiscard]] QString text() const;
    [[nodiscard]] QSize sizeHint() const override { return {200, 24}; }
    /// The bar itself, for tests that drag it.
    [[nodiscard]] QRect track() const;

Q_SIGNALS:
    void moved(float value);  ///< during a drag
    void rested();            ///< a drag ended, or a value was typed

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;

private:
    [[nodiscard]] float placeOf(float value) const;
    [[nodiscard]] float valueAt(float place) const;
    void moveTo(float value);
    void edit();
    void takeTyped(const QString& text);

    QString m_label;
    QString m_instead;
    QString m_unset;
    float m_unsetAt = 0.0F;
    Unit m_unit;
    Range m_range;
    float m_value = 0.0F;
    float m_grabbedPlace = 0.0F;
    int m_grabbedX = 0;
    bool m_dragging = false;
    bool m_inMillimetres = false;  ///< what is typed into the editor
    QPointer<LineOver> m_editor;
};

}  // namespace noctis
