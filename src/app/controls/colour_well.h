#pragma once

#include "core/image/image.h"

#include <QColor>
#include <QWidget>

namespace noctis {

/// A scene-linear colour as controls show it, clipped at white.
QColor shownColour(const LinearRgb& colour);

/// A scene-linear colour: a well, and three bars beside it for lightness, hue and strength, which are dragged
/// sideways.
class ColourWell : public QWidget {
    Q_OBJECT
public:
    explicit ColourWell(QString label, QWidget* parent = nullptr);

    void setColour(const LinearRgb& colour);
    [[nodiscard]] LinearRgb colour() const { return m_colour; }
    [[nodiscard]] QSize sizeHint() const override { return {200, 56}; }

Q_SIGNALS:
    void moved(const noctis::LinearRgb& colour);
    void rested();

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF bar(int part) const;
    [[nodiscard]] QString reading(int part) const;
    void setPart(int part, float value);

    QString m_label;
    LinearRgb m_colour;
    float m_parts[3] = {0.0F, 0.5F, 0.0F};  ///< lightness, hue, strength, 0..1
    int m_part = -1;
    int m_chosen = 0;
};

}  // namespace noctis
