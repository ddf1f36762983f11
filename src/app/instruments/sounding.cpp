#include "app/instruments/sounding.h"

#include "app/controls/instrument_head.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "core/passes/appearance.h"
#include "core/passes/statistics.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QToolTip>

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr int kBins = 240;
constexpr qreal kSide = 16.0;
constexpr qreal kHeader = 30.0;
constexpr qreal kAxisHeight = 18.0;
constexpr qreal kLabelWidth = 118.0;
constexpr qreal kGrabReach = 9.0;

QColor axisColour(float place) {
    const auto part = [&](int near, int far) {
        return static_cast<int>(static_cast<float>(near) + static_cast<float>(far - near) * place);
    };
    return {part(theme::kNear.red(), theme::kFar.red()),
            part(theme::kNear.green(), theme::kFar.green()),
            part(theme::kNear.blue(), theme::kFar.blue())};
}

QString tickText(float metres) {
    const bool large = metres >= 999.5F;  // what three digits would round to 1e+03
    return QString::number(static_cast<double>(metres), large ? 'f' : 'g', large ? 0 : 3);
}

}  // namespace

Sounding::Sounding(QWidget* parent) : QWidget(parent) {
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Sounding"));
    setAccessibleDescription(
        tr("The depth axis. Up and down choose a handle, left and right move it."));
    addHeading(this, tr("Sounding"));
    QPushButton* scale =
        addLink(this, tr("log"),
                tr("The axis: logarithmic gives near things room, linear is true to scale."), 84);
    connect(scale, &QPushButton::clicked, this, [this, scale] {
        m_logarithmic = !m_logarithmic;
        scale->setText(m_logarithmic ? tr("log") : tr("linear"));
        scale->adjustSize();
        layOut();
    });
}

void Sounding::setDepth(const std::optional<Pass>& depth) {
    m_depth = depth ? std::optional(depth->image) : std::nullopt;
    layOut();
}

void Sounding::setLanes(const std::vector<HandleGroup>& groups, const std::string& chosen) {
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
        m_lanes.push_back(
            {group, group.shown(HandleKind::Distance), group.lane->strength(group.settings)});
    m_chosen = chosen;
    update();
}

void Sounding::setNeedle(std::optional<float> metres) {
    m_needle = metres;
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
        // The eye wants the shape, not every column's noise; roots keep the small hills visible.
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
    // The lanes take what they need; the silhouette gets the rest.
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
    const float metres = lane.handles[grab.handle]->distance(lane.group.settings);
    return std::clamp(m_axis.at(metres), m_axis.left - 4.0, m_axis.right + 8.0);
}

QPointF Sounding::handlePlace(const std::string& owner, const std::string& handle) const {
    for (std::size_t i = 0; i < m_lanes.size(); ++i)
        for (std::size_t h = 0; h < m_lanes[i].handles.size(); ++h)
            if (m_lanes[i].group.owner == owner && m_lanes[i].handles[h]->id == handle)
                return {handleX({i, h}), laneArea(i).center().y()};
    return {};
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
    painter.setPen(QPen(QColor(0x6a, 0x6a, 0x67), 1));
    painter.drawLine(QPointF(m_axis.left, base + 0.5), QPointF(m_axis.right, base + 0.5));
    painter.setFont(theme::font(11));
    for (const float metres : m_axis.ticks(38.0)) {
        const qreal x = std::round(m_axis.at(metres)) + 0.5;
        painter.setPen(QColor(0x6a, 0x6a, 0x67));
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

    const QColor line = lane.group.on ? theme::kAccent : QColor(0x55, 0x56, 0x55);
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
            const QString text = qstring(handle.label) + QLatin1Char(' ') +
                                 metresText(handle.distance(lane.group.settings));
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

void Sounding::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton)
        return;
    m_grab = grabAt(event->position());
    if (m_grab) {
        m_keyed = *m_grab;
        return;  // what is dragged needs no card, which would move what is below it
    }
    for (std::size_t lane = 0; lane < m_lanes.size(); ++lane)
        if (laneArea(lane).contains(event->position()))
            Q_EMIT laneChosen(m_lanes[lane].group.owner);
}

void Sounding::mouseMoveEvent(QMouseEvent* event) {
    const float metres = m_axis.metresAt(event->position().x());
    if (m_grab) {
        const Lane& lane = m_lanes[m_grab->lane];
        const std::string owner = lane.group.owner;
        const std::string handle = lane.handles[m_grab->handle]->id;
        m_needle = metres;  // what is lit is what the hand is at
        m_needleIsOwn = true;
        Q_EMIT axisPointed(metres);
        Q_EMIT handleMoved(owner, handle, metres);
        return;
    }
    m_over = grabAt(event->position());
    setCursor(m_over ? Qt::SizeHorCursor : Qt::ArrowCursor);
    const bool onAxis = event->position().x() >= m_axis.left && event->position().y() > kHeader &&
                        !m_counts.empty();
    m_needle = onAxis ? std::optional(metres) : std::nullopt;
    m_needleIsOwn = onAxis;
    Q_EMIT axisPointed(onAxis ? metres : 0.0F);
    update();
}

void Sounding::mouseReleaseEvent(QMouseEvent*) {
    if (std::exchange(m_grab, std::nullopt))
        Q_EMIT handleRested();
}

void Sounding::leaveEvent(QEvent*) {
    m_over.reset();
    if (std::exchange(m_needleIsOwn, false)) {
        m_needle.reset();
        Q_EMIT axisPointed(0.0F);
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
        Q_EMIT handleMoved(owner, handle, m_axis.metresAt(x));
        Q_EMIT handleRested();
        return;
    }
    default:
        return QWidget::keyPressEvent(event);
    }
    m_keyed = all[index];
    Q_EMIT laneChosen(m_lanes[m_keyed.lane].group.owner);
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
            QToolTip::showText(help->globalPos(), tr("How far the picture's surfaces are. Point "
                                                     "here to light up what is at that distance."));
        }
        return true;
    }
    return QWidget::event(event);
}

}  // namespace noctis
