#include "app/instruments/height_axis.h"

#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "core/relief/height_field.h"
#include "core/relief/map_picture.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>
#include <utility>

namespace noctis {

namespace {

constexpr qreal kTop = 18.0;
constexpr qreal kBottom = 24.0;
constexpr qreal kHills = 40.0;  ///< the axis, from the left
constexpr qreal kHandleGrabReach = 9.0;

}  // namespace

HeightAxis::HeightAxis(QWidget* parent) : QWidget(parent) {
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Expanding);
    setAccessibleName(tr("Heights"));
    setAccessibleDescription(tr(
        "Height axis. Left and Right choose the black or the white level, Up and Down move it."));
    setToolTip(tr("How much of the map lies at each height. Drag the rings to set what is black "
                  "and white in files."));
}

void HeightAxis::setHeights(float lowest, float highest, std::vector<float> counts) {
    m_lowest = lowest;
    m_highest = highest;
    m_counts = std::move(counts);
    update();
}

void HeightAxis::setRange(const std::array<float, 2>& range) {
    m_range = range;
    update();
}

void HeightAxis::setNeedle(std::optional<float> height) {
    m_needle = height;
    update();
}

qreal HeightAxis::tall() const { return std::max(40.0, height() - kTop - kBottom); }

qreal HeightAxis::placeOf(float height) const {
    const float span = std::max(m_highest - m_lowest, 1e-9F);
    const auto t = static_cast<qreal>((height - m_lowest) / span);
    return kTop + tall() * 0.96 - t * tall() * 0.92;
}

float HeightAxis::heightAt(qreal y) const {
    const float span = std::max(m_highest - m_lowest, 1e-9F);
    return m_lowest + span * static_cast<float>((kTop + tall() * 0.96 - y) / (tall() * 0.92));
}

int HeightAxis::handleAt(const QPointF& at) const {
    int best = -1;
    qreal nearest = kHandleGrabReach;
    for (int i = 0; i < 2; ++i) {
        const qreal away = std::abs(placeOf(m_range[static_cast<std::size_t>(i)]) - at.y());
        if (away < nearest) {
            nearest = away;
            best = i;
        }
    }
    return best;
}

void HeightAxis::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setFont(theme::font(11));
    if (!(m_highest > m_lowest))
        return;
    // Hills lean to the left of the axis.
    QPainterPath hills(QPointF(kHills, placeOf(m_lowest)));
    const auto bins = static_cast<float>(m_counts.size());
    for (std::size_t i = 0; i < m_counts.size(); ++i) {
        const float height =
            m_lowest + (m_highest - m_lowest) * (static_cast<float>(i) + 0.5F) / bins;
        hills.lineTo(kHills - 26.0 * std::pow(static_cast<qreal>(m_counts[i]), 0.6),
                     placeOf(height));
    }
    hills.lineTo(kHills, placeOf(m_highest));
    hills.closeSubpath();
    QLinearGradient run(0, placeOf(m_lowest), 0, placeOf(m_highest));
    QColor low = theme::kFar;
    QColor high = theme::kNear;
    low.setAlpha(200);
    high.setAlpha(200);
    run.setColorAt(0, low);
    run.setColorAt(1, high);
    painter.fillPath(hills, run);
    painter.setPen(QPen(theme::kAxis, 1));
    painter.drawLine(QPointF(kHills + 0.5, kTop), QPointF(kHills + 0.5, kTop + tall()));

    const LengthUnit unit = lengthUnitFor(std::max(m_highest - m_lowest, std::abs(m_highest)));
    const float spacing =
        roundSpacing(m_highest - m_lowest, std::max(2, static_cast<int>(tall() / 34.0)));
    for (float tick = std::ceil(heightAt(kTop + tall()) / spacing) * spacing;
         tick <= heightAt(kTop); tick += spacing) {
        const qreal y = std::round(placeOf(tick)) + 0.5;
        painter.setPen(theme::kAxis);
        painter.drawLine(QPointF(kHills, y), QPointF(kHills + 4, y));
        painter.setPen(theme::kQuiet);
        painter.drawText(QRectF(kHills + 6, y - 7, width() - kHills - 6, 14),
                         Qt::AlignLeft | Qt::AlignVCenter,
                         QString::number(unit.number(tick), 'g', 4));
    }
    painter.setPen(theme::kQuiet);
    painter.drawText(QRectF(kHills - 4, height() - 18, 40, 14), Qt::AlignLeft,
                     QString::fromUtf8(unit.name));

    for (int i = 0; i < 2; ++i) {
        const qreal y =
            std::clamp(placeOf(m_range[static_cast<std::size_t>(i)]), 6.0, height() - 6.0);
        const QColor colour = i == 1 ? theme::kNear : theme::kFar;
        const bool hot = i == m_grabbed || i == m_over || (hasFocus() && i == m_keyed);
        painter.setPen(QPen(colour, 1.4));
        painter.drawLine(QPointF(12, y), QPointF(kHills + 3, y));
        painter.setBrush(hot ? colour : theme::kPanel);
        painter.drawEllipse(QPointF(8, y), 4.5, 4.5);
    }
    if (m_needle && std::isfinite(*m_needle)) {
        const qreal y = placeOf(*m_needle);
        painter.setPen(QPen(theme::kText, 1));
        painter.drawLine(QPointF(14, y), QPointF(kHills + 6, y));
    }
}

void HeightAxis::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton)
        return;
    m_grabbed = handleAt(event->position());
    if (m_grabbed >= 0)
        m_keyed = m_grabbed;
    update();
}

void HeightAxis::moveHandle(int handle, float height) {
    std::array<float, 2> range = m_range;
    const float least = 1e-3F * std::max(m_highest - m_lowest, 1e-9F);
    range[static_cast<std::size_t>(handle)] =
        handle == 0 ? std::min(height, range[1] - least) : std::max(height, range[0] + least);
    setRange(range);
    Q_EMIT rangeMoved(range[0], range[1]);
}

void HeightAxis::mouseMoveEvent(QMouseEvent* event) {
    if (m_grabbed >= 0) {
        moveHandle(m_grabbed, heightAt(event->position().y()));
        return;
    }
    m_over = handleAt(event->position());
    setCursor(m_over >= 0 ? Qt::SizeVerCursor : Qt::ArrowCursor);
    Q_EMIT heightPointed(heightAt(event->position().y()));
    update();
}

void HeightAxis::mouseReleaseEvent(QMouseEvent*) {
    if (std::exchange(m_grabbed, -1) >= 0)
        Q_EMIT rangeRested();
    update();
}

void HeightAxis::leaveEvent(QEvent*) {
    m_over = -1;
    Q_EMIT heightPointed(std::nanf(""));
    update();
}

void HeightAxis::keyPressEvent(QKeyEvent* event) {
    const float step =
        (m_highest - m_lowest) * ((event->modifiers() & Qt::ShiftModifier) != 0 ? 0.001F : 0.01F);
    switch (event->key()) {
    case Qt::Key_Left:
    case Qt::Key_Right:
        m_keyed = event->key() == Qt::Key_Left ? 0 : 1;
        update();
        return;
    case Qt::Key_Up:
    case Qt::Key_Down:
        moveHandle(m_keyed, m_range[static_cast<std::size_t>(m_keyed)] +
                                (event->key() == Qt::Key_Up ? step : -step));
        Q_EMIT rangeRested();
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

}  // namespace noctis
