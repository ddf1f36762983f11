#include "app/instruments/sounding.h"

#include "app/controls/instrument_head.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "core/passes/appearance.h"
#include "core/passes/statistics.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPushButton>
#include <QToolTip>

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr qreal kGrabReach = 9.0;

}  // namespace

Sounding::Sounding(QWidget* parent) : Instrument(parent) {
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Sounding"));
    setAccessibleDescription(
        tr("Depth axis. Up and Down choose a handle, Left and Right move it."));
    addHeading(this, tr("Sounding"));
    QPushButton* scale = addLink(
        this, tr("log"),
        tr("Switches the axis: logarithmic gives near things more room, linear is true to scale."),
        84);
    connect(scale, &QPushButton::clicked, this, [this, scale] {
        m_logarithmic = !m_logarithmic;
        scale->setText(m_logarithmic ? tr("log") : tr("linear"));
        scale->adjustSize();
        layOut();
    });
}

void Sounding::setFrame(const MeasuredFrame& frame) {
    m_depth = frame.depth ? std::optional(frame.depth->image) : std::nullopt;
    layOut();
}

void Sounding::setGroups(const std::vector<HandleGroup>& groups, const std::string& chosen) {
    std::vector<HandleGroup> before;
    for (const Lane& lane : m_lanes)
        before.push_back(lane.group);
    std::vector<HandleGroup> now;
    for (const HandleGroup& group : groups)
        if (group.lane != nullptr)
            now.push_back(group);
    if (now == before && chosen == m_chosen)
        return;
    m_lanes.clear();
    for (const HandleGroup& group : now)
        m_lanes.push_back({group, group.shown(HandleKind::Distance), group.strength()});
    m_chosen = chosen;
    update();
}

void Sounding::setNeedle(const Needle& needle) {
    m_needle = needle.metres;
    m_needleIsOwn = false;
    update();
}

void Sounding::layOut() {
    m_axis.left = kLabelWidth;
    m_axis.right = std::max(kLabelWidth + 40.0, width() - kSide);
    m_axis.logarithmic = m_logarithmic;
    m_counts.clear();
    if (m_depth) {
        const DepthRange range = depthRangeOf(*m_depth);
        m_axis.nearest = m_logarithmic ? range.nearest * 0.8F : 0.0F;
        m_axis.farthest = range.farthest * (m_logarithmic ? 1.2F : 1.05F);
        m_counts = histogramOf(*m_depth, 0, kBins, std::max(m_axis.nearest, 1e-4F), m_axis.farthest,
                               m_logarithmic);
        // Smoothed to show the shape rather than the noise of columns; square roots keep small hills visible.
        std::vector<float> smooth(m_counts.size());
        float most = 1.0F;
        for (int i = 0; i < kBins; ++i) {
            float sum = 0.0F;
            for (int k = -3; k <= 3; ++k)
                sum += m_counts[static_cast<std::size_t>(std::clamp(i + k, 0, kBins - 1))] *
                       static_cast<float>(4 - std::abs(k));
            smooth[static_cast<std::size_t>(i)] = std::pow(sum, 0.4F);
            most = std::max(most, smooth[static_cast<std::size_t>(i)]);
        }
        for (float& count : smooth)
            count /= most;
        m_counts = std::move(smooth);
    }
    update();
}

QRectF Sounding::laneArea(std::size_t lane) const {
    // The lanes get what they need, the silhouette the rest.
    const qreal lanes = 34.0 * static_cast<qreal>(m_lanes.size());
    const qreal hill = std::clamp(height() - kHeader - kAxisHeight - 12.0 - lanes, 30.0, 140.0);
    const qreal top = kHeader + hill + kAxisHeight + 4;
    const qreal room = height() - top - 6;
    const qreal each =
        std::clamp(room / static_cast<qreal>(std::max<std::size_t>(m_lanes.size(), 1)), 18.0, 34.0);
    return {0, top + each * static_cast<qreal>(lane), static_cast<qreal>(width()), each};
}

qreal Sounding::handleX(const Grab& grab) const {
    const Lane& lane = m_lanes[grab.lane];
    const float metres = lane.group.distance(*lane.handles[grab.handle]);
    return std::clamp(m_axis.at(metres), m_axis.left - 4.0, m_axis.right + 8.0);
}

std::optional<QPointF> Sounding::handlePlace(const std::string& owner,
                                             const std::string& handle) const {
    for (std::size_t i = 0; i < m_lanes.size(); ++i)
        for (std::size_t h = 0; h < m_lanes[i].handles.size(); ++h)
            if (m_lanes[i].group.owner == owner && m_lanes[i].handles[h]->id == handle)
                return QPointF(handleX({i, h}), laneArea(i).center().y());
    return std::nullopt;
}

std::optional<Sounding::Grab> Sounding::grabAt(const QPointF& at) const {
    std::optional<Grab> best;
    qreal nearest = kGrabReach;
    for (std::size_t lane = 0; lane < m_lanes.size(); ++lane) {
        if (!laneArea(lane).contains(at))
            continue;
        for (std::size_t h = 0; h < m_lanes[lane].handles.size(); ++h) {
            const qreal away = std::abs(handleX({lane, h}) - at.x());
            if (away < nearest) {
                nearest = away;
                best = Grab{lane, h};
            }
        }
    }
    return best;
}

void Sounding::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton)
        return;
    m_grab = grabAt(event->position());
    if (m_grab) {
        m_keyed = *m_grab;
        return;  // dragging opens no card, which would move what is below it
    }
    for (std::size_t lane = 0; lane < m_lanes.size(); ++lane)
        if (laneArea(lane).contains(event->position()))
            Q_EMIT ownerChosen(m_lanes[lane].group.owner);
}

void Sounding::mouseMoveEvent(QMouseEvent* event) {
    const float metres = m_axis.metresAt(event->position().x());
    if (m_grab) {
        const Lane& lane = m_lanes[m_grab->lane];
        const std::string owner = lane.group.owner;
        const std::string handle = lane.handles[m_grab->handle]->id;
        m_needle = metres;  // lights what is at the dragged distance
        m_needleIsOwn = true;
        Q_EMIT distancePointed(metres);
        Q_EMIT handlesMoved({{owner, handle, metres}});
        return;
    }
    m_over = grabAt(event->position());
    setCursor(m_over ? Qt::SizeHorCursor : Qt::ArrowCursor);
    const bool onAxis = event->position().x() >= m_axis.left && event->position().y() > kHeader &&
                        !m_counts.empty();
    m_needle = onAxis ? std::optional(metres) : std::nullopt;
    m_needleIsOwn = onAxis;
    Q_EMIT distancePointed(onAxis ? metres : 0.0F);
    update();
}

void Sounding::mouseReleaseEvent(QMouseEvent*) {
    if (std::exchange(m_grab, std::nullopt))
        Q_EMIT handlesRested();
}

void Sounding::leaveEvent(QEvent*) {
    m_over.reset();
    if (std::exchange(m_needleIsOwn, false)) {
        m_needle.reset();
        Q_EMIT distancePointed(0.0F);
    }
    update();
}

void Sounding::keyPressEvent(QKeyEvent* event) {
    std::vector<Grab> all;
    for (std::size_t lane = 0; lane < m_lanes.size(); ++lane)
        for (std::size_t h = 0; h < m_lanes[lane].handles.size(); ++h)
            all.push_back({lane, h});
    if (all.empty())
        return QWidget::keyPressEvent(event);
    auto at = std::find(all.begin(), all.end(), m_keyed);
    std::size_t index = at == all.end() ? 0 : static_cast<std::size_t>(at - all.begin());
    const qreal way = (event->modifiers() & Qt::ShiftModifier) != 0 ? 0.25 : 3.0;
    switch (event->key()) {
    case Qt::Key_Up:
        index = (index + all.size() - 1) % all.size();
        break;
    case Qt::Key_Down:
        index = (index + 1) % all.size();
        break;
    case Qt::Key_Left:
    case Qt::Key_Right: {
        const Grab grab = all[index];
        const qreal x = handleX(grab) + (event->key() == Qt::Key_Left ? -way : way);
        const std::string owner = m_lanes[grab.lane].group.owner;
        const std::string handle = m_lanes[grab.lane].handles[grab.handle]->id;
        Q_EMIT handlesMoved({{owner, handle, m_axis.metresAt(x)}});
        Q_EMIT handlesRested();
        return;
    }
    default:
        return QWidget::keyPressEvent(event);
    }
    m_keyed = all[index];
    Q_EMIT ownerChosen(m_lanes[m_keyed.lane].group.owner);
    update();
}

void Sounding::resizeEvent(QResizeEvent*) { layOut(); }

bool Sounding::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip) {
        auto* help = static_cast<QHelpEvent*>(event);
        if (const auto grab = grabAt(help->pos())) {
            const Lane& lane = m_lanes[grab->lane];
            QToolTip::showText(
                help->globalPos(),
                tr("Drag: %1, %2")
                    .arg(qstring(lane.group.label), qstring(lane.handles[grab->handle]->label)));
        } else {
            QToolTip::showText(help->globalPos(),
                               tr("How far away the picture's surfaces are. Point at a distance to "
                                  "light up what lies there."));
        }
        return true;
    }
    return Instrument::event(event);
}

}  // namespace noctis
