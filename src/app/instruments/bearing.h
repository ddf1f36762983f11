#pragma once

#include "app/instruments/instrument.h"

#include <QImage>

#include <optional>
#include <vector>

namespace noctis {

/// The ball of directions flattened to a disc, with the viewer at its centre: how much of the picture faces
/// each way, lights as lamps, cones as rings, numbers that stand in a direction as lobes, and the direction the surface under the pointer faces. The
/// projection preserves area.
class Bearing : public Instrument {
    Q_OBJECT
public:
    explicit Bearing(QWidget* parent = nullptr);

    void setFrame(const MeasuredFrame& frame) override;
    /// Shows the directions of the step that is chosen.
    void setGroups(const std::vector<HandleGroup>& groups, const std::string& chosen) override;
    void setNeedle(const Needle& needle) override;
    /// Whether there is any direction to drag.
    [[nodiscard]] bool isOfUse() const override { return !m_lamps.empty() || !m_lobes.empty(); }
    /// Keeps the world's up direction up, however the camera is tilted.
    void setLevel(bool level);
    [[nodiscard]] bool isLevel() const { return m_level; }

    [[nodiscard]] std::optional<QPointF> handlePlace(const std::string& owner,
                                                     const std::string& handle) const override;
    [[nodiscard]] QPointF placeOf(const V3f& direction) const;
    [[nodiscard]] V3f directionAt(const QPointF& place) const;
    [[nodiscard]] QSize sizeHint() const override { return {236, 236}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {180, 180}; }

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
    static constexpr qreal kLargestLobe = 10.0;  ///< px, of its ring
    struct Lobe {
        std::string owner;
        std::string id;
        QString label;
        V3f along;
        float amount;  ///< -1..1
    };
    /// The word for the axes in use.
    [[nodiscard]] static QRectF axesArea();
    [[nodiscard]] QPointF centre() const;
    [[nodiscard]] qreal radius() const;
    void measureAxes();
    void rebuild();
    void paintCone(QPainter& painter, const Lamp& lamp) const;
    void paintLamp(QPainter& painter, std::size_t index) const;
    void paintLobe(QPainter& painter, std::size_t index) const;
    [[nodiscard]] int lampAt(const QPointF& place) const;
    [[nodiscard]] int lobeAt(const QPointF& place) const;
    void moveLobe(int lobe, float amount);

    Camera m_camera;
    bool m_level = false;
    V3f m_right{1, 0, 0};
    V3f m_up{0, 1, 0};
    V3f m_viewer{0, 0, 1};
    Image m_normals;
    QImage m_disc;
    std::vector<Lamp> m_lamps;
    std::vector<Lobe> m_lobes;
    std::vector<std::vector<V3f>> m_courses;  ///< of lamps in time
    int m_grabbedLobe = -1;
    int m_overLobe = -1;
    QPointF m_grabbedAt;
    V3f m_towardsThen{0, 1, 0};  ///< of the lamp, when it was grabbed
    float m_amountThen = 0.0F;   ///< of the lobe, when it was grabbed
    std::optional<V3f> m_needle;
    int m_grabbed = -1;
    int m_over = -1;
    int m_keyed = 0;
};

}  // namespace noctis
