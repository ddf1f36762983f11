// How the height map is drawn, with what lies on it.
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/relief/map_view.h"

#include <QPainter>

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr int kContourLines = 12;

}  // namespace

QImage MapView::pictureOf(const FieldPyramid& map, int factor, const MapPainting& painting) const {
    const qreal dpr = devicePixelRatioF();
    const QPointF corner = toMap(QPointF(0, 0));
    const MapWindow window{static_cast<float>(corner.x() / factor),
                           static_cast<float>(corner.y() / factor),
                           static_cast<float>(1.0 / (m_viewport.zoom() * dpr * factor))};
    QImage image = toQImage(mapPicture(map, painting, window, static_cast<int>(width() * dpr),
                                       static_cast<int>(height() * dpr)));
    image.setDevicePixelRatio(dpr);
    return image;
}

void MapView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme::kSurround);
    painter.setFont(theme::font(12));
    if (!m_map) {
        painter.setPen(theme::kQuiet);
        painter.drawText(rect().adjusted(30, 30, -30, -30), Qt::AlignCenter | Qt::TextWordWrap,
                         m_hint);
        return;
    }
    if (std::exchange(m_stale, false)) {
        const float range = m_painting.range[1] - m_painting.range[0];
        m_spacing = roundSpacing(range, kContourLines);
        m_painting.contours = m_contours ? m_spacing : 0.0F;
        if (m_difference) {
            const float most =
                std::max({std::abs(m_differs.lowest), std::abs(m_differs.highest), 1e-9F});
            MapPainting painting;
            painting.look = MapLook::Ramp;
            painting.range = {-most, most};
            m_image = pictureOf(*m_difference, m_factor, painting);
        } else {
            m_image = pictureOf(*m_map, m_factor, m_painting);
        }
        m_otherImage = m_compare == Compare::Wipe
                           ? pictureOf(*m_other,
                                       std::max(1, static_cast<int>(std::lround(
                                                       cells().width() / m_other->full().width()))),
                                       m_painting)
                           : QImage();
    }
    painter.drawImage(QPointF(0, 0), m_image);
    if (!m_otherImage.isNull())
        m_wipe.paint(
            painter, size(), [&] { painter.drawImage(QPointF(0, 0), m_otherImage); },
            tr("the other"), tr("this one"));
    painter.setRenderHint(QPainter::Antialiasing);
    if (m_contours && m_compare == Compare::None)
        paintLabels(painter);
    paintSection(painter);
    if (m_painting.look == MapLook::Relief && m_compare != Compare::Difference)
        paintLamp(painter);
    if (m_difference) {
        const auto length = [](float v) { return qstring(lengthText(static_cast<double>(v))); };
        painter.setPen(theme::kText);
        painter.drawText(
            QRectF(10, height() - 26, width() - 20, 18), Qt::AlignLeft,
            tr("differs by %1 to %2").arg(length(m_differs.lowest), length(m_differs.highest)));
    }
    m_handles.paint(painter, m_viewport);
    paintBrush(painter);
    paintNote(painter, m_drawnHint.isEmpty() ? m_hint : m_drawnHint, 8, width() - 8);
    paintNote(painter, m_reading, height() - (m_difference ? 54 : 30), lampDisc().left() - 8);
}

void MapView::paintNote(QPainter& painter, const QString& text, qreal top, qreal right) const {
    if (text.isEmpty())
        return;
    const QString shown =
        painter.fontMetrics().elidedText(text, Qt::ElideRight, static_cast<int>(right) - 28);
    const QRectF place(8, top, painter.fontMetrics().horizontalAdvance(shown) + 20, 22);
    painter.fillRect(place, QColor(26, 27, 28, 210));
    painter.setPen(theme::kText);
    painter.drawText(place.adjusted(10, 0, 0, 0), Qt::AlignVCenter, shown);
}

void MapView::paintBrush(QPainter& painter) const {
    if (!m_drawn || m_brush <= 0.0 || !m_pointer)
        return;
    const qreal radius = m_brush * m_viewport.zoom();
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme::kPanel, 3));
    painter.drawEllipse(*m_pointer, radius, radius);
    painter.setPen(QPen(theme::kText, 1.2));
    painter.drawEllipse(*m_pointer, radius, radius);
}

void MapView::paintLabels(QPainter& painter) const {
    const QPointF corner = toMap(QPointF(0, 0));
    const MapWindow window{static_cast<float>(corner.x() / m_factor),
                           static_cast<float>(corner.y() / m_factor),
                           static_cast<float>(1.0 / (m_viewport.zoom() * m_factor))};
    painter.setFont(theme::font(11));
    const std::vector<ContourLabel> labels =
        contourLabels(*m_map, m_spacing, window, width(), height());
    const LengthUnit unit =
        lengthUnitFor(std::max(std::abs(m_painting.range[0]), std::abs(m_painting.range[1])));
    for (const ContourLabel& label : labels) {
        const QString text = QString::number(unit.number(label.height), 'g', 4);
        const qreal wide = painter.fontMetrics().horizontalAdvance(text) + 4;
        const QRectF box(static_cast<qreal>(label.x) - wide / 2, static_cast<qreal>(label.y) - 7,
                         wide, 14);
        if (box.intersects(lampDisc().adjusted(-4, -4, 4, 16)))
            continue;
        painter.fillRect(box, QColor(26, 27, 28, 150));
        painter.setPen(theme::kAccentText);
        painter.drawText(box, Qt::AlignCenter, text);
    }
    painter.setFont(theme::font(12));
}

void MapView::paintSection(QPainter& painter) const {
    if (!m_section)
        return;
    const QPointF from = fromMap((*m_section)[0]);
    const QPointF to = fromMap((*m_section)[1]);
    painter.setPen(QPen(QColor(26, 27, 28, 160), 3.5));
    painter.drawLine(from, to);
    painter.setPen(QPen(theme::kText, 1.4));
    painter.drawLine(from, to);
    painter.setBrush(theme::kPanel);
    for (const QPointF& end : {from, to})
        painter.drawEllipse(end, 4.5, 4.5);
    if (m_needle) {
        painter.setBrush(theme::kNear);
        painter.setPen(Qt::NoPen);
        painter.drawEllipse(from + (to - from) * static_cast<qreal>(*m_needle), 3.5, 3.5);
    }
}

void MapView::paintLamp(QPainter& painter) const {
    const QRectF disc = lampDisc();
    painter.setPen(QPen(theme::kText, 1));
    painter.setBrush(QColor(26, 27, 28, 120));
    painter.drawEllipse(disc);
    const V3f l = m_painting.towardsLight.normalized();
    // An even part of the disc is an even part of the sky, as on the Bearing.
    const auto flat = static_cast<qreal>(std::hypot(l.x, l.y));
    const qreal out =
        flat > 1e-6 ? std::sqrt(std::max(0.0, 1.0 - static_cast<qreal>(l.z))) / flat : 0.0;
    const QPointF at =
        disc.center() + QPointF(static_cast<qreal>(l.x), -static_cast<qreal>(l.y)) * out * kDisc;
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::kNear);
    painter.drawEllipse(at, 5, 5);
    painter.setPen(theme::kText);
    painter.setFont(theme::font(11));
    painter.drawText(QRectF(disc.left(), disc.bottom() + 1, disc.width(), 14), Qt::AlignHCenter,
                     tr("lamp"));
    painter.setFont(theme::font(12));
}

}  // namespace noctis
