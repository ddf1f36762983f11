#include "app/survey/view_overlay.h"

#include "app/look/picture_paint.h"
#include "app/look/theme.h"

#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr qreal kStem = 22.0;
constexpr qreal kTagHeight = 18.0;
constexpr qreal kBetweenTags = 2.0;
constexpr int kMostShifts = 4;

}  // namespace

std::optional<QPointF> ViewPlace::at(const V3f& world) const {
    const V3f p = project(camera, world, 1000,
                          static_cast<int>(std::lround(1000.0 * frame.height() / frame.width())));
    if (!(p.z > 0.0F))
        return std::nullopt;
    const qreal scale = frame.width() / 1000.0;
    return QPointF(frame.left() + static_cast<qreal>(p.x) * scale,
                   frame.top() + static_cast<qreal>(p.y) * scale);
}

CameraRay ViewPlace::ray(const QPointF& point) const {
    return cameraRay(camera, static_cast<float>(point.x() - frame.left()),
                     static_cast<float>(point.y() - frame.top()),
                     static_cast<int>(std::lround(frame.width())),
                     static_cast<int>(std::lround(frame.height())));
}

QRectF Tags::place(const QPointF& at, qreal wide) {
    const QRectF wanted(std::max(m_within.left(), std::min(at.x() - 6, m_within.right() - wide)),
                        std::max(m_within.top(), at.y() - kTagHeight), wide, kTagHeight);
    std::vector<QRectF> boxes{wanted};
    for (int steps = 1; steps <= kMostShifts; ++steps)
        for (const int way : {-1, 1})
            boxes.push_back(wanted.translated(0, way * steps * (kTagHeight + kBetweenTags)));
    return m_places.place(boxes);
}

void Tags::paint(QPainter& painter, const QPointF& at, const QString& text) {
    painter.setFont(theme::font(12));
    const QRectF box = place(at, painter.fontMetrics().horizontalAdvance(text) + 12);
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::kPanel);
    painter.drawRoundedRect(box, 3, 3);
    painter.setPen(theme::kText);
    painter.drawText(box, Qt::AlignCenter, text);
}

void paintPins(QPainter& painter, const ViewPlace& view, const std::vector<Pin>& pins, Tags& tags) {
    painter.setRenderHint(QPainter::Antialiasing);
    if (pins.size() > 1) {
        const V3f& a = pins[pins.size() - 2].position;
        const V3f& b = pins.back().position;
        const auto from = view.at(a);
        const auto to = view.at(b);
        if (from && to) {
            painter.setPen(QPen(theme::kWarning, 1, Qt::DashLine));
            painter.drawLine(*from, *to);
            tags.paint(painter, (*from + *to) / 2.0, metresText((b - a).length()));
        }
    }
    for (const Pin& pin : pins) {
        const auto at = view.at(pin.position);
        if (!at || !view.frame.contains(*at))
            continue;
        painter.setPen(QPen(theme::kWarning, 1.2));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(*at, 4, 4);
        painter.drawLine(*at - QPointF(0, 4), *at - QPointF(0, kStem));
        const V3f local = pin.position * view.camera.cameraToWorld.inverse();
        tags.paint(painter, *at - QPointF(0, kStem),
                   qstring(pin.name) + QLatin1Char(' ') + metresText(-local.z));
    }
}

void paintReach(QPainter& painter, const ViewPlace& view, float metres, float ahead, Tags& tags) {
    const qreal high = view.camera.orthographic()
                           ? static_cast<qreal>(view.camera.orthographicHeight)
                           : 2.0 * static_cast<qreal>(ahead) *
                                 std::tan(0.5 * static_cast<qreal>(view.camera.yfovRadians));
    const qreal length = static_cast<qreal>(metres) / high * view.frame.height();
    if (length < 2.0 || length > view.frame.width() * 2.0)
        return;
    const QPointF middle = view.frame.center();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme::kAccent, 1.2));
    painter.setClipRect(view.frame);
    painter.drawEllipse(middle, length, length);
    painter.drawLine(middle, middle + QPointF(length, 0));
    painter.drawEllipse(middle, 2, 2);
    painter.setClipping(false);
    tags.paint(painter, middle + QPointF(10, -4),
               QObject::tr("reach %1, at %2").arg(metresText(metres), metresText(ahead)));
}

void paintCrop(QPainter& painter, const QRectF& frame, const std::array<float, 4>& crop) {
    const auto at = [&](std::size_t side) { return static_cast<qreal>(crop[side]); };
    const QRectF kept(frame.left() + frame.width() * at(0), frame.top() + frame.height() * at(1),
                      frame.width() * (at(2) - at(0)), frame.height() * (at(3) - at(1)));
    QPainterPath outside;
    outside.addRect(frame);
    outside.addRect(kept);
    constexpr int kShaded = 170;
    const QColor around = theme::kSurround;
    painter.fillPath(outside, QColor(around.red(), around.green(), around.blue(), kShaded));
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme::kNear, 1, Qt::DashLine));
    painter.drawRect(kept);
}

void paintFrame(QPainter& painter, const QRectF& frame, const QString& text) {
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme::kAccent, 1));
    painter.drawRect(frame.adjusted(-0.5, -0.5, 0.5, 0.5));
    painter.setFont(theme::font(12));
    const qreal wide = painter.fontMetrics().horizontalAdvance(text) + 12;
    const QPointF corner(std::max(frame.left(), 0.0), std::max(frame.top(), 0.0));
    painter.fillRect(QRectF(corner, QSizeF(wide, 20)), QColor(26, 27, 28, 170));
    painter.setPen(theme::kText);
    painter.drawText(QRectF(corner + QPointF(6, 0), QSizeF(wide, 20)), Qt::AlignVCenter, text);
}

void paintTilesBeingRendered(QPainter& painter, const QRectF& frame,
                             const std::vector<QRectF>& tiles) {
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme::kNear, 1));
    for (const QRectF& tile : tiles)
        painter.drawRect(QRectF(frame.left() + tile.x() * frame.width(),
                                frame.top() + tile.y() * frame.height(),
                                tile.width() * frame.width(), tile.height() * frame.height()));
}

}  // namespace noctis
