#include "app/relief/map_view.h"

#include "app/look/picture_paint.h"
#include "app/look/theme.h"

#include <QContextMenuEvent>
#include <QLineF>
#include <QMouseEvent>

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr qreal kReach = 10.0;

}  // namespace

MapView::MapView(QWidget* parent)
    : QWidget(parent), m_viewport({.margin = 8.0, .leastZoom = 0.005, .mostZoom = 48.0}) {
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Height map"));
    setMinimumSize(220, 160);
}

QSizeF MapView::cells() const {
    return m_map ? QSizeF(m_map->full().width(), m_map->full().height()) * m_factor : QSizeF();
}

void MapView::setMap(std::shared_ptr<const FieldPyramid> map, int factor) {
    const QSizeF before = cells();
    m_map = std::move(map);
    m_factor = factor;
    // A map computed at a reduced size loses its last cells, which doesn't count as another size.
    const QSizeF now = cells();
    if (std::abs(before.width() - now.width()) > factor + 8 ||
        std::abs(before.height() - now.height()) > factor + 8) {
        m_viewport.setPicture(now);
        fit();
    }
    measureDifference();
    redraw();
}

void MapView::setHint(const QString& text) {
    m_hint = text;
    update();
}

void MapView::setLook(MapLook look) {
    m_painting.look = look;
    redraw();
}

void MapView::setRange(const std::array<float, 2>& range) {
    if (range == m_painting.range)
        return;
    m_painting.range = range;
    redraw();
}

void MapView::setContours(bool shown) {
    m_contours = shown;
    redraw();
}

void MapView::setLitHeight(float height) {
    if (height == m_painting.lit || (std::isnan(height) && std::isnan(m_painting.lit)))
        return;
    m_painting.lit = height;
    redraw();
}

void MapView::setTiled(bool tiled) {
    m_painting.tiled = tiled;
    fit();
    redraw();
}

void MapView::setOther(std::shared_ptr<const FieldPyramid> other, Compare compare) {
    m_other = std::move(other);
    m_compare = m_other ? compare : Compare::None;
    measureDifference();
    redraw();
}

void MapView::setSection(const std::optional<std::array<QPointF, 2>>& ends) {
    m_section = ends;
    update();
}

void MapView::setSectionNeedle(std::optional<float> along) {
    m_needle = along;
    update();
}

void MapView::fit() {
    m_viewport.fit(m_painting.tiled ? 3.0 : 1.0);
    redraw();
    Q_EMIT zoomChanged();
}

void MapView::setZoom(qreal zoom, const QPointF& about) {
    m_viewport.setZoom(zoom / devicePixelRatioF(), about);
    redraw();
    Q_EMIT zoomChanged();
}

QRectF MapView::lampDisc() const {
    return {width() - 2 * kDisc - 14, height() - 2 * kDisc - 26, 2 * kDisc, 2 * kDisc};
}

void MapView::setReading(const QString& text) {
    m_reading = text;
    update();
}

void MapView::redraw() {
    m_stale = true;
    update();
}

void MapView::measureDifference() {
    m_difference.reset();
    if (!m_map || !m_other || m_compare != Compare::Difference)
        return;
    HeightField difference = differenceOf(m_map->full(), m_other->full());
    m_differs = heightStatisticsOf(difference.heights);
    m_difference = std::make_shared<const FieldPyramid>(std::move(difference));
}

void MapView::setHandles(std::vector<PictureHandle> handles) {
    if (m_handles.set(std::move(handles)))
        update();
}

void MapView::setDrawn(bool drawn, qreal brush, const QString& text) {
    m_drawn = drawn;
    m_brush = brush;
    m_drawnHint = text;
    setCursor(drawn ? Qt::CrossCursor : Qt::ArrowCursor);
    update();
}

void MapView::moveLamp(const QPointF& at) {
    const QPointF d = (at - lampDisc().center()) / kDisc;
    const qreal r = std::min(std::hypot(d.x(), d.y()), 0.995);
    const qreal z = 1.0 - r * r;
    const qreal flat = std::sqrt(std::max(0.0, 1.0 - z * z));
    const qreal length = std::max(std::hypot(d.x(), d.y()), 1e-6);
    m_painting.towardsLight =
        V3f(static_cast<float>(d.x() / length * flat), static_cast<float>(-d.y() / length * flat),
            static_cast<float>(z));
    redraw();
    Q_EMIT lampMoved(m_painting.towardsLight);
}

void MapView::resizeEvent(QResizeEvent*) {
    m_viewport.setRoom(rect());
    redraw();
    Q_EMIT zoomChanged();
}

void MapView::wheelEvent(QWheelEvent* event) {
    setZoom(zoom() * std::pow(1.25, event->angleDelta().y() / 120.0), event->position());
}

void MapView::mousePressEvent(QMouseEvent* event) {
    m_pressedAt = event->position();
    m_draggedTo = m_pressedAt;
    if (!m_map)
        return;
    if (event->button() == Qt::MiddleButton) {
        m_hand = Hand::Pan;
        return;
    }
    if (event->button() == Qt::LeftButton && m_handles.grab(event->position(), m_viewport)) {
        m_hand = Hand::Handle;
        return;
    }
    if (m_drawn && (event->button() == Qt::LeftButton || event->button() == Qt::RightButton)) {
        m_hand = Hand::Stroke;
        Q_EMIT strokeBegun(toMap(event->position()),
                           event->button() == Qt::RightButton ||
                               event->modifiers().testFlag(Qt::AltModifier));
        return;
    }
    if (event->button() != Qt::LeftButton)
        return;
    if (m_compare == Compare::Wipe && m_wipe.isUnder(event->position(), width())) {
        m_hand = Hand::Wipe;
        return;
    }
    if (m_painting.look == MapLook::Relief && m_compare != Compare::Difference &&
        QLineF(lampDisc().center(), event->position()).length() < kDisc + 4) {
        m_hand = Hand::Lamp;
        moveLamp(event->position());
        return;
    }
    if (m_section)
        for (int i = 0; i < 2; ++i)
            if (QLineF(fromMap((*m_section)[static_cast<std::size_t>(i)]), event->position())
                    .length() < kReach) {
                m_hand = Hand::SectionEnd;
                m_end = i;
                return;
            }
    m_hand = Hand::Section;
}

void MapView::mouseMoveEvent(QMouseEvent* event) {
    const QPointF at = event->position();
    m_pointer = at;
    if (m_drawn && m_brush > 0.0)
        update();
    switch (m_hand) {
    case Hand::Handle: {
        const PictureHandle held = *m_handles.grabbed();
        Q_EMIT handleMoved(held.owner, held.id, toMap(at));
        break;
    }
    case Hand::Stroke:
        Q_EMIT strokeLed(toMap(at));
        break;
    case Hand::Pan:
        m_viewport.moveBy(at - std::exchange(m_draggedTo, at));
        redraw();
        break;
    case Hand::Lamp:
        moveLamp(at);
        break;
    case Hand::Wipe:
        m_wipe.dragTo(at, width());
        update();
        break;
    case Hand::Section:
        if (QLineF(m_pressedAt, at).length() > 3) {
            m_section = {toMap(m_pressedAt), toMap(at)};
            Q_EMIT sectionDrawn((*m_section)[0], (*m_section)[1]);
            update();
        }
        break;
    case Hand::SectionEnd:
        (*m_section)[static_cast<std::size_t>(m_end)] = toMap(at);
        Q_EMIT sectionDrawn((*m_section)[0], (*m_section)[1]);
        update();
        break;
    case Hand::None:
        if (!m_handles.empty()) {
            m_handles.hover(at, m_viewport);
            update();
        }
        break;
    }
    if (m_map)
        Q_EMIT pointed(toMap(at));
}

void MapView::mouseReleaseEvent(QMouseEvent* event) {
    const Hand hand = std::exchange(m_hand, Hand::None);
    if (hand == Hand::Stroke)
        Q_EMIT strokeEnded(toMap(event->position()));
    if (hand == Hand::Handle) {
        m_handles.release();
        Q_EMIT handleRested();
    }
}

void MapView::contextMenuEvent(QContextMenuEvent* event) {
    if (m_map && !m_drawn)
        Q_EMIT menuAsked(toMap(event->pos()), event->globalPos());
}

void MapView::leaveEvent(QEvent*) {
    m_pointer.reset();
    m_handles.leave();
    update();
    Q_EMIT pointerLeft();
}

}  // namespace noctis
