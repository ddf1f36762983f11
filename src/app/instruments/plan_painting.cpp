// How the Plan is painted.
#include "app/instruments/plan.h"

#include "app/look/picture_paint.h"
#include "app/look/theme.h"

#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <array>
#include <cmath>

namespace noctis {

namespace {

/// Painted at the first of these positions that is clear of the others.
void paintName(QPainter& painter, LabelPlaces& names, const std::vector<QPointF>& feet,
               const QString& text, const QColor& colour) {
    const QPointF corner(-2.0, -9.0);
    const QSizeF size(painter.fontMetrics().horizontalAdvance(text) + 4.0, 11.0);
    std::vector<QRectF> boxes;
    for (const QPointF& foot : feet)
        boxes.emplace_back(foot + corner, size);
    const QRectF box = names.place(boxes);
    painter.fillRect(box, theme::kPanel);
    painter.setPen(colour);
    painter.drawText(box.topLeft() - corner, text);
}

}  // namespace

void Plan::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setClipRect(QRectF(0, kHeader - 4, width(), height() - kHeader + 4));
    painter.setFont(theme::font(11));
    paintSurfaces(painter);
    paintWedge(painter);
    paintBoxes(painter);
    LabelPlaces names = labelPlaces();
    paintDistances(painter, names);
    paintMarks(painter, names);
    paintSuns(painter, names);
    paintCamera(painter);
    painter.setPen(theme::kQuiet);
    painter.drawText(QRectF(0, height() - 20, width() - 10, 16), Qt::AlignRight | Qt::AlignVCenter,
                     tr("%1 across").arg(metresText(m_range)));
}

void Plan::paintBoxes(QPainter& painter) const {
    QColor fill = theme::kAccent;
    fill.setAlpha(36);
    painter.setPen(QPen(theme::kAccent, 1.2));
    painter.setBrush(fill);
    for (const PlanBox& box : m_boxes)
        painter.drawPolygon(outlineOf(box));
    painter.setBrush(Qt::NoBrush);
}

void Plan::paintSurfaces(QPainter& painter) const {
    // There are thousands, redrawn whenever the camera moves: whole pixels are many times faster.
    QColor dot = theme::kQuiet;
    dot.setAlpha(150);
    painter.setRenderHint(QPainter::Antialiasing, false);
    for (const auto& [world, depth] : m_dots)
        if (const QPoint at = place(local(world)).toPoint(); rect().contains(at))
            painter.fillRect(QRect(at, QSize(1, 1)), dot);
    painter.setRenderHint(QPainter::Antialiasing);
}

void Plan::paintWedge(QPainter& painter) const {
    painter.setPen(QPen(theme::kQuiet, 1));
    painter.drawLine(cameraPlace(), wedgePlace(halfAngle(), m_range));
    painter.drawLine(cameraPlace(), wedgePlace(-halfAngle(), m_range));
    QColor axis = theme::kQuiet;
    axis.setAlpha(90);
    painter.setPen(QPen(axis, 1, Qt::DotLine));
    painter.drawLine(cameraPlace(), directionPlace());
}

void Plan::paintDistances(QPainter& painter, LabelPlaces& names) const {
    for (const PlanDistance& d : m_distances) {
        const float metres = std::min(d.metres, m_range * 0.98F);
        painter.setPen(QPen(d.colour, d.metres > m_range ? 0.8 : 1.4,
                            d.metres > m_range ? Qt::DashLine : Qt::SolidLine));
        painter.drawLine(wedgePlace(-halfAngle(), metres), wedgePlace(halfAngle(), metres));
        painter.setBrush(theme::kPanel);
        painter.drawEllipse(placeOf(d), 3.5, 3.5);
    }
    for (const PlanDistance& d : m_distances) {
        const QString text = d.label + QLatin1Char(' ') + metresText(d.metres);
        const qreal wide = painter.fontMetrics().horizontalAdvance(text);
        QPointF foot = placeOf(d) + (m_side ? QPointF(6, -6) : QPointF(8, 4));
        foot.setX(std::min(foot.x(), width() - 6.0 - wide));
        // Distances beyond the edge of the Plan share one place, so their names go side by side.
        std::vector<QPointF> feet{foot};
        for (const qreal away : {12.0, -12.0, 24.0, -24.0, 36.0, 48.0})
            feet.push_back(foot + QPointF(0, m_side ? -away : away));
        paintName(painter, names, feet, text, d.colour == theme::kFar ? theme::kFarText : d.colour);
    }
}

void Plan::paintMarks(QPainter& painter, LabelPlaces& names) const {
    painter.setPen(QPen(theme::kOff, 1.2));
    for (const std::vector<V3f>& course : m_courses)
        for (std::size_t i = 1; i < course.size(); ++i)
            painter.drawLine(place(local(course[i - 1])), place(local(course[i])));
    for (const PlanMark& mark : m_marks) {
        const QPointF at = place(local(mark.position));
        if (!rect().adjusted(6, static_cast<int>(kHeader), -6, -6).contains(at.toPoint()))
            continue;
        painter.setPen(QPen(mark.shines ? theme::kNear : theme::kQuiet, 1.2));
        painter.setBrush(mark.shines ? QBrush(theme::kNear) : Qt::NoBrush);
        painter.drawEllipse(at, 3.5, 3.5);
        // Kept off the camera's axis, which has the distances and their names at its right.
        const qreal wide = painter.fontMetrics().horizontalAdvance(mark.label);
        const bool left = at.x() <= cameraPlace().x() + 10.0 && !m_side;
        const QPointF atLeft = at + QPointF(-7.0 - wide, 4.0);
        const QPointF atRight = at + QPointF(7.0, 4.0);
        const std::vector<QPointF> feet =
            left ? std::vector{atLeft, atRight, at + QPointF(-7.0 - wide, 15.0)}
                 : std::vector{atRight, atLeft, at + QPointF(7.0, 15.0)};
        paintName(painter, names, feet, mark.label, theme::kText);
    }
}

void Plan::paintSuns(QPainter& painter, LabelPlaces& names) const {
    for (const PlanSun& sun : m_suns) {
        const bool held = m_held.grab == Grab::Sun && m_held.handle == sun.handle;
        const QPointF at = placeOf(sun);
        if (held) {
            painter.setBrush(Qt::NoBrush);
            painter.setPen(QPen(theme::kHairline, 1));
            painter.drawEllipse(domeCentre(), domeRadius(), domeRadius());
        }
        // Short strokes show its light falling towards the middle.
        const QLineF way(at, domeCentre());
        painter.setPen(QPen(theme::kNear, 1.2));
        if (const qreal length = way.length(); length > 1.0)
            for (const qreal aside : {-4.0, 0.0, 4.0}) {
                const QPointF along(way.dx() / length, way.dy() / length);
                const QPointF start = at + QPointF(-along.y(), along.x()) * aside + along * 8.0;
                painter.drawLine(start, start + along * (aside == 0.0 ? 9.0 : 6.0));
            }
        painter.setBrush(sun.towards.y < 0.0F ? QBrush(theme::kPanel) : QBrush(theme::kNear));
        painter.drawEllipse(at, 4.5, 4.5);
        const float degrees = std::asin(std::clamp(sun.towards.y, -1.0F, 1.0F)) * 57.29578F;
        const QString label = tr("%1, %2° high").arg(sun.label).arg(std::lround(degrees));
        const qreal wide = painter.fontMetrics().horizontalAdvance(label);
        // Above it, or beside it where the camera is below.
        const bool upper = at.y() < domeCentre().y();
        const qreal x = std::clamp(at.x() - wide / 2.0, 4.0, std::max(4.0, width() - 6.0 - wide));
        const QPointF above(x, at.y() - 9.0);
        const QPointF beside(std::clamp(at.x() + 9.0, 4.0, std::max(4.0, width() - 6.0 - wide)),
                             at.y() + 4.0);
        const QPointF atLeft(at.x() - 9.0 - wide, at.y() + 4.0);
        paintName(painter, names,
                  upper ? std::vector{above, beside, atLeft} : std::vector{beside, above, atLeft},
                  label, theme::kText);
    }
}

void Plan::paintCamera(QPainter& painter) const {
    painter.setPen(QPen(theme::kAccent, 1.2));
    painter.setBrush(m_held.grab == Grab::Direction ? theme::kAccent : theme::kPanel);
    painter.drawEllipse(directionPlace(), 4, 4);
    painter.fillRect(QRectF(cameraPlace() - QPointF(4, 4), QSizeF(8, 8)), theme::kText);
}

LabelPlaces Plan::labelPlaces() const {
    std::vector<QPointF> handles{cameraPlace(), directionPlace()};
    for (const PlanDistance& distance : m_distances)
        handles.push_back(placeOf(distance));
    for (const PlanMark& mark : m_marks)
        handles.push_back(placeOf(mark));
    for (const PlanSun& sun : m_suns)
        handles.push_back(placeOf(sun));
    LabelPlaces places(QRectF(0.0, kHeader - 4.0, width(), height() - kHeader));
    for (const QPointF& handle : handles)
        places.take(QRectF(handle - QPointF(4.5, 4.5), QSizeF(9.0, 9.0)));
    return places;
}

}  // namespace noctis
