#pragma once

#include "core/image/camera.h"
#include "core/image/image.h"
#include "core/project/handles.h"

#include <QImage>
#include <QWidget>

#include <optional>
#include <vector>

namespace noctis {

/// The ball of directions flattened to a disc, with the viewer at its centre: how much of the picture faces
/// each way, lights as lamps, cones as rings, and the direction the surface under the pointer faces. The
/// projection preserves area.
class Bearing : public QWidget {
    Q_OBJECT
public:
    explicit Bearing(QWidget* parent = nullptr);

    void setCamera(const Camera& camera);
    /// Normals of the picture, in the world; empty clears the disc.
    void setNormals(const Image& normals);
    /// Shows the directions of these groups; chosen: the owner whose step is chosen.
    void setGroups(const std::vector<HandleGroup>& groups, const std::string& chosen);
    /// The direction that the surface under the pointer faces.
    void setNeedle(std::optional<V3f> direction);
    /// Keeps the world's up direction up, however the camera is tilted.
    void setLevel(bool level);
    [[nodiscard]] bool isLevel() const { return m_level; }
    /// Whether there is any direction to drag.
    [[nodiscard]] bool hasHandles() const { return !m_lamps.empty(); }

    /// Where a handle is, for tests that drag it.
    [[nodiscard]] QPointF handlePlace(const std::string& owner, const std::string& handle) const;
    [[nodiscard]] QPointF placeOf(const V3f& direction) const;
    [[nodiscard]] V3f directionAt(const QPointF& place) const;
    [[nodiscard]] QSize sizeHint() const override { return {236, 236}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {180, 180}; }

Q_SIGNALS:
    void handleMoved(const std::string& owner, const std::string& handle, const noctis::V3f& to);
    void handleRested();

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    struct Lamp {
        std::string owner;
        std::string id;
        QString label;
        V3f towards;
        float halfAngle = 0.0F;  ///< degrees; 0: no cone
    };
    /// The word for the axes in use.
    [[nodiscard]] static QRectF axesArea();
    [[nodiscard]] QPointF centre() const;
    [[nodiscard]] qreal radius() const;
    void measureAxes();
    void rebuild();
    void paintCone(QPainter& painter, const Lamp& lamp) const;
    void paintLamp(QPainter& painter, std::size_t index) const;
    [[nodiscard]] int lampAt(const QPointF& place) const;

    Camera m_camera;
    bool m_level = false;
    V3f m_right{1, 0, 0};
    V3f m_up{0, 1, 0};
    V3f m_viewer{0, 0, 1};
    Image m_normals;
    QImage m_disc;
    std::vector<Lamp> m_lamps;
    std::optional<V3f> m_needle;
    int m_grabbed = -1;
    int m_over = -1;
    int m_keyed = 0;
};

}  // namespace noctis
