#pragma once

#include "app/instruments/depth_axis.h"
#include "app/instruments/instrument.h"

#include <optional>
#include <vector>

namespace noctis {

/// The depth axis: the distances of the picture as a silhouette, a needle, and a lane for each step that
/// works by distance, whose handles are dragged in metres.
class Sounding : public Instrument {
    Q_OBJECT
public:
    explicit Sounding(QWidget* parent = nullptr);

    /// Its depth stands on the axis.
    void setFrame(const MeasuredFrame& frame) override;
    /// Shows the groups that have a lane.
    void setGroups(const std::vector<HandleGroup>& groups, const std::string& chosen) override;
    void setNeedle(const Needle& needle) override;
    [[nodiscard]] bool isWide() const override { return true; }

    [[nodiscard]] const DepthAxis& axis() const { return m_axis; }
    [[nodiscard]] std::optional<QPointF> handlePlace(const std::string& owner,
                                                     const std::string& handle) const override;
    [[nodiscard]] QSize minimumSizeHint() const override { return {320, 180}; }

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent*) override;
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent*) override;
    bool event(QEvent* event) override;

private:
    static constexpr int kBins = 240;
    static constexpr qreal kSide = 16.0;
    static constexpr qreal kHeader = 30.0;
    static constexpr qreal kAxisHeight = 18.0;
    static constexpr qreal kLabelWidth = 118.0;

    struct Grab {
        std::size_t lane = 0;
        std::size_t handle = 0;
        bool operator==(const Grab&) const = default;
    };
    struct Lane {
        HandleGroup group;
        std::vector<const Handle*> handles;  ///< distances
        std::function<float(float)> strength;
    };
    void layOut();
    [[nodiscard]] QRectF laneArea(std::size_t lane) const;
    [[nodiscard]] std::optional<Grab> grabAt(const QPointF& at) const;
    [[nodiscard]] qreal handleX(const Grab& grab) const;
    void paintSilhouette(QPainter& painter) const;
    void paintTicks(QPainter& painter) const;
    void paintLane(QPainter& painter, std::size_t lane) const;
    /// Where handles go in time: a tick a frame.
    void paintCourses(QPainter& painter, const Lane& lane, qreal y) const;
    void paintNeedle(QPainter& painter) const;

    DepthAxis m_axis;
    bool m_logarithmic = true;
    std::optional<Image> m_depth;
    std::vector<float> m_counts;
    std::vector<Lane> m_lanes;
    std::string m_chosen;
    std::optional<float> m_needle;
    bool m_needleIsOwn = false;
    std::optional<Grab> m_grab;
    std::optional<Grab> m_over;
    Grab m_keyed;
};

}  // namespace noctis
