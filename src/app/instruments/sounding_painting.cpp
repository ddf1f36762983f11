// How the axis of distances is drawn.
#include "app/instruments/sounding.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"

#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

QColor axisColour(float place) {
    const auto part = [&](int near, int far) {
        return static_cast<int>(static_cast<float>(near) + static_cast<float>(far - near) * place);
    };
    return {part(theme::kNear.red(), theme::kFar.red()),
            part(theme::kNear.green(), theme::kFar.green()),
            part(theme::kNear.blue(), theme::kFar.blue())};
}

QString tickText(float metres) {
    const bool large = metres >= 999.5F;  // three digits would round to 1e+03
    return QString::number(static_cast<double>(metres), large ? 'f' : 'g', large ? 0 : 3);
}

}  // namespace

void Sounding::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setFont(theme::font(12));
    if (m_counts.empty()) {
        painter.setPen(theme::kQuiet);
        painter.drawText(rect().adjusted(16, 40, -16, -16), Qt::AlignCenter | Qt::TextWordWrap,
                         tr("No depth yet. Render it in Survey, or drop a file that has it."));
        return;
    }
    paintSilhouette(painter);
    paintTicks(painter);
    for (std::size_t lane = 0; lane < m_lanes.size(); ++lane)
        paintLane(painter, lane);
    paintNeedle(painter);
}

void Sounding::paintSilhouette(QPainter& painter) const {
    const qreal base = laneArea(0).top() - kAxisHeight - 4;
    const qreal tall = base - kHeader;
    QPainterPath hills(QPointF(m_axis.left, base));
    for (std::size_t i = 0; i < m_counts.size(); ++i)
        hills.lineTo(m_axis.left +
                         (m_axis.right - m_axis.left) * (static_cast<qreal>(i) + 0.5) / kBins,
                     base - tall * static_cast<qreal>(m_counts[i]));
    hills.lineTo(m_axis.right, base);
    hills.closeSubpath();
    QLinearGradient run(m_axis.left, 0, m_axis.right, 0);
    for (int i = 0; i <= 8; ++i) {
        QColor shade = axisColour(static_cast<float>(i) / 8.0F);
        shade.setAlpha(200);
        run.setColorAt(i / 8.0, shade);
    }
    painter.fillPath(hills, run);
}

void Sounding::paintTicks(QPainter& painter) const {
    const qreal base = laneArea(0).top() - kAxisHeight - 4;
    painter.setPen(QPen(theme::kAxis, 1));
    painter.drawLine(QPointF(m_axis.left, base + 0.5), QPointF(m_axis.right, base + 0.5));
    painter.setFont(theme::font(11));
    for (const float metres : m_axis.ticks(38.0)) {
        const qreal x = std::round(m_axis.at(metres)) + 0.5;
        painter.setPen(theme::kAxis);
        painter.drawLine(QPointF(x, base), QPointF(x, base + 4));
        painter.setPen(theme::kQuiet);
        painter.drawText(QRectF(x - 24, base + 4, 48, 14), Qt::AlignCenter, tickText(metres));
    }
    painter.drawText(QRectF(16, base + 4, kLabelWidth - 24, 14), Qt::AlignLeft | Qt::AlignVCenter,
                     tr("metres"));
}

void Sounding::paintLane(QPainter& painter, std::size_t index) const {
    const Lane& lane = m_lanes[index];
    const bool isSpan = lane.group.lane->shape == DepthLane::Shape::Span;
    const QRectF area = laneArea(index);
    const bool chosen = !m_chosen.empty() && m_chosen == lane.group.owner;
    painter.setPen(QPen(theme::kHairline, 1));
    painter.drawLine(QPointF(kSide, area.bottom() - 0.5),
                     QPointF(m_axis.right, area.bottom() - 0.5));
    painter.setFont(theme::font(12, chosen ? QFont::Medium : QFont::Normal));
    painter.setPen(chosen ? theme::kText : theme::kQuiet);
    painter.drawText(QRectF(kSide, area.top(), kLabelWidth - kSide - 8, area.height()),
                     Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(qstring(lane.group.label), Qt::ElideRight,
                                                      static_cast<int>(kLabelWidth - kSide - 8)));

    const QColor line = lane.group.on ? theme::kAccent : theme::kOff;
    const qreal low = area.bottom() - 4;
    const qreal high = area.top() + 4;
    QPainterPath curve;
    for (qreal x = m_axis.left; x <= m_axis.right; x += 2.0) {
        const auto s = static_cast<qreal>(lane.strength(m_axis.metresAt(x)));
        const QPointF p(x, low - (low - high) * s);
        if (x == m_axis.left)
            curve.moveTo(p);
        else
            curve.lineTo(p);
    }
    QPainterPath below = curve;
    below.lineTo(m_axis.right, low);
    below.lineTo(m_axis.left, low);
    QColor wash = line;
    wash.setAlpha(chosen ? 46 : 26);
    painter.fillPath(below, wash);
    painter.setPen(QPen(line, 1.3));
    painter.setBrush(Qt::NoBrush);
    painter.drawPath(curve);

    paintCourses(painter, lane, area.center().y());
    for (std::size_t h = 0; h < lane.handles.size(); ++h) {
        const Grab grab{index, h};
        const qreal x = handleX(grab);
        const bool hot = (m_grab && *m_grab == grab) || (m_over && *m_over == grab) ||
                         (hasFocus() && m_keyed == grab);
        painter.setPen(QPen(hot ? theme::kText : line, hot ? 2 : 1.4));
        painter.setBrush(hot ? theme::kAccent : theme::kPanel);
        if (isSpan && h == 0) {
            QPainterPath diamond;
            diamond.moveTo(x, area.center().y() - 6);
            diamond.lineTo(x + 5, area.center().y());
            diamond.lineTo(x, area.center().y() + 6);
            diamond.lineTo(x - 5, area.center().y());
            diamond.closeSubpath();
            painter.setBrush(line);
            painter.drawPath(diamond);
        } else if (isSpan) {
            painter.drawLine(QPointF(x, high), QPointF(x, low));
        } else {
            const auto s = static_cast<qreal>(lane.strength(m_axis.metresAt(x)));
            painter.drawEllipse(QPointF(x, low - (low - high) * s), 4.5, 4.5);
        }
        if (hot) {
            const Handle& handle = *lane.handles[h];
            const QString text =
                qstring(handle.label) + QLatin1Char(' ') + metresText(lane.group.distance(handle));
            painter.setFont(theme::font(12));
            const qreal wide = painter.fontMetrics().horizontalAdvance(text) + 12;
            const qreal left = std::clamp(x + 10, m_axis.left, width() - wide - 4);
            painter.setPen(Qt::NoPen);
            painter.setBrush(theme::kRaised);
            painter.drawRoundedRect(QRectF(left, area.center().y() - 9, wide, 18), 3, 3);
            painter.setPen(theme::kText);
            painter.drawText(QRectF(left, area.center().y() - 9, wide, 18), Qt::AlignCenter, text);
        }
    }
}

void Sounding::paintCourses(QPainter& painter, const Lane& lane, qreal y) const {
    QColor faint = theme::kQuiet;
    faint.setAlpha(130);
    painter.setPen(QPen(faint, 1));
    for (const Handle* handle : lane.handles) {
        const std::vector<HandleValue> course = lane.group.course(*handle);
        if (course.empty())
            continue;
        qreal least = m_axis.right;
        qreal most = m_axis.left;
        for (const HandleValue& place : course) {
            const qreal x =
                std::clamp(m_axis.at(std::get<float>(place)), m_axis.left, m_axis.right);
            painter.drawLine(QPointF(x, y - 2.5), QPointF(x, y + 2.5));
            least = std::min(least, x);
            most = std::max(most, x);
        }
        painter.drawLine(QPointF(least, y), QPointF(most, y));
    }
}

void Sounding::paintNeedle(QPainter& painter) const {
    if (!m_needle || !std::isfinite(*m_needle))
        return;
    const qreal x = std::round(m_axis.at(*m_needle)) + 0.5;
    if (x < m_axis.left - 1 || x > m_axis.right + 1)
        return;
    painter.setPen(QPen(theme::kText, 1));
    painter.drawLine(QPointF(x, 26),
                     QPointF(x, laneArea(m_lanes.empty() ? 0 : m_lanes.size() - 1).bottom()));
    painter.setFont(theme::font(12));
    const QString text = metresText(*m_needle);
    const qreal wide = painter.fontMetrics().horizontalAdvance(text) + 8;
    const qreal left = x + wide > width() - 4 ? x - wide : x + 4;
    painter.fillRect(QRectF(left, 26, wide, 15), theme::kPanel);
    painter.drawText(QRectF(left + 2, 26, wide, 15), Qt::AlignVCenter, text);
}

}  // namespace noctis
