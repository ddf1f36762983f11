#include "app/picture/picture_view.h"

#include "app/look/theme.h"

#include <QKeyEvent>
#include <QLineF>
#include <QMouseEvent>
#include <QPainter>
#include <QTabletEvent>

#include <algorithm>
#include <cmath>
#include <utility>

namespace noctis {

namespace {

/// Distances within this ratio are lit together.
constexpr float kLitRatio = 0.05F;
constexpr int kLitWidth = 640;

}  // namespace

PictureView::PictureView(QWidget* parent)
    : QWidget(parent), m_viewport({.margin = 12.0, .leastZoom = 0.02, .mostZoom = 32.0}) {
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Picture"));
    setMinimumSize(200, 120);
}

void PictureView::setPicture(const QImage& image, QSize size) {
    m_picture = image;
    m_viewport.setPicture(size);
    update();
    Q_EMIT zoomChanged();
}

void PictureView::setBefore(std::function<QImage()> make, const QString& name) {
    m_makeBefore = std::move(make);
    m_before = {};
    m_beforeName = name;
    update();
}

void PictureView::setCompare(Compare compare) {
    m_compare = compare;
    placeRoom();
    fit();
}

void PictureView::holdBefore(bool hold) {
    m_holding = hold;
    update();
    Q_EMIT beforeHeld(hold);
}

void PictureView::setDepth(const Image& depth) {
    m_depth = depth;
    rebuildLit();
}

void PictureView::setLitDistance(float metres) {
    if (m_litDistance == metres)
        return;
    m_litDistance = metres;
    rebuildLit();
}

void PictureView::rebuildLit() {
    m_lit = {};
    if (m_litDistance > 0.0F && !m_depth.empty()) {
        const int step = std::max(1, m_depth.width() / kLitWidth);
        m_lit = QImage(m_depth.width() / step, m_depth.height() / step,
                       QImage::Format_ARGB32_Premultiplied);
        m_lit.fill(Qt::transparent);
        const float nearest = m_litDistance * std::exp(-kLitRatio);
        const float farthest = m_litDistance * std::exp(kLitRatio);
        for (int y = 0; y < m_lit.height(); ++y) {
            auto* row = reinterpret_cast<QRgb*>(m_lit.scanLine(y));
            const float* depths = m_depth.row(0, y * step);
            for (int x = 0; x < m_lit.width(); ++x) {
                const float depth = depths[x * step];
                if (!(depth > nearest && depth < farthest))
                    continue;
                const float ratio = std::log(depth / m_litDistance) / kLitRatio;
                const int a = static_cast<int>(190.0F * (1.0F - ratio * ratio));
                row[x] = qRgba(0x62 * a / 255, 0xa9 * a / 255, 0x97 * a / 255, a);
            }
        }
    }
    update();
}

void PictureView::setFocusMark(std::optional<QPointF> at, const QString& text) {
    m_focus = at;
    m_focusText = text;
    update();
}

void PictureView::setHint(const QString& text) {
    m_hint = text;
    update();
}

void PictureView::fit() {
    m_viewport.fit();
    update();
    Q_EMIT zoomChanged();
}

qreal PictureView::zoom() const { return m_viewport.zoom() * devicePixelRatioF(); }

void PictureView::setZoom(qreal zoom, const QPointF& about) {
    m_viewport.setZoom(zoom / devicePixelRatioF(), about);
    update();
    Q_EMIT zoomChanged();
}

void PictureView::placeRoom() {
    const QRectF whole(rect());
    m_viewport.setRoom(
        m_compare == Compare::SideBySide ? whole.adjusted(whole.width() / 2.0, 0, 0, 0) : whole);
}

void PictureView::setTinted(const QImage& mask) {
    m_tint = {};
    if (!mask.isNull()) {
        m_tint = QImage(mask.size(), QImage::Format_ARGB32_Premultiplied);
        for (int y = 0; y < mask.height(); ++y) {
            const uchar* from = mask.constScanLine(y);
            auto* to = reinterpret_cast<QRgb*>(m_tint.scanLine(y));
            for (int x = 0; x < mask.width(); ++x) {
                const int a = from[x] * 150 / 255;
                to[x] = qRgba(theme::kAccent.red() * a / 255, theme::kAccent.green() * a / 255,
                              theme::kAccent.blue() * a / 255, a);
            }
        }
    }
    update();
}

void PictureView::setHandles(std::vector<PictureHandle> handles) {
    if (m_handles.set(std::move(handles)))
        update();
}

void PictureView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme::kSurround);
    if (m_picture.isNull()) {
        painter.setPen(theme::kQuiet);
        painter.drawText(rect().adjusted(40, 40, -40, -40), Qt::AlignCenter | Qt::TextWordWrap,
                         m_hint);
        return;
    }
    const QRectF place = m_viewport.frame();
    painter.setRenderHint(QPainter::SmoothPixmapTransform, zoom() < 2.0);
    painter.setFont(theme::font(12));
    paintPicture(painter, place);
    for (const QImage* over : {&m_blur, &m_tint, &m_lit})
        if (!over->isNull())
            painter.drawImage(place, *over);
    painter.setRenderHint(QPainter::Antialiasing);
    paintFocus(painter);
    m_handles.paint(painter, m_viewport);
    paintBrush(painter);
    if (!m_box.isEmpty()) {
        painter.setBrush(Qt::NoBrush);
        const QRectF box(fromPicture(m_box.topLeft()), fromPicture(m_box.bottomRight()));
        painter.setPen(QPen(theme::kPanel, 3));
        painter.drawRect(box);
        painter.setPen(QPen(theme::kText, 1.2));
        painter.drawRect(box);
    }
}

void PictureView::setBox(const QRectF& box) {
    m_box = box;
    update();
}

void PictureView::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape)
        Q_EMIT escaped();
    QWidget::keyPressEvent(event);
}

void PictureView::setOver(const QImage& over) {
    m_blur = over;
    update();
}

void PictureView::setDrawn(bool drawn, qreal brush) {
    m_drawn = drawn;
    m_brush = brush;
    update();
}

bool PictureView::beginsStroke(const QMouseEvent& event) const {
    return m_drawn && m_handles.grabbed() == nullptr &&
           (event.button() == Qt::LeftButton || event.button() == Qt::RightButton);
}

void PictureView::paintBrush(QPainter& painter) const {
    if (!m_drawn || m_brush <= 0.0 || !m_pointer)
        return;
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme::kPanel, 3));
    painter.drawEllipse(*m_pointer, m_brush * m_viewport.zoom(), m_brush * m_viewport.zoom());
    painter.setPen(QPen(theme::kText, 1.2));
    painter.drawEllipse(*m_pointer, m_brush * m_viewport.zoom(), m_brush * m_viewport.zoom());
}

void PictureView::tabletEvent(QTabletEvent* event) {
    // The mouse events that follow from it do the rest.
    m_pressure = event->type() == QEvent::TabletRelease ? 1.0 : std::max(event->pressure(), 0.05);
    event->ignore();
}

void PictureView::paintPicture(QPainter& painter, const QRectF& place) {
    const bool before = (m_holding || m_compare == Compare::Before) && m_makeBefore;
    if (m_compare == Compare::SideBySide && m_makeBefore) {
        painter.save();
        painter.setClipRect(QRectF(width() / 2.0 + 1, 0, width() / 2.0, height()));
        before ? paintBefore(painter, place) : painter.drawImage(place, m_picture);
        painter.setClipRect(QRectF(0, 0, width() / 2.0 - 1, height()));
        paintBefore(painter, place.translated(-width() / 2.0, 0));
        painter.restore();
    } else {
        before ? paintBefore(painter, place) : painter.drawImage(place, m_picture);
    }
    if (m_compare == Compare::Wipe && m_makeBefore && !m_holding) {
        paintWipe(painter, place);
    } else if (before) {
        painter.setPen(theme::kText);
        painter.drawText(QRectF(place.left() + 10, place.top() + 8, 200, 18), Qt::AlignLeft,
                         m_beforeName);
    }
}

void PictureView::paintBefore(QPainter& painter, const QRectF& place) {
    if (m_before.isNull())
        m_before = m_makeBefore();
    // A former render may be of another shape.
    const QSizeF size = QSizeF(m_before.size()).scaled(place.size(), Qt::KeepAspectRatio);
    QRectF part(QPointF(), size);
    part.moveCenter(place.center());
    if (place.width() - part.width() < 1.0 && place.height() - part.height() < 1.0)
        part = place;
    else
        painter.fillRect(place, theme::kSurround);
    painter.drawImage(part, m_before);
}

void PictureView::paintWipe(QPainter& painter, const QRectF& place) {
    m_wipe.paint(
        painter, size(), [&] { paintBefore(painter, place); }, m_beforeName, tr("now"));
}

void PictureView::paintFocus(QPainter& painter) const {
    if (!m_focus)
        return;
    const QPointF at = fromPicture(*m_focus);
    painter.setPen(QPen(theme::kNear, 1.4));
    painter.setBrush(Qt::NoBrush);
    painter.drawEllipse(at, 8, 8);
    painter.drawLine(at + QPointF(-14, 0), at + QPointF(-8, 0));
    painter.drawLine(at + QPointF(8, 0), at + QPointF(14, 0));
    const qreal wide = painter.fontMetrics().horizontalAdvance(m_focusText) + 10;
    painter.fillRect(QRectF(at.x() + 18, at.y() - 9, wide, 18), QColor(26, 27, 28, 190));
    painter.setPen(theme::kText);
    painter.drawText(QRectF(at.x() + 18, at.y() - 9, wide, 18), Qt::AlignCenter, m_focusText);
}

void PictureView::wheelEvent(QWheelEvent* event) {
    const qreal turns = event->angleDelta().y() / 120.0;
    setZoom(zoom() * std::pow(1.25, turns), event->position());
}

void PictureView::mousePressEvent(QMouseEvent* event) {
    m_pressedAt = event->position();
    m_draggedTo = m_pressedAt;
    m_moved = false;
    m_handles.release();
    const bool grabbed =
        event->button() == Qt::LeftButton && m_handles.grab(event->position(), m_viewport);
    m_stroke = beginsStroke(*event);
    if (m_stroke) {
        m_dragsWipe = m_pans = false;
        Q_EMIT strokeBegun(toPicture(event->position()),
                           event->button() == Qt::RightButton ||
                               event->modifiers().testFlag(Qt::AltModifier),
                           m_pressure);
        return;
    }
    m_dragsWipe =
        !grabbed && m_compare == Compare::Wipe && m_wipe.isUnder(event->position(), width());
    m_pans = !m_dragsWipe && !grabbed;
}

void PictureView::mouseMoveEvent(QMouseEvent* event) {
    m_pointer = event->position();
    if (m_drawn)
        update();
    if (m_stroke) {
        Q_EMIT strokeLed(toPicture(event->position()), m_pressure);
        return;
    }
    if (event->buttons() == Qt::NoButton) {
        const bool onWipe =
            m_compare == Compare::Wipe && m_wipe.isUnder(event->position(), width());
        const bool onHandle = m_handles.hover(event->position(), m_viewport);
        setCursor(onHandle ? Qt::SizeAllCursor : onWipe ? Qt::SplitHCursor : Qt::CrossCursor);
        if (!m_handles.empty())
            update();
        Q_EMIT pointed(toPicture(event->position()));
        return;
    }
    if ((event->position() - m_pressedAt).manhattanLength() > 4)
        m_moved = true;
    if (m_handles.grabbed() != nullptr && m_moved) {
        const PictureHandle grabbed = *m_handles.grabbed();
        Q_EMIT handleMoved(grabbed.owner, grabbed.id, toPicture(event->position()));
    } else if (m_dragsWipe) {
        m_wipe.dragTo(event->position(), width());
        update();
    } else if (m_pans && m_moved) {
        m_viewport.moveBy(event->position() - std::exchange(m_draggedTo, event->position()));
        setCursor(Qt::ClosedHandCursor);
        update();
    }
}

void PictureView::mouseReleaseEvent(QMouseEvent* event) {
    if (std::exchange(m_stroke, false)) {
        Q_EMIT strokeEnded(toPicture(event->position()));
        return;
    }
    const bool onHandle = m_handles.release();
    const bool wasClick =
        !m_moved && !m_dragsWipe && !onHandle && event->button() == Qt::LeftButton;
    m_dragsWipe = m_pans = false;
    if (onHandle && m_moved)
        Q_EMIT handleRested();
    setCursor(Qt::CrossCursor);
    if (wasClick && m_viewport.frame().contains(event->position()))
        Q_EMIT clicked(toPicture(event->position()), event->modifiers());
}

void PictureView::leaveEvent(QEvent*) {
    m_handles.leave();
    m_pointer.reset();
    update();
    Q_EMIT pointerLeft();
}

void PictureView::resizeEvent(QResizeEvent*) {
    placeRoom();
    Q_EMIT zoomChanged();
}

}  // namespace noctis
