#include "app/instruments/plan.h"

#include "app/controls/instrument_head.h"
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
constexpr qreal kHandleReach = 9.0;
constexpr qreal kPlanEdge = 18.0;
constexpr float kDirectionAt = 0.28F;  ///< of the range

}  // namespace

Plan::Plan(QWidget* parent) : Instrument(parent) {
    setMouseTracking(true);
    addHeading(this, tr("Plan"));
    setAccessibleName(tr("Plan"));
    setToolTip(tr("The scene from above or from the side. Drag the camera, its direction, a "
                  "distance, a light, a locator or a box; drag a sun around the middle. "
                  "Double-click a light or locator to put it back. The wheel zooms."));
}

void Plan::setFrame(const MeasuredFrame& frame) {
    setCamera(frame.shown.camera, frame.shown.aspect());
    setDepth(frame.depth ? frame.depth->image : Image());
    m_lamps.clear();
    for (const auto& [name, light] : frame.lights)
        if (light.kind != SceneLightKind::Sun && light.kind != SceneLightKind::Dome)
            m_lamps.push_back({{}, qstring(name), light.position, true});
}

void Plan::setGroups(const std::vector<HandleGroup>& groups, const std::string& chosen) {
    std::vector<PlanMark> marks;
    std::vector<PlanBox> boxes;
    m_courses.clear();
    for (const HandleGroup& group : groups) {
        if (stepOfOwner(group.owner) != chosen)
            continue;
        for (const Handle* handle : group.shown(HandleKind::Point)) {
            const HandleRef own{group.owner, handle->id};
            marks.push_back({own, qstring(handle->label), group.point(*handle), true});
            std::vector<V3f>& course = m_courses.emplace_back();
            for (const HandleValue& place : group.course(*handle))
                course.push_back(std::get<V3f>(place));
            if (handle->opposite.empty())
                continue;
            const Handle& opposite = group.handle(handle->opposite);
            boxes.push_back({{own, HandleRef{group.owner, opposite.id}},
                             group.point(*handle),
                             group.point(opposite)});
        }
    }
    m_canMove = !marks.empty();
    marks.insert(marks.end(), m_lamps.begin(), m_lamps.end());
    setMarks(std::move(marks));
    setBoxes(std::move(boxes));
}

bool Plan::isOfUse() const { return m_canMove; }

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
    if (const auto found = percentilesOf(depth, 0, middle);
        !found.empty() && m_held.grab == Grab::None)
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
    const qreal long_ = m_side ? width() - 2 * kPlanEdge : height() - kHeader - kPlanEdge;
    const qreal scale = long_ / static_cast<qreal>(m_range);
    const qreal along = static_cast<qreal>(at.x) * scale;
    const qreal across = static_cast<qreal>(at.y) * scale;
    return m_side ? QPointF(kPlanEdge + along, kHeader + (height() - kHeader) * 0.55 - across)
                  : QPointF(width() / 2.0 + across, height() - kPlanEdge - along);
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

QPointF Plan::placeOf(const PlanDistance& distance) const {
    // On the wedge's right or upper edge, where nothing covers it.
    const float metres = std::min(distance.metres, m_range * 0.98F);
    const float turn = m_tilt + halfAngle();
    const float length = metres / std::cos(halfAngle());
    return place(V2f(std::cos(turn) * length, std::sin(turn) * length));
}

QPointF Plan::placeOf(const PlanMark& mark) const { return place(local(mark.position)); }

std::optional<QPointF> Plan::handlePlace(const std::string& owner,
                                         const std::string& handle) const {
    const HandleRef wanted{owner, handle};
    const auto in = [&](const auto& things) -> std::optional<QPointF> {
        for (const auto& thing : things)
            if (thing.handle == wanted)
                return placeOf(thing);
        return std::nullopt;
    };
    if (const auto found = in(m_distances))
        return found;
    if (const auto found = in(m_marks))
        return found;
    return in(m_suns);
}

Plan::Held Plan::heldAt(const QPointF& point) const {
    const auto near = [&](const QPointF& at) { return QLineF(at, point).length() < kHandleReach; };
    for (const PlanDistance& distance : m_distances)
        if (near(placeOf(distance)))
            return {Grab::Distance, distance.handle};
    for (const PlanMark& mark : m_marks)
        if (mark.movable() && near(placeOf(mark)))
            return {Grab::Mark, mark.handle};
    for (const PlanSun& sun : m_suns)
        if (near(placeOf(sun)))
            return {Grab::Sun, sun.handle};
    if (!m_cameraFixed && near(directionPlace()))
        return {Grab::Direction};
    if (!m_cameraFixed && near(cameraPlace()))
        return {Grab::Camera};
    for (const PlanBox& box : m_boxes)
        if (outlineOf(box).containsPoint(point, Qt::OddEvenFill))
            return {Grab::Box, box.handles[0]};
    return {};
}

QPointF Plan::wedgePlace(float turn, float depth) const {
    const float length = depth / std::cos(halfAngle());
    return place(V2f(std::cos(m_tilt + turn) * length, std::sin(m_tilt + turn) * length));
}

QPointF Plan::domeCentre() const { return {width() / 2.0, kHeader + (height() - kHeader) / 2.0}; }

qreal Plan::domeRadius() const {
    return std::max(20.0, std::min<qreal>(width(), height() - kHeader) / 2.0 - kPlanEdge);
}

QPointF Plan::placeOf(const PlanSun& sun) const {
    const V3f& towards = sun.towards;
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

bool Plan::isSideways(const QPointF& to) const {
    if (m_side)
        return std::abs(to.y() - m_pressed.y()) < kStrays;
    const QPointF now = to - domeCentre();
    const QPointF then = m_pressed - domeCentre();
    return std::abs(std::hypot(now.x(), now.y()) - std::hypot(then.x(), then.y())) < kStrays;
}

void Plan::mousePressEvent(QMouseEvent* event) {
    m_held = heldAt(event->position());
    m_last = m_pressed = event->position();
    for (const PlanSun& sun : m_suns)
        if (m_held.grab == Grab::Sun && sun.handle == m_held.handle)
            m_sunThen = sun.towards;
}

void Plan::mouseMoveEvent(QMouseEvent* event) {
    if (m_held.grab == Grab::None) {
        setCursor(heldAt(event->position()).grab == Grab::None ? Qt::ArrowCursor
                                                               : Qt::SizeAllCursor);
        return;
    }
    const V2f before = metresAt(m_last);
    const V2f now = metresAt(event->position());
    const V3f way = m_along * (now.x - before.x) + m_across * (now.y - before.y);
    if (m_held.grab == Grab::Camera) {
        Q_EMIT cameraMoved(way);
    } else if (m_held.grab == Grab::Direction) {
        const float turn = std::atan2(now.y, now.x) - std::atan2(before.y, before.x);
        Q_EMIT cameraTurned(m_side ? turn : -turn);
    } else {
        moveHeld(event->position(), way);
    }
    m_last = event->position();
}

void Plan::moveHeld(const QPointF& to, const V3f& way) {
    const HandleRef held = m_held.handle;
    const auto move = [&](const HandleValue& value) {
        Q_EMIT handlesMoved({{held.owner, held.handle, value}});
    };
    // What is moved may be gone, by undo say.
    const auto find = [&](const auto& things) {
        return std::ranges::find(things, held, [](const auto& thing) { return thing.handle; });
    };
    if (m_held.grab == Grab::Distance) {
        const V2f now = metresAt(to);
        move(std::max(now.x * std::cos(m_tilt) + now.y * std::sin(m_tilt), 0.001F));
    } else if (m_held.grab == Grab::Sun) {
        if (const auto sun = find(m_suns); sun != m_suns.end()) {
            const V3f there = directionAt(to, *sun);
            move(isSideways(to) ? turnedLevel(m_sunThen, there) : there);
        }
    } else if (m_held.grab == Grab::Mark) {
        if (const auto mark = find(m_marks); mark != m_marks.end())
            move(V3f(mark->position + way));
    } else if (m_held.grab == Grab::Box) {
        const auto box =
            std::ranges::find(m_boxes, held, [](const PlanBox& each) { return each.handles[0]; });
        if (box == m_boxes.end())
            return;
        const auto [one, other] = box->handles;
        Q_EMIT handlesMoved({{one.owner, one.handle, V3f(box->one + way)},
                             {other.owner, other.handle, V3f(box->other + way)}});
    }
}

void Plan::mouseReleaseEvent(QMouseEvent*) {
    if (std::exchange(m_held, {}).grab != Grab::None)
        Q_EMIT handlesRested();
    update();
}

void Plan::mouseDoubleClickEvent(QMouseEvent* event) {
    const Held held = heldAt(event->position());
    if (held.grab == Grab::Mark || held.grab == Grab::Sun)
        Q_EMIT handleReset(held.handle.owner, held.handle.handle);
}

void Plan::wheelEvent(QWheelEvent* event) {
    m_range =
        std::clamp(m_range * std::pow(0.88F, static_cast<float>(event->angleDelta().y()) / 120.0F),
                   0.05F, 1e5F);
    update();
}

}  // namespace noctis
