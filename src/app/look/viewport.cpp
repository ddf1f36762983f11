#include "app/look/viewport.h"

#include <algorithm>

namespace noctis {

void Viewport::setPicture(const QSizeF& size) {
    if (size == m_picture)
        return;
    m_picture = size;
    fit(m_times);
}

void Viewport::setRoom(const QRectF& room) {
    m_room = room;
    if (m_fitted)
        fit(m_times);
}

void Viewport::fit(qreal times) {
    m_fitted = true;
    m_times = times;
    m_middle = {m_picture.width() / 2.0, m_picture.height() / 2.0};
    if (m_picture.isEmpty())
        return;
    const QSizeF size = m_picture * times;
    const qreal fitting = std::min((m_room.width() - 2 * m_limits.margin) / size.width(),
                                   (m_room.height() - 2 * m_limits.margin) / size.height());
    m_zoom = std::clamp(fitting, m_limits.leastZoom, m_limits.mostZoom);
}

void Viewport::setZoom(qreal zoom, const QPointF& about) {
    const QPointF kept = toPicture(about);
    m_zoom = std::clamp(zoom, m_limits.leastZoom, m_limits.mostZoom);
    m_fitted = false;
    m_middle += kept - toPicture(about);
}

void Viewport::moveBy(const QPointF& way) {
    m_fitted = false;
    m_middle -= way / m_zoom;
}

QPointF Viewport::toPicture(const QPointF& widget) const {
    return m_middle + (widget - m_room.center()) / m_zoom;
}

QPointF Viewport::fromPicture(const QPointF& picture) const {
    return m_room.center() + (picture - m_middle) * m_zoom;
}

}  // namespace noctis
