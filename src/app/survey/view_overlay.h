#pragma once

#include "app/instruments/depth_overlay.h"
#include "app/instruments/sounding.h"
#include "app/look/label_places.h"
#include "core/image/camera.h"
#include "core/project/project.h"

#include <QImage>
#include <QRectF>

#include <array>
#include <optional>
#include <vector>

class QPainter;

namespace noctis {

/// How a camera's picture lies in the widget.
struct ViewPlace {
    QRectF frame;
    Camera camera;
    /// Where a place in the scene is in the widget; none behind the camera.
    [[nodiscard]] std::optional<QPointF> at(const V3f& world) const;
    /// The ray through a point of the widget.
    [[nodiscard]] CameraRay ray(const QPointF& point) const;
};

/// Small labels over a picture, which keep clear of each other.
class Tags {
public:
    explicit Tags(const QRectF& within) : m_within(within), m_places(within) {}
    void paint(QPainter& painter, const QPointF& at, const QString& text);
    /// Claims room for a tag that begins above a point.
    QRectF place(const QPointF& at, qreal wide);

private:
    QRectF m_within;
    LabelPlaces m_places;
};

/// Pins with their distance, and a line between the last two with its length.
void paintPins(QPainter& painter, const ViewPlace& view, const std::vector<Pin>& pins, Tags& tags);

/// What is left out of a crop (left, top, right, bottom, as parts of the frame), dimmed.
void paintCrop(QPainter& painter, const QRectF& frame, const std::array<float, 4>& crop);

/// The frame's bounds, with what it is in its corner.
void paintFrame(QPainter& painter, const QRectF& frame, const QString& text);

/// Tiles as parts of the frame.
void paintTilesBeingRendered(QPainter& painter, const QRectF& frame,
                             const std::vector<QRectF>& tiles);

/// A length of the scene, as it looks at a distance, with its name.
void paintReach(QPainter& painter, const ViewPlace& view, float metres, float ahead, Tags& tags);

}  // namespace noctis
