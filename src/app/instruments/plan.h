#pragma once

#include "app/instruments/instrument.h"
#include "app/look/label_places.h"

#include <array>
#include <vector>

namespace noctis {

/// A distance of the Plan that can be dragged.
struct PlanDistance {
    HandleRef handle;
    QString label;
    QColor colour;
    float metres = 0.0F;  ///< planar, from the camera
};

/// Something that stands in the Plan.
struct PlanMark {
    HandleRef handle;  ///< without an owner it can't be moved
    QString label;
    V3f position{0.0F};
    bool shines = false;

    [[nodiscard]] bool movable() const { return !handle.owner.empty(); }
};

/// A box along the world's axes.
struct PlanBox {
    std::array<HandleRef, 2> handles;  ///< of any two opposite corners
    V3f one{0.0F};
    V3f other{0.0F};
};

/// A light with a direction but no place. It is drawn on a dome of directions, seen the way the Plan is: from
/// above, the rim is the horizon; from the side, it is level with what the camera looks at.
struct PlanSun {
    HandleRef handle;
    QString label;
    V3f towards{0, 1, 0};  ///< where it shines from, unit, in the world
};

/// The scene from above or from the side, with the camera's wedge: dots where surfaces are, lines at distances,
/// marks for lights and locators, suns on a dome, outlines of boxes. Camera, direction, distances, marks, suns
/// and boxes can be dragged; the wheel zooms.
class Plan : public Instrument {
    Q_OBJECT
public:
    explicit Plan(QWidget* parent = nullptr);

    /// Its camera, its surfaces, and where its lights are.
    void setFrame(const MeasuredFrame& frame) override;
    /// Shows the points of the step that is chosen.
    void setGroups(const std::vector<HandleGroup>& groups, const std::string& chosen) override;
    [[nodiscard]] bool isOfUse() const override;

    void setCamera(const Camera& camera, float aspect);
    /// Surfaces, from a depth pass of that camera.
    void setDepth(const Image& depth);
    void setDistances(std::vector<PlanDistance> distances);
    void setMarks(std::vector<PlanMark> marks);
    void setBoxes(std::vector<PlanBox> boxes);
    void setSuns(std::vector<PlanSun> suns);
    void setFromSide(bool side);
    /// Whether the camera and its direction stay where they are.
    void setCameraFixed(bool fixed) { m_cameraFixed = fixed; }
    [[nodiscard]] bool isFromSide() const { return m_side; }

    [[nodiscard]] std::optional<QPointF> handlePlace(const std::string& owner,
                                                     const std::string& handle) const override;
    /// Where things are, for tests that drag them.
    [[nodiscard]] QPointF cameraPlace() const;
    [[nodiscard]] QPointF directionPlace() const;
    /// Where a sun overhead stands; those at the horizon stand around it.
    [[nodiscard]] QPointF domeCentre() const;
    [[nodiscard]] const std::vector<PlanMark>& marks() const { return m_marks; }
    [[nodiscard]] const std::vector<PlanSun>& suns() const { return m_suns; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {240, 160}; }

Q_SIGNALS:
    void cameraMoved(const noctis::V3f& way);  ///< in the world, m
    void cameraTurned(float radians);          ///< to the left, or up when seen from the side
    /// Put it back to where the scene has it.
    void handleReset(const std::string& owner, const std::string& handle);

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
    /// What is held: for a box, by the handle of its first corner.
    struct Held {
        Grab grab = Grab::None;
        HandleRef handle{};
    };
    [[nodiscard]] Held heldAt(const QPointF& point) const;
    [[nodiscard]] QPointF placeOf(const PlanDistance& distance) const;
    [[nodiscard]] QPointF placeOf(const PlanMark& mark) const;
    [[nodiscard]] QPointF placeOf(const PlanSun& sun) const;
    /// Whether a sun is dragged around without being raised or lowered.
    [[nodiscard]] bool isSideways(const QPointF& to) const;
    void moveHeld(const QPointF& to, const V3f& way);
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
    bool m_cameraFixed = true;
    float m_range = 20.0F;                      ///< m, from the camera to the far edge
    std::vector<std::pair<V3f, float>> m_dots;  ///< and their depth
    std::vector<PlanDistance> m_distances;
    std::vector<PlanMark> m_marks;
    std::vector<std::vector<V3f>> m_courses;  ///< of marks in time
    std::vector<PlanSun> m_suns;
    std::vector<PlanBox> m_boxes;
    std::vector<PlanMark> m_lamps;  ///< of the frame
    bool m_canMove = false;         ///< any of its marks
    Held m_held;
    QPointF m_pressed;
    V3f m_sunThen{0, 1, 0};  ///< towards the sun that is held, when it was grabbed
    QPointF m_last;
};

}  // namespace noctis
