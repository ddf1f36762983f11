#pragma once

#include <QPointF>
#include <QRectF>
#include <QSizeF>

namespace noctis {

/// How a picture lies in a widget: fitted, or zoomed about a place and moved.
///
/// Units    places and sizes in the widget: its pixels; in the picture: the picture's own.
class Viewport {
public:
    struct Limits {
        qreal margin = 8.0;      ///< around the fitted picture
        qreal leastZoom = 0.02;  ///< widget pixels to one of the picture
        qreal mostZoom = 32.0;
    };
    explicit Viewport(const Limits& limits) : m_limits(limits) {}

    /// A picture of another size is fitted.
    void setPicture(const QSizeF& size);
    /// The part of the widget the picture is fitted into. A zoomed picture keeps its middle and zoom.
    void setRoom(const QRectF& room);
    void setLimits(const Limits& limits) { m_limits = limits; }
    /// Fits that many pictures side by side.
    void fit(qreal times = 1.0);
    /// The place at `about` in the widget stays there.
    void setZoom(qreal zoom, const QPointF& about);
    void moveBy(const QPointF& way);

    [[nodiscard]] bool fitted() const { return m_fitted; }
    [[nodiscard]] qreal zoom() const { return m_zoom; }
    /// Where the whole picture lies in the widget.
    [[nodiscard]] QRectF frame() const { return {fromPicture({0.0, 0.0}), m_picture * m_zoom}; }
    [[nodiscard]] QPointF toPicture(const QPointF& widget) const;
    [[nodiscard]] QPointF fromPicture(const QPointF& picture) const;

private:
    Limits m_limits;
    QSizeF m_picture;
    QRectF m_room;
    bool m_fitted = true;
    qreal m_times = 1.0;
    qreal m_zoom = 1.0;
    QPointF m_middle;  ///< the picture's place in the middle of the room
};

}  // namespace noctis
