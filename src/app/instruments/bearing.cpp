#include "app/instruments/bearing.h"

#include "app/look/picture_paint.h"

#include <QKeyEvent>
#include <QMouseEvent>

#include <algorithm>
#include <cmath>
#include <iterator>

namespace noctis {

namespace {

constexpr int kCells = 72;  ///< of the disc's grey, across
constexpr int kMostSamples = 200000;
constexpr qreal kEdge = 14.0;
constexpr qreal kHeader = 22.0;
constexpr qreal kReach = 11.0;
constexpr float kKeyStep = 2.0F;     ///< degrees
constexpr qreal kLobeTravel = 80.0;  ///< px of the pointer, from 0 to 1
constexpr float kLobeStep = 0.05F;   ///< of an arrow key
constexpr float kRadians = 3.14159265F / 180.0F;

}  // namespace

Bearing::Bearing(QWidget* parent) : Instrument(parent) {
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Bearing"));
    setToolTip(tr("All directions, with the viewer at the centre and what faces away at the rim; "
                  "the grey shows how much of the picture faces each way. Drag a lamp or the "
                  "middle of a cone; arrow keys turn it by 2°. Drag a ring up to lighten what "
                  "faces that way, down to darken it. Click the word at the top to switch "
                  "between the camera's axes and level ones."));
    measureAxes();
}

void Bearing::setFrame(const MeasuredFrame& frame) {
    m_camera = frame.shown.camera;
    m_normals = frame.worldNormals;
    measureAxes();
    rebuild();
}

void Bearing::setLevel(bool level) {
    m_level = level;
    measureAxes();
    rebuild();
}

void Bearing::measureAxes() {
    const auto axis = [&](int i) {
        const M44f& m = m_camera.cameraToWorld;
        return V3f(m[i][0], m[i][1], m[i][2]).normalized();
    };
    m_right = axis(0);
    m_up = axis(1);
    m_viewer = axis(2);
    V3f level(m_viewer.x, 0.0F, m_viewer.z);
    if (!m_level || level.length2() < 1e-6F)
        return;
    m_viewer = level.normalized();
    m_up = V3f(0.0F, 1.0F, 0.0F);
    m_right = m_up.cross(m_viewer);
}

void Bearing::rebuild() {
    m_disc = {};
    if (!m_normals.empty() && m_normals.channels() >= 3) {
        std::vector<float> counts(static_cast<std::size_t>(kCells) * kCells, 0.0F);
        const int pixels = m_normals.width() * m_normals.height();
        const int step = std::max(1, static_cast<int>(std::sqrt(pixels / kMostSamples)));
        for (int y = 0; y < m_normals.height(); y += step)
            for (int x = 0; x < m_normals.width(); x += step) {
                const V3f n(m_normals(x, y, 0), m_normals(x, y, 1), m_normals(x, y, 2));
                if (!(n.length2() > 0.1F))
                    continue;
                const V3f local(n.dot(m_right), n.dot(m_up), n.dot(m_viewer));
                const float scale =
                    std::sqrt(std::max(0.0F, 1.0F - local.z) * 0.5F) /
                    std::max(std::sqrt(local.x * local.x + local.y * local.y), 1e-6F);
                const auto cell = [&](float v) {
                    return std::clamp(static_cast<int>((v * scale * 0.5F + 0.5F) * kCells), 0,
                                      kCells - 1);
                };
                counts[static_cast<std::size_t>(cell(-local.y) * kCells + cell(local.x))] += 1.0F;
            }
        // Scaled by the fuller cells: scaling by the maximum would leave everything but a level floor black.
        std::vector<float> held;
        std::copy_if(counts.begin(), counts.end(), std::back_inserter(held),
                     [](float count) { return count > 0.0F; });
        float most = 1.0F;
        if (!held.empty()) {
            const auto nth = held.begin() + static_cast<std::ptrdiff_t>(held.size() * 95 / 100);
            std::nth_element(held.begin(), nth, held.end());
            most = *nth;
        }
        m_disc = QImage(kCells, kCells, QImage::Format_ARGB32_Premultiplied);
        for (int y = 0; y < kCells; ++y)
            for (int x = 0; x < kCells; ++x) {
                const float share =
                    std::min(1.0F, counts[static_cast<std::size_t>(y * kCells + x)] / most);
                // The square root keeps small counts visible beside large ones.
                const int a = static_cast<int>(210.0F * std::pow(share, 0.4F));
                m_disc.setPixel(x, y, qRgba(0x9a * a / 255, 0x98 * a / 255, 0x92 * a / 255, a));
            }
    }
    update();
}

void Bearing::setGroups(const std::vector<HandleGroup>& groups, const std::string& chosen) {
    m_lamps.clear();
    m_lobes.clear();
    m_courses.clear();
    for (const HandleGroup& group : groups) {
        if (stepOfOwner(group.owner) != chosen)
            continue;
        for (const Handle* handle : group.shown(HandleKind::Direction)) {
            std::vector<V3f>& course = m_courses.emplace_back();
            for (const HandleValue& place : group.course(*handle))
                course.push_back(std::get<V3f>(place).normalized());
            m_lamps.push_back({group.owner, handle->id, qstring(handle->label),
                               group.point(*handle).normalized(),
                               handle->halfAngle ? handle->halfAngle(group.settings) : 0.0F});
        }
        for (const Handle* handle : group.shown(HandleKind::Lobe))
            m_lobes.push_back({group.owner, handle->id, qstring(handle->label),
                               handle->along(group.settings, group.frame),
                               group.distance(*handle)});
    }
    if (m_grabbed >= static_cast<int>(m_lamps.size()))
        m_grabbed = -1;
    m_over = -1;
    if (m_grabbedLobe >= static_cast<int>(m_lobes.size()))
        m_grabbedLobe = -1;
    m_overLobe = -1;
    m_keyed =
        std::clamp(m_keyed, 0, std::max(0, static_cast<int>(m_lamps.size() + m_lobes.size()) - 1));
    update();
}

void Bearing::setNeedle(const Needle& needle) {
    m_needle = needle.facing;
    update();
}

QRectF Bearing::axesArea() { return {68.0, 4.0, 52.0, 18.0}; }

QPointF Bearing::centre() const {
    return {width() / 2.0, kHeader + (height() - kHeader - kEdge) / 2.0};
}

qreal Bearing::radius() const {
    return std::max(10.0, std::min(width() - 2 * kEdge, height() - kHeader - kEdge) / 2.0);
}

QPointF Bearing::placeOf(const V3f& direction) const {
    const V3f d = direction.normalized();
    const V3f local(d.dot(m_right), d.dot(m_up), d.dot(m_viewer));
    const float across = std::sqrt(local.x * local.x + local.y * local.y);
    const float r = std::sqrt(std::max(0.0F, 1.0F - local.z) * 0.5F);
    if (across < 1e-6F)
        return centre() + QPointF(local.z > 0.0F ? 0.0 : radius(), 0.0);
    const QPointF unit(static_cast<qreal>(local.x / across), static_cast<qreal>(-local.y / across));
    return centre() + unit * (static_cast<qreal>(r) * radius());
}

V3f Bearing::directionAt(const QPointF& place) const {
    const QPointF from = (place - centre()) / radius();
    const auto r = static_cast<float>(std::min(1.0, std::hypot(from.x(), from.y())));
    const float z = 1.0F - 2.0F * r * r;
    const float across = std::sqrt(std::max(0.0F, 1.0F - z * z));
    const float turn = std::atan2(static_cast<float>(-from.y()), static_cast<float>(from.x()));
    return (m_right * (across * std::cos(turn)) + m_up * (across * std::sin(turn)) + m_viewer * z)
        .normalized();
}

std::optional<QPointF> Bearing::handlePlace(const std::string& owner,
                                            const std::string& handle) const {
    for (const Lamp& lamp : m_lamps)
        if (lamp.owner == owner && lamp.id == handle)
            return placeOf(lamp.towards);
    for (const Lobe& lobe : m_lobes)
        if (lobe.owner == owner && lobe.id == handle)
            return placeOf(lobe.along);
    return std::nullopt;
}

int Bearing::lobeAt(const QPointF& place) const {
    for (std::size_t i = 0; i < m_lobes.size(); ++i) {
        const QPointF away = placeOf(m_lobes[i].along) - place;
        if (std::hypot(away.x(), away.y()) < kLargestLobe)
            return static_cast<int>(i);
    }
    return -1;
}

void Bearing::moveLobe(int index, float amount) {
    const Lobe lobe = m_lobes[static_cast<std::size_t>(index)];
    Q_EMIT handlesMoved({{lobe.owner, lobe.id, std::clamp(amount, -1.0F, 1.0F)}});
}

int Bearing::lampAt(const QPointF& place) const {
    int best = -1;
    qreal nearest = kReach;
    for (std::size_t i = 0; i < m_lamps.size(); ++i) {
        const QPointF away = placeOf(m_lamps[i].towards) - place;
        if (const qreal distance = std::hypot(away.x(), away.y()); distance < nearest) {
            nearest = distance;
            best = static_cast<int>(i);
        }
    }
    return best;
}

void Bearing::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton)
        return;
    if (axesArea().contains(event->position())) {
        setLevel(!m_level);
        return;
    }
    m_grabbedLobe = lobeAt(event->position());
    if (m_grabbedLobe >= 0) {
        m_keyed = static_cast<int>(m_lamps.size()) + m_grabbedLobe;
        m_grabbedAt = event->position();
        m_amountThen = m_lobes[static_cast<std::size_t>(m_grabbedLobe)].amount;
        update();
        return;
    }
    m_grabbed = lampAt(event->position());
    // If there is only one lamp, a click beside it picks it up.
    if (m_grabbed < 0 && m_lamps.size() == 1 && event->position().y() > kHeader)
        m_grabbed = 0;
    if (m_grabbed < 0)
        return;
    m_keyed = m_grabbed;
    m_grabbedAt = event->position();
    m_towardsThen = m_lamps[static_cast<std::size_t>(m_grabbed)].towards;
    mouseMoveEvent(event);
}

void Bearing::mouseMoveEvent(QMouseEvent* event) {
    if (m_grabbedLobe >= 0) {
        const QPointF moved = event->position() - m_grabbedAt;
        moveLobe(m_grabbedLobe,
                 m_amountThen + static_cast<float>((moved.x() - moved.y()) / kLobeTravel));
        return;
    }
    if (m_grabbed < 0 || m_grabbed >= static_cast<int>(m_lamps.size())) {
        m_over = lampAt(event->position());
        m_overLobe = lobeAt(event->position());
        setCursor(m_over >= 0 || m_overLobe >= 0 ? Qt::PointingHandCursor : Qt::ArrowCursor);
        update();
        return;
    }
    const Lamp lamp = m_lamps[static_cast<std::size_t>(m_grabbed)];
    const V3f there = directionAt(event->position());
    const QPointF moved = event->position() - m_grabbedAt;
    // Dragged sideways, it keeps its height in the world's sky.
    const bool sideways = std::abs(moved.x()) > kReach && std::abs(moved.y()) < kStrays;
    Q_EMIT handlesMoved(
        {{lamp.owner, lamp.id, sideways ? turnedLevel(m_towardsThen, there) : there}});
}

void Bearing::mouseReleaseEvent(QMouseEvent*) {
    const bool held = m_grabbed >= 0 || m_grabbedLobe >= 0;
    m_grabbed = m_grabbedLobe = -1;
    if (held)
        Q_EMIT handlesRested();
    update();
}

void Bearing::keyPressEvent(QKeyEvent* event) {
    QPointF way;
    switch (event->key()) {
    case Qt::Key_Left:
        way = {-1.0, 0.0};
        break;
    case Qt::Key_Right:
        way = {1.0, 0.0};
        break;
    case Qt::Key_Up:
        way = {0.0, -1.0};
        break;
    case Qt::Key_Down:
        way = {0.0, 1.0};
        break;
    default:
        QWidget::keyPressEvent(event);
        return;
    }
    if (const int lobe = m_keyed - static_cast<int>(m_lamps.size());
        lobe >= 0 && lobe < static_cast<int>(m_lobes.size())) {
        moveLobe(lobe, m_lobes[static_cast<std::size_t>(lobe)].amount +
                           kLobeStep * static_cast<float>(way.x() - way.y()));
        Q_EMIT handlesRested();
        return;
    }
    if (m_lamps.empty())
        return;
    const Lamp lamp = m_lamps[static_cast<std::size_t>(m_keyed)];
    const qreal step = radius() * static_cast<qreal>(kKeyStep * kRadians) * 0.5;
    Q_EMIT handlesMoved({{lamp.owner, lamp.id, directionAt(placeOf(lamp.towards) + way * step)}});
    Q_EMIT handlesRested();
}

}  // namespace noctis
