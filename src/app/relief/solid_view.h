#pragma once

#include "app/session/background.h"
#include "core/relief/map_picture.h"
#include "core/relief/solid_picture.h"

#include <QElapsedTimer>
#include <QImage>
#include <QWidget>

#include <memory>

namespace noctis {

/// The map as a solid, traced with our own rays. Drag to orbit, turn the wheel to come nearer.
class SolidView : public QWidget {
    Q_OBJECT
public:
    explicit SolidView(QWidget* parent = nullptr);

    /// picture: colours to lay on, encoded; empty: plain.
    void setMap(const std::shared_ptr<const FieldPyramid>& map, const Image& picture);
    void setLight(const V3f& towardsLight);
    [[nodiscard]] const QImage& shown() const { return m_image; }
    [[nodiscard]] bool building() const { return m_background.running(); }

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override { redraw(); }
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void redraw();
    void buildNext();

    std::shared_ptr<const Solid> m_solid;
    std::shared_ptr<const FieldPyramid> m_waiting;
    Image m_picture;
    V3f m_light{-0.6F, 0.6F, 0.53F};
    float m_turn = 24.0F;
    float m_up = 38.0F;
    float m_near = 1.0F;
    QPointF m_last;
    QImage m_image;
    QString m_why;
    bool m_stale = true;
    Background m_background{this};
};

}  // namespace noctis
