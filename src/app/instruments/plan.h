#pragma once

#include "app/look/label_places.h"
#include "core/passes/pass_set.h"

#include <QWidget>

#include <optional>
#include <vector>

namespace noctis {

/// A distance of the Plan that can be dragged.
struct PlanDistance {
    QString label;
    QColor colour;
    float metres = 0.0F;  ///< planar, from the camera
};

/// Something that stands in the Plan.
struct PlanMark {
    QString label;
    V3f position{0.0F};
    bool shines = false;
    bool movable = false;
};

/// A box along the world's axes.
struct PlanBox {
    V3f one{0.0F};  ///< any two opposite corners
    V3f other{0.0F};
};

/// A light with a direction but no place. It is drawn on a dome of directions, seen the way the Plan is: from
/// above, the rim is the horizon; from the side, it is level with what the camera looks at.
struct PlanSun {
    QString label;
    V3f towards{0, 1, 0};  ///< where it shines from, unit, in the world
};

/// The scene from above or from the side, with the camera's wedge: dots where surfaces are, lines at distances,
/// marks for lights and locators, suns on a dome, outlines of boxes. Camera, direction, distances, marks, suns
/// and boxes can be dragged; the wheel zooms.
class Plan : public QWidget {
    Q_OBJECT
public:
    explicit Plan(QWidget* parent = nullptr);

    void setCamera(const Camera& camera, float aspect);
    /// Surfaces, from a depth pass of that camera.
    void setDepth(const Image& depth);
    void setDistances(std::vector<PlanDistance> distances);
    void setMarks(std::vector<PlanMark> marks);
    void setBoxes(std::vector<PlanBox> boxes);
    void setSuns(std::vector<PlanSun> suns);
    void setFromSide(bool side);
    /// Makes the camera and its direction fixed.
    void setCameraHeld(bool held) { m_held = held; }
    [[nodiscard]] bool isFromSide() const { return m_side; }

    /// Where things are, for tests that drag them.
    [[nodiscard]] QPointF cameraPlace() const;
    [[nodiscard]] QPointF directionPlace() const;
    [[nodiscard]] QPointF distancePlace(std::size_t index) const;
    [[nodiscard]] QPointF markPlace(std::size_t index) const;
    [[nodiscard]] QPointF sunPlace(std::size_t index) const;
    /// Where a sun overhead stands; those at the horizon stand around it.
    [[nodiscard]] QPointF domeCentre() const;
    [[nodiscard]] const std::vector<PlanMark>& marks() const { return m_marks; }
    [[nodiscard]] const std::vector<PlanSun>& suns() const { return m_suns; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {240, 160}; }

Q_SIGNALS:
    void cameraMoved(const noctis::V3f& way);  ///< in the world, m
    void cameraTurned(float radians);          ///< to the left, or up when seen from the side
    void distanceMoved(std::size_t index, float metres);
    void markMoved(std::size_t index, const noctis::V3f& way);  ///< in the world, m
    void boxMoved(std::size_t index, const noctis::V3f& way);   ///< in the world, m
    void markReset(std::size_t index);                          ///< to where the scene has it
    void sunTurned(std::size_t index, const noctis::V3f& towards);
    void sunReset(std::size_t index);
    void rested();

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;

private:
    static constexpr qreal kHeader = 30.0;  ///< px above, for the title

    enum class Grab { None, Camera, Direction, Distance, Mark, Sun, Box };
    /// Along and across the camera's way, in metres from the camera: across is to the right, or up.
    [[nodiscard]] V2f local(const V3f& world) const;
    [[nodiscard]] QPointF place(const V2f& local) const;
    [[nodiscard]] V2f metresAt(const QPointF& point) const;
    [[nodiscard]] float halfAngle() const;
    [[nodiscard]] std::pair<Grab, std::size_t> grabAt(const QPointF& point) const;
    void measureAxes();
    [[nodiscard]] QPolygonF outlineOf(const PlanBox& box) const;
    void paintBoxes(QPainter& painter) const;
    [[nodiscard]] qreal domeRadius() const;
    /// The direction of a point of the dome, on the side of it where the sun stands now.
    [[nodiscard]] V3f directionAt(const QPointF& point, const PlanSun& sun) const;
    void paintSurfaces(QPainter& painter) const;
    void paintWedge(QPainter& painter) const;
    /// Places for names, clear of all handles.
    [[nodiscard]] LabelPlaces labelPlaces() const;
    void paintDistances(QPainter& painter, LabelPlaces& names) const;
    void paintMarks(QPainter& painter, LabelPlaces& names) const;
    void paintSuns(QPainter& painter, LabelPlaces& names) const;
    void paintCamera(QPainter& painter) const;
    /// A depth of the wedge, so far to the left or up from its middle.
    [[nodiscard]] QPointF wedgePlace(float turn, float depth) const;

    Camera m_camera;
    float m_aspect = 16.0F / 9.0F;
    V3f m_along{0, 0, -1};
    V3f m_across{1, 0, 0};
    float m_tilt = 0.0F;  ///< of the camera's axis against m_along, in the plane seen
    bool m_side = false;
    bool m_held = false;
    float m_range = 20.0F;                      ///< m, from the camera to the far edge
    std::vector<std::pair<V3f, float>> m_dots;  ///< and their depth
    std::vector<PlanDistance> m_distances;
    std::vector<PlanMark> m_marks;
    std::vector<PlanSun> m_suns;
    std::vector<PlanBox> m_boxes;
    Grab m_grab = Grab::None;
    std::size_t m_index = 0;
    QPointF m_last;
};

}  // namespace noctis
