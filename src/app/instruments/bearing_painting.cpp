// How the Bearing looks.
#include "app/instruments/bearing.h"
#include "app/look/theme.h"

#include <QLineF>
#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr float kPaintedRadians = 3.14159265F / 180.0F;  ///< a degree

/// Degrees to the right of the viewer's way and above the level.
QString directionText(const V3f& local) {
    const double across =
        std::atan2(static_cast<double>(local.x), static_cast<double>(local.z)) / kPaintedRadians;
    const double above =
        std::asin(std::clamp(static_cast<double>(local.y), -1.0, 1.0)) / kPaintedRadians;
    return QObject::tr("%1° %2, %3° %4")
        .arg(std::abs(across), 0, 'f', 0)
        .arg(across < 0.0 ? QObject::tr("left") : QObject::tr("right"))
        .arg(std::abs(above), 0, 'f', 0)
        .arg(above < 0.0 ? QObject::tr("down") : QObject::tr("up"));
}

}  // namespace

void Bearing::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme::kPanel);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.setFont(theme::font(12));
    painter.setPen(theme::kQuiet);
    painter.drawText(QRectF(12, 4, width() - 24.0, 18), Qt::AlignLeft | Qt::AlignVCenter,
                     tr("Bearing"));
    painter.setPen(theme::kAccent);
    painter.drawText(axesArea(), Qt::AlignLeft | Qt::AlignVCenter,
                     m_level ? tr("level") : tr("camera"));
    const QPointF middle = centre();
    const qreal r = radius();
    const QRectF disc(middle - QPointF(r, r), QSizeF(2 * r, 2 * r));
    if (!m_disc.isNull()) {
        QPainterPath round;
        round.addEllipse(disc);
        painter.save();
        painter.setClipPath(round);
        painter.drawImage(disc, m_disc);
        painter.restore();
    }
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme::kHairline, 1));
    painter.drawEllipse(disc);
    // What is seen edge on.
    const qreal side = r * std::sqrt(0.5);
    painter.setPen(QPen(theme::kHairline, 1, Qt::DashLine));
    painter.drawEllipse(middle, side, side);
    painter.setPen(QPen(theme::kHairline, 1));
    painter.drawLine(middle - QPointF(r, 0), middle + QPointF(r, 0));
    painter.drawLine(middle - QPointF(0, r), middle + QPointF(0, r));
    painter.setFont(theme::font(11));
    painter.setPen(theme::kQuiet);
    painter.drawText(QRectF(middle.x() + 4, middle.y() - r + 1, 40, 14), Qt::AlignLeft, tr("up"));
    painter.drawText(QRectF(middle.x() + r - 42, middle.y() + 12, 38, 14), Qt::AlignRight,
                     tr("right"));
    for (const Lamp& lamp : m_lamps)
        if (lamp.halfAngle > 0.0F)
            paintCone(painter, lamp);
    if (m_needle) {
        const QPointF at = placeOf(*m_needle);
        painter.setPen(QPen(theme::kText, 1.2));
        painter.setBrush(Qt::NoBrush);
        painter.drawLine(at - QPointF(5, 0), at + QPointF(5, 0));
        painter.drawLine(at - QPointF(0, 5), at + QPointF(0, 5));
    }
    painter.setPen(QPen(theme::kOff, 1.2));
    for (const std::vector<V3f>& course : m_courses)
        for (std::size_t i = 1; i < course.size(); ++i)
            if (QLineF(placeOf(course[i - 1]), placeOf(course[i])).length() < radius() * 0.6)
                painter.drawLine(placeOf(course[i - 1]), placeOf(course[i]));
    for (std::size_t i = 0; i < m_lamps.size(); ++i)
        paintLamp(painter, i);
    for (std::size_t i = 0; i < m_lobes.size(); ++i)
        paintLobe(painter, i);
}

void Bearing::paintLobe(QPainter& painter, std::size_t index) const {
    const Lobe& lobe = m_lobes[index];
    const QPointF at = placeOf(lobe.along);
    const auto place = static_cast<int>(index);
    const bool hot = place == m_grabbedLobe || place == m_overLobe ||
                     (hasFocus() && place + static_cast<int>(m_lamps.size()) == m_keyed);
    // Light fills its ring, darkness empties it.
    const qreal size = 3.0 + (kLargestLobe - 3.0) * static_cast<qreal>(std::abs(lobe.amount));
    painter.setPen(QPen(hot ? theme::kText : theme::kQuiet, 1.2));
    painter.setBrush(theme::kPanel);
    painter.drawEllipse(at, kLargestLobe, kLargestLobe);
    painter.setPen(Qt::NoPen);
    painter.setBrush(lobe.amount < 0.0F ? QColor(Qt::black) : theme::kNear);
    if (lobe.amount != 0.0F)
        painter.drawEllipse(at, size, size);
    if (!hot)
        return;
    painter.setFont(theme::font(12));
    painter.setPen(theme::kText);
    painter.drawText(QRectF(116, 4, width() - 146.0, 18), Qt::AlignRight | Qt::AlignVCenter,
                     QStringLiteral("%1 %2%3")
                         .arg(lobe.label, lobe.amount > 0.0F ? QStringLiteral("+") : QString())
                         .arg(static_cast<double>(lobe.amount), 0, 'f', 2));
}

void Bearing::paintCone(QPainter& painter, const Lamp& lamp) const {
    V3f side = lamp.towards.cross(std::abs(lamp.towards.y) < 0.9F ? V3f(0, 1, 0) : V3f(1, 0, 0));
    side.normalize();
    const V3f other = side.cross(lamp.towards);
    const float angle = std::clamp(lamp.halfAngle, 0.0F, 179.0F) * kPaintedRadians;
    painter.setPen(QPen(theme::kAccent, 1.4));
    QPointF last;
    constexpr int kPieces = 72;
    for (int i = 0; i <= kPieces; ++i) {
        const float turn = 2.0F * 3.14159265F * static_cast<float>(i) / kPieces;
        const V3f d = lamp.towards * std::cos(angle) +
                      (side * std::cos(turn) + other * std::sin(turn)) * std::sin(angle);
        const QPointF at = placeOf(d);
        // The outline jumps to the other side where it crosses the rim.
        if (i > 0 && std::hypot(at.x() - last.x(), at.y() - last.y()) < radius() * 0.6)
            painter.drawLine(last, at);
        last = at;
    }
}

void Bearing::paintLamp(QPainter& painter, std::size_t index) const {
    const Lamp& lamp = m_lamps[index];
    const QPointF at = placeOf(lamp.towards);
    const bool hot = static_cast<int>(index) == m_grabbed || static_cast<int>(index) == m_over;
    const bool keyed = hasFocus() && static_cast<int>(index) == m_keyed;
    painter.setPen(QPen(hot || keyed ? theme::kText : theme::kNear, 1.4));
    for (int ray = 0; ray < 8; ++ray) {
        const qreal angle = ray * 0.785398;
        const QPointF unit(std::cos(angle), std::sin(angle));
        painter.drawLine(at + unit * 7.0, at + unit * 10.0);
    }
    painter.setBrush(theme::kNear);
    painter.drawEllipse(at, 4.5, 4.5);
    const V3f local(lamp.towards.dot(m_right), lamp.towards.dot(m_up), lamp.towards.dot(m_viewer));
    if (!hot && !keyed)
        return;
    painter.setFont(theme::font(12));
    painter.setPen(theme::kText);
    painter.drawText(QRectF(116, 4, width() - 146.0, 18), Qt::AlignRight | Qt::AlignVCenter,
                     directionText(local));
}

}  // namespace noctis
