#include "app/instruments/plan.h"

#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "core/passes/statistics.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <array>
#include <cmath>

namespace noctis {

namespace {

constexpr int kDotsAcross = 72;
constexpr qreal kReach = 9.0;
constexpr qreal kEdge = 18.0;
constexpr qreal kHeader = 30.0;
constexpr float kDirectionAt = 0.28F;  ///< of the range

/// At the first foot of its text that is clear of the others.
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

Plan::Plan(QWidget* parent) : QWidget(parent) {
    setMouseTracking(true);
    setAccessibleName(tr("Plan"));
    setToolTip(
        tr("The place from above or from the side. Drag the camera, its direction, a "
           "distance, a light or a locator; a sun is turned about the middle. A double click puts "
           "a light or locator back. The wheel changes the scale."));
}

void Plan::measureAxes() {
    V3f forward;
    m_camera.cameraToWorld.multDirMatrix(V3f(0, 0, -1), forward);
    V3f flat(forward.x, 0.0F, forward.z);
    if (flat.length2() < 1e-6F)  // looking straight down: the top of the picture is ahead
        m_camera.cameraToWorld.multDirMatrix(V3f(0, 1, 0), flat);
    flat.y = 0.0F;
    m_along = flat.normalized();
    m_across = m_side ? V3f(0, 1, 0) : V3f(-m_along.z, 0.0F, m_along.x);
    m_tilt = m_side ? std::atan2(forward.y, forward.dot(m_along)) : 0.0F;
}

void Plan::setCamera(const Camera& camera, float aspect) {
    m_camera = camera;
    m_aspect = aspect;
    measureAxes();
    update();
}

void Plan::setFromSide(bool side) {
    m_side = side;
    measureAxes();
    update();
}

void Plan::setDepth(const Image& depth) {
    m_dots.clear();
    const int step = std::max(1, depth.width() / kDotsAcross);
    for (int y = step / 2; y < depth.height(); y += step)
        for (int x = step / 2; x < depth.width(); x += step) {
            const CameraRay ray =
                cameraRay(m_camera, static_cast<float>(x) + 0.5F, static_cast<float>(y) + 0.5F,
                          depth.width(), depth.height());
            const float metres = depth(x, y, 0);
            if (std::isfinite(metres))
                m_dots.emplace_back(ray.origin + ray.direction * (metres / ray.planarPerDistance),
                                    metres);
        }
    // Twice the middle distance shows what the picture is about, however far the horizon is.
    const std::array<float, 1> middle{0.5F};
    if (const auto found = percentilesOf(depth, 0, middle); !found.empty() && m_grab == Grab::None)
        m_range = std::max(2.2F * found[0], 0.1F);
    update();
}

void Plan::setDistances(std::vector<PlanDistance> distances) {
    m_distances = std::move(distances);
    update();
}

void Plan::setSuns(std::vector<PlanSun> suns) {
    m_suns = std::move(suns);
    update();
}

void Plan::setMarks(std::vector<PlanMark> marks) {
    m_marks = std::move(marks);
    update();
}

V2f Plan::local(const V3f& world) const {
    const V3f from = world - m_camera.position();
    return {from.dot(m_along), from.dot(m_across)};
}

QPointF Plan::place(const V2f& at) const {
    const qreal long_ = m_side ? width() - 2 * kEdge : height() - kHeader - kEdge;
    const qreal scale = long_ / static_cast<qreal>(m_range);
    const qreal along = static_cast<qreal>(at.x) * scale;
    const qreal across = static_cast<qreal>(at.y) * scale;
    return m_side ? QPointF(kEdge + along, kHeader + (height() - kHeader) * 0.55 - across)
                  : QPointF(width() / 2.0 + across, height() - kEdge - along);
}

V2f Plan::metresAt(const QPointF& point) const {
    const QPointF origin = place(V2f(0.0F));
    const QPointF unit = place(V2f(1.0F, 1.0F)) - origin;
    const QPointF from = point - origin;
    return m_side ? V2f(static_cast<float>(from.x() / unit.x()),
                        static_cast<float>(from.y() / unit.y()))
                  : V2f(static_cast<float>(from.y() / unit.y()),
                        static_cast<float>(from.x() / unit.x()));
}

float Plan::halfAngle() const {
    const float half = std::tan(0.5F * m_camera.yfovRadians);
    return std::atan(m_side ? half : half * m_aspect);
}

QPointF Plan::cameraPlace() const { return place(V2f(0.0F)); }

QPointF Plan::directionPlace() const {
    const float length = kDirectionAt * m_range;
    return place(V2f(std::cos(m_tilt) * length, std::sin(m_tilt) * length));
}

QPointF Plan::distancePlace(std::size_t index) const {
    // On the wedge's right or upper edge, where nothing covers it.
    const float metres = std::min(m_distances[index].metres, m_range * 0.98F);
    const float turn = m_tilt + halfAngle();
    const float length = metres / std::cos(halfAngle());
    return place(V2f(std::cos(turn) * length, std::sin(turn) * length));
}

QPointF Plan::markPlace(std::size_t index) const { return place(local(m_marks[index].position)); }

std::pair<Plan::Grab, std::size_t> Plan::grabAt(const QPointF& point) const {
    const auto near = [&](const QPointF& at) { return QLineF(at, point).length() < kReach; };
    for (std::size_t i = 0; i < m_distances.size(); ++i)
        if (near(distancePlace(i)))
            return {Grab::Distance, i};
    for (std::size_t i = 0; i < m_marks.size(); ++i)
        if (m_marks[i].movable && near(markPlace(i)))
            return {Grab::Mark, i};
    for (std::size_t i = 0; i < m_suns.size(); ++i)
        if (near(sunPlace(i)))
            return {Grab::Sun, i};
    if (!m_held && near(directionPlace()))
        return {Grab::Direction, 0};
    if (!m_held && near(cameraPlace()))
        return {Grab::Camera, 0};
    return {Grab::None, 0};
}

QPointF Plan::wedgePlace(float turn, float depth) const {
    const float length = depth / std::cos(halfAngle());
    return place(V2f(std::cos(m_tilt + turn) * length, std::sin(m_tilt + turn) * length));
}

QPointF Plan::domeCentre() const { return {width() / 2.0, kHeader + (height() - kHeader) / 2.0}; }

qreal Plan::domeRadius() const {
    return std::max(20.0, std::min<qreal>(width(), height() - kHeader) / 2.0 - kEdge);
}

QPointF Plan::sunPlace(std::size_t index) const {
    const V3f& towards = m_suns[index].towards;
    const auto along = static_cast<qreal>(towards.dot(m_along)) * domeRadius();
    const auto across = static_cast<qreal>(towards.dot(m_across)) * domeRadius();
    return domeCentre() + (m_side ? QPointF(along, -across) : QPointF(across, -along));
}

V3f Plan::directionAt(const QPointF& point, const PlanSun& sun) const {
    const QPointF from = (point - domeCentre()) / domeRadius();
    V2f onDisc = m_side ? V2f(static_cast<float>(from.x()), static_cast<float>(-from.y()))
                        : V2f(static_cast<float>(-from.y()), static_cast<float>(from.x()));
    if (onDisc.length() > 1.0F)
        onDisc.normalize();
    const V3f near = m_across.cross(m_along);  // up, seen from above
    const float height = std::sqrt(std::max(0.0F, 1.0F - onDisc.length2()));
    const bool isBehind = sun.towards.dot(near) < -0.01F;  // a sun at the horizon may rise
    return m_along * onDisc.x + m_across * onDisc.y + near * (isBehind ? -height : height);
}

void Plan::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setClipRect(QRectF(0, kHeader - 4, width(), height() - kHeader + 4));
    painter.setFont(theme::font(11));
    paintSurfaces(painter);
    paintWedge(painter);
    LabelPlaces names = labelPlaces();
    paintDistances(painter, names);
    paintMarks(painter, names);
    paintSuns(painter, names);
    paintCamera(painter);
    painter.setPen(theme::kQuiet);
    painter.drawText(QRectF(0, height() - 20, width() - 10, 16), Qt::AlignRight | Qt::AlignVCenter,
                     tr("%1 across").arg(metresText(m_range)));
}

void Plan::paintSurfaces(QPainter& painter) const {
    QColor dot = theme::kQuiet;
    dot.setAlpha(120);
    for (const auto& [world, depth] : m_dots)
        if (const QPointF at = place(local(world)); rect().contains(at.toPoint()))
            painter.fillRect(QRectF(at.x() - 0.7, at.y() - 0.7, 1.4, 1.4), dot);
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
    for (std::size_t i = 0; i < m_distances.size(); ++i) {
        const PlanDistance& d = m_distances[i];
        const float metres = std::min(d.metres, m_range * 0.98F);
        painter.setPen(QPen(d.colour, d.metres > m_range ? 0.8 : 1.4,
                            d.metres > m_range ? Qt::DashLine : Qt::SolidLine));
        painter.drawLine(wedgePlace(-halfAngle(), metres), wedgePlace(halfAngle(), metres));
        painter.setBrush(theme::kPanel);
        painter.drawEllipse(distancePlace(i), 3.5, 3.5);
    }
    for (std::size_t i = 0; i < m_distances.size(); ++i) {
        const PlanDistance& d = m_distances[i];
        const QString text = d.label + QLatin1Char(' ') + metresText(d.metres);
        const qreal wide = painter.fontMetrics().horizontalAdvance(text);
        QPointF foot = distancePlace(i) + (m_side ? QPointF(6, -6) : QPointF(8, 4));
        foot.setX(std::min(foot.x(), width() - 6.0 - wide));
        // What lies beyond the edge of the Plan shares one place: each name beside the last.
        std::vector<QPointF> feet{foot};
        for (const qreal away : {12.0, -12.0, 24.0, -24.0, 36.0, 48.0})
            feet.push_back(foot + QPointF(0, m_side ? -away : away));
        paintName(painter, names, feet, text, d.colour);
    }
}

LabelPlaces Plan::labelPlaces() const {
    std::vector<QPointF> handles{cameraPlace(), directionPlace()};
    for (std::size_t i = 0; i < m_distances.size(); ++i)
        handles.push_back(distancePlace(i));
    for (std::size_t i = 0; i < m_marks.size(); ++i)
        handles.push_back(markPlace(i));
    for (std::size_t i = 0; i < m_suns.size(); ++i)
        handles.push_back(sunPlace(i));
    LabelPlaces places(QRectF(0.0, kHeader - 4.0, width(), height() - kHeader));
    for (const QPointF& handle : handles)
        places.take(QRectF(handle - QPointF(4.5, 4.5), QSizeF(9.0, 9.0)));
    return places;
}

void Plan::paintMarks(QPainter& painter, LabelPlaces& names) const {
    for (const PlanMark& mark : m_marks) {
        const QPointF at = place(local(mark.position));
        if (!rect().adjusted(6, static_cast<int>(kHeader), -6, -6).contains(at.toPoint()))
            continue;
        painter.setPen(QPen(mark.shines ? theme::kNear : theme::kQuiet, 1.2));
        painter.setBrush(mark.shines ? QBrush(theme::kNear) : Qt::NoBrush);
        painter.drawEllipse(at, 3.5, 3.5);
        // Away from the camera's axis, which has the lines and names of distances at its right.
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
    for (std::size_t i = 0; i < m_suns.size(); ++i) {
        const bool held = m_grab == Grab::Sun && m_index == i;
        const QPointF at = sunPlace(i);
        if (held) {
            painter.setBrush(Qt::NoBrush);
            painter.setPen(QPen(theme::kHairline, 1));
            painter.drawEllipse(domeCentre(), domeRadius(), domeRadius());
        }
        // Its light falls towards the middle.
        const QLineF way(at, domeCentre());
        painter.setPen(QPen(theme::kNear, 1.2));
        if (const qreal length = way.length(); length > 1.0)
            for (const qreal aside : {-4.0, 0.0, 4.0}) {
                const QPointF along(way.dx() / length, way.dy() / length);
                const QPointF start = at + QPointF(-along.y(), along.x()) * aside + along * 8.0;
                painter.drawLine(start, start + along * (aside == 0.0 ? 9.0 : 6.0));
            }
        painter.setBrush(m_suns[i].towards.y < 0.0F ? QBrush(theme::kPanel) : QBrush(theme::kNear));
        painter.drawEllipse(at, 4.5, 4.5);
        const float degrees = std::asin(std::clamp(m_suns[i].towards.y, -1.0F, 1.0F)) * 57.29578F;
        const QString label = tr("%1, %2° high").arg(m_suns[i].label).arg(std::lround(degrees));
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
    painter.setBrush(m_grab == Grab::Direction ? theme::kAccent : theme::kPanel);
    painter.drawEllipse(directionPlace(), 4, 4);
    painter.fillRect(QRectF(cameraPlace() - QPointF(4, 4), QSizeF(8, 8)), theme::kText);
}

void Plan::mousePressEvent(QMouseEvent* event) {
    std::tie(m_grab, m_index) = grabAt(event->position());
    m_last = event->position();
}

void Plan::mouseMoveEvent(QMouseEvent* event) {
    const V2f now = metresAt(event->position());
    switch (m_grab) {
    case Grab::None:
        setCursor(grabAt(event->position()).first == Grab::None ? Qt::ArrowCursor
                                                                : Qt::SizeAllCursor);
        return;
    case Grab::Camera: {
        const V2f way = now - metresAt(m_last);
        Q_EMIT cameraMoved(m_along * way.x + m_across * way.y);
        break;
    }
    case Grab::Mark: {
        const V2f way = now - metresAt(m_last);
        Q_EMIT markMoved(m_index, m_along * way.x + m_across * way.y);
        break;
    }
    case Grab::Sun:
        Q_EMIT sunTurned(m_index, directionAt(event->position(), m_suns[m_index]));
        break;
    case Grab::Direction: {
        const V2f before = metresAt(m_last);
        const float turn = std::atan2(now.y, now.x) - std::atan2(before.y, before.x);
        Q_EMIT cameraTurned(m_side ? turn : -turn);
        break;
    }
    case Grab::Distance: {
        const float depth = now.x * std::cos(m_tilt) + now.y * std::sin(m_tilt);
        Q_EMIT distanceMoved(m_index, std::max(depth, 0.001F));
        break;
    }
    }
    m_last = event->position();
}

void Plan::mouseReleaseEvent(QMouseEvent*) {
    if (std::exchange(m_grab, Grab::None) != Grab::None)
        Q_EMIT rested();
    update();
}

void Plan::mouseDoubleClickEvent(QMouseEvent* event) {
    const auto [grab, index] = grabAt(event->position());
    if (grab == Grab::Mark)
        Q_EMIT markReset(index);
    if (grab == Grab::Sun)
        Q_EMIT sunReset(index);
}

void Plan::wheelEvent(QWheelEvent* event) {
    m_range =
        std::clamp(m_range * std::pow(0.88F, static_cast<float>(event->angleDelta().y()) / 120.0F),
                   0.05F, 1e5F);
    update();
}

}  // namespace noctis
