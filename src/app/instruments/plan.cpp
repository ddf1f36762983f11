#include "app/instruments/plan.h"

#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "core/passes/statistics.h"

#include <QMouseEvent>

#include <algorithm>
#include <array>
#include <cmath>

namespace noctis {

namespace {

constexpr int kDotsAcross = 72;
constexpr qreal kReach = 9.0;
constexpr qreal kEdge = 18.0;
constexpr float kDirectionAt = 0.28F;  ///< of the range

}  // namespace

Plan::Plan(QWidget* parent) : QWidget(parent) {
    setMouseTracking(true);
    setAccessibleName(tr("Plan"));
    setToolTip(tr("The scene from above or from the side. Drag the camera, its direction, a "
                  "distance, a light, a locator or a box; drag a sun around the middle. "
                  "Double-click a light or locator to put it back. The wheel zooms."));
}

void Plan::measureAxes() {
    V3f forward;
    m_camera.cameraToWorld.multDirMatrix(V3f(0, 0, -1), forward);
    V3f flat(forward.x, 0.0F, forward.z);
    if (flat.length2() < 1e-6F)  // looking straight down, the top of the picture is ahead
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
    const FrameRays rays(m_camera, depth.width(), depth.height());
    for (int y = step / 2; y < depth.height(); y += step)
        for (int x = step / 2; x < depth.width(); x += step) {
            const CameraRay ray =
                rays.through(static_cast<float>(x) + 0.5F, static_cast<float>(y) + 0.5F);
            const float metres = depth(x, y, 0);
            if (std::isfinite(metres))
                m_dots.emplace_back(ray.origin + ray.direction * (metres / ray.planarPerDistance),
                                    metres);
        }
    // Twice the median distance shows what matters, however far away the horizon is.
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

void Plan::setBoxes(std::vector<PlanBox> boxes) {
    m_boxes = std::move(boxes);
    update();
}

QPolygonF Plan::outlineOf(const PlanBox& box) const {
    if (m_side) {
        // Its eight corners fill an upright rectangle.
        V2f least(1e9F);
        V2f most(-1e9F);
        for (int i = 0; i < 8; ++i) {
            const V2f at = local({(i & 1) != 0 ? box.one.x : box.other.x,
                                  (i & 2) != 0 ? box.one.y : box.other.y,
                                  (i & 4) != 0 ? box.one.z : box.other.z});
            least = {std::min(least.x, at.x), std::min(least.y, at.y)};
            most = {std::max(most.x, at.x), std::max(most.y, at.y)};
        }
        return QPolygonF(
            {place(least), place({most.x, least.y}), place(most), place({least.x, most.y})});
    }
    const auto corner = [&](float x, float z) { return place(local({x, box.one.y, z})); };
    return QPolygonF({corner(box.one.x, box.one.z), corner(box.other.x, box.one.z),
                      corner(box.other.x, box.other.z), corner(box.one.x, box.other.z)});
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
    for (std::size_t i = 0; i < m_boxes.size(); ++i)
        if (outlineOf(m_boxes[i]).containsPoint(point, Qt::OddEvenFill))
            return {Grab::Box, i};
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
    case Grab::Box: {
        const V2f way = now - metresAt(m_last);
        Q_EMIT boxMoved(m_index, m_along * way.x + m_across * way.y);
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
