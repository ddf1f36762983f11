#include "app/instruments/section.h"

#include "app/controls/instrument_head.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "core/relief/height_field.h"
#include "core/relief/map_picture.h"

#include <QApplication>
#include <QClipboard>
#include <QContextMenuEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr qreal kLeft = 52.0;
constexpr qreal kRight = 16.0;
constexpr qreal kSectionTop = 34.0;
constexpr qreal kSectionBottom = 22.0;
/// Minimum height range as a part of the length, so that level ground stays level.
constexpr float kLeastRoom = 5e-4F;

QString length(float metres) { return qstring(lengthText(static_cast<double>(metres))); }

QString number(float metres, const LengthUnit& unit) {
    return QString::number(unit.number(metres), 'g', 4);
}

}  // namespace

Section::Section(QWidget* parent) : QWidget(parent) {
    setMouseTracking(true);
    setAccessibleName(tr("Section"));
    addHeading(this, tr("Section"));
}

void Section::setHeights(std::vector<float> heights, float length) {
    m_heights = std::move(heights);
    m_length = length;
    float low = HUGE_VALF;
    float high = -HUGE_VALF;
    for (const float h : m_heights)
        if (std::isfinite(h)) {
            low = std::min(low, h);
            high = std::max(high, h);
        }
    if (low > high)
        low = high = 0.0F;
    const float room = std::max({0.08F * (high - low), kLeastRoom * length, 1e-6F});
    m_lowest = low - room;
    m_highest = high + room;
    update();
}

void Section::setOther(std::vector<float> heights) {
    m_other = std::move(heights);
    update();
}

void Section::setNeedle(std::optional<float> along) {
    m_needle = along;
    update();
}

QRectF Section::plot() const {
    return {kLeft, kSectionTop, std::max(40.0, width() - kLeft - kRight),
            std::max(30.0, height() - kSectionTop - kSectionBottom)};
}

float Section::stretch() const {
    const QRectF area = plot();
    const auto perMetreDown = static_cast<float>(area.height()) / (m_highest - m_lowest);
    const auto perMetreAcross = static_cast<float>(area.width()) / std::max(m_length, 1e-9F);
    return perMetreDown / perMetreAcross;
}

QString Section::reading() const {
    if (m_heights.size() < 2)
        return tr("drag a line over the map");
    float low = HUGE_VALF;
    float high = -HUGE_VALF;
    for (const float h : m_heights)
        if (std::isfinite(h)) {
            low = std::min(low, h);
            high = std::max(high, h);
        }
    if (low > high)
        return tr("%1 long, over holes only").arg(length(m_length));
    QString text =
        low < high ? tr("%1 long   from %2 to %3").arg(length(m_length), length(low), length(high))
                   : tr("%1 long   level at %2").arg(length(m_length), length(low));
    if (m_needle) {
        const auto last = static_cast<float>(m_heights.size() - 1);
        const int i = std::clamp(static_cast<int>(std::lround(*m_needle * last)), 0,
                                 static_cast<int>(m_heights.size()) - 1);
        const auto at = [&](int k) {
            return m_heights[static_cast<std::size_t>(
                std::clamp(k, 0, static_cast<int>(m_heights.size()) - 1))];
        };
        const float here = at(i);
        if (!std::isfinite(here))
            return text + tr("   hole here");
        const float rise = at(i + 1) - at(i - 1);
        const float way =
            m_length / last *
            static_cast<float>(std::min(i + 1, static_cast<int>(last)) - std::max(i - 1, 0));
        const float degrees =
            std::isfinite(rise) && way > 0.0F ? std::atan(rise / way) * 180.0F / 3.14159265F : 0.0F;
        text += tr("   here %1, %2° %3")
                    .arg(length(here))
                    .arg(static_cast<double>(std::abs(degrees)), 0, 'f', 0)
                    .arg(degrees < 0.0F ? tr("down") : tr("up"));
    }
    return text;
}

void Section::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setFont(theme::font(12));
    painter.setPen(m_heights.size() < 2 ? theme::kQuiet : theme::kText);
    const bool has = m_heights.size() >= 2 && m_length > 0.0F;
    const QString stretched =
        has ? tr("heights × %1").arg(static_cast<double>(stretch()), 0, 'g', 3) : QString();
    const qreal wide = painter.fontMetrics().horizontalAdvance(stretched);
    painter.drawText(QRectF(78, 8, width() - 78 - 24 - wide, 18), Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(reading(), Qt::ElideRight,
                                                      static_cast<int>(width() - 78 - 24 - wide)));
    if (!has)
        return;
    painter.setPen(theme::kQuiet);
    painter.drawText(QRectF(width() - wide - 16, 8, wide, 18), Qt::AlignVCenter, stretched);
    const QRectF area = plot();
    const auto yOf = [&](float h) {
        return area.bottom() -
               area.height() * static_cast<qreal>((h - m_lowest) / (m_highest - m_lowest));
    };
    painter.setFont(theme::font(11));
    const LengthUnit upright = lengthUnitFor(std::max(std::abs(m_lowest), std::abs(m_highest)));
    const LengthUnit flat = lengthUnitFor(m_length);
    const float step =
        roundSpacing(m_highest - m_lowest, std::max(2, static_cast<int>(area.height() / 40)));
    for (float tick = std::ceil(m_lowest / step) * step; tick <= m_highest; tick += step) {
        const qreal y = std::round(yOf(tick)) + 0.5;
        painter.setPen(QPen(theme::kHairline, 1));
        painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y));
        painter.setPen(theme::kQuiet);
        painter.drawText(QRectF(0, y - 7, kLeft - 6, 14), Qt::AlignRight | Qt::AlignVCenter,
                         number(tick, upright));
    }
    painter.drawText(QRectF(area.left() + 4, area.top() - 6, 40, 14), Qt::AlignLeft,
                     QString::fromUtf8(upright.name));
    const float along = roundSpacing(m_length, std::max(2, static_cast<int>(area.width() / 110)));
    for (float tick = 0.0F; tick <= m_length * 1.0001F; tick += along) {
        const qreal x = area.left() + area.width() * static_cast<qreal>(tick / m_length);
        if (x < area.right() - 50)
            painter.drawText(QRectF(x - 40, area.bottom() + 5, 80, 14), Qt::AlignHCenter,
                             number(tick, flat));
    }
    painter.drawText(QRectF(area.right() - 40, area.bottom() + 5, 40, 14), Qt::AlignRight,
                     QString::fromUtf8(flat.name));
    const auto line = [&](const std::vector<float>& heights, bool filled, const QColor& colour) {
        QPainterPath course;
        bool down = false;
        qreal first = 0.0;
        qreal last = 0.0;
        const auto end = [&] {
            if (!down)
                return;
            painter.setPen(QPen(colour, 1.4));
            painter.setBrush(Qt::NoBrush);
            painter.drawPath(course);
            if (filled) {
                QPainterPath below = course;
                below.lineTo(last, area.bottom());
                below.lineTo(first, area.bottom());
                QColor wash = theme::kNear;
                wash.setAlpha(34);
                painter.fillPath(below, wash);
            }
            down = false;
        };
        for (std::size_t i = 0; i < heights.size(); ++i) {
            if (!std::isfinite(heights[i])) {
                end();
                continue;
            }
            last = area.left() +
                   area.width() * static_cast<qreal>(i) / static_cast<qreal>(heights.size() - 1);
            if (!down) {
                course = QPainterPath(QPointF(last, yOf(heights[i])));
                first = last;
            } else {
                course.lineTo(last, yOf(heights[i]));
            }
            down = true;
        }
        end();
    };
    painter.setClipRect(area);
    if (m_other.size() >= 2)
        line(m_other, false, theme::kFar);
    line(m_heights, true, theme::kText);
    painter.setClipping(false);
    if (m_needle) {
        const qreal x = area.left() + area.width() * static_cast<qreal>(*m_needle);
        painter.setPen(QPen(theme::kNear, 1));
        painter.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()));
    }
}

void Section::mouseMoveEvent(QMouseEvent* event) {
    if (m_heights.size() < 2)
        return;
    const QRectF area = plot();
    const auto t = static_cast<float>((event->position().x() - area.left()) / area.width());
    const bool inside = t >= 0.0F && t <= 1.0F;
    setNeedle(inside ? std::optional(t) : std::nullopt);
    Q_EMIT pointed(inside ? t : -1.0F);
}

void Section::leaveEvent(QEvent*) {
    setNeedle(std::nullopt);
    Q_EMIT pointed(-1.0F);
}

void Section::contextMenuEvent(QContextMenuEvent* event) {
    QMenu menu(this);
    menu.addAction(tr("Copy the numbers"), this,
                   [this] { QApplication::clipboard()->setText(reading()); });
    menu.addAction(tr("Copy the section as a table, m"), this, [this] {
        QString table = tr("along\theight\n");
        for (std::size_t i = 0; i < m_heights.size(); ++i)
            table += QStringLiteral("%1\t%2\n")
                         .arg(static_cast<double>(m_length) * static_cast<double>(i) /
                              static_cast<double>(m_heights.size() - 1))
                         .arg(static_cast<double>(m_heights[i]));
        QApplication::clipboard()->setText(table);
    });
    menu.exec(event->globalPos());
}

}  // namespace noctis
