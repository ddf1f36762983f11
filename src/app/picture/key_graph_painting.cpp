// How curves of what moves are drawn.
#include "app/look/theme.h"
#include "app/picture/key_graph.h"
#include "core/settings/value_parts.h"

#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <array>
#include <cmath>

namespace noctis {

namespace {

QString textOf(float value, const Parameter& parameter) {
    return QString::fromStdString(formatNumber(value, parameter.unit));
}

const std::array<QColor, 3>& partColours() {
    static const std::array colours{theme::kWarning, theme::kAccent, theme::kFarText};
    return colours;
}

/// Of a curve of several parts, each in its own.
QColor colourOf(std::size_t part, std::size_t parts) {
    return parts == 1 ? theme::kAccent : partColours().at(part % partColours().size());
}

}  // namespace

void KeyGraph::paintAxes(QPainter& painter) const {
    const QRectF in = area();
    painter.setFont(theme::font(10));
    constexpr int kLines = 4;
    const MovingSetting* shown = active();
    for (int i = 0; i <= kLines; ++i) {
        const float value =
            m_range.low + (m_range.high - m_range.low) * static_cast<float>(i) / kLines;
        const double y = in.bottom() - in.height() * i / kLines;
        painter.setPen(QPen(theme::kHairline, 1));
        painter.drawLine(QPointF(in.left(), y), QPointF(in.right(), y));
        painter.setPen(theme::kQuiet);
        if (shown != nullptr && !partsOf(shown->parameter.initial).empty() &&
            !std::holds_alternative<bool>(shown->value))
            painter.drawText(QRectF(0, y - 8, kLeft - 8, 16), Qt::AlignRight | Qt::AlignVCenter,
                             textOf(value, shown->parameter));
    }
    const int span = std::max(1, m_frames.second - m_frames.first);
    int step = 1;
    for (const int each : {1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000, 10000, 50000})
        if (step = each; in.width() / span * each > 44.0)
            break;
    for (int frame = (m_frames.first + step - 1) / step * step; frame <= m_frames.second;
         frame += step) {
        const double x = placeOf(frame, m_range.low).x();
        painter.setPen(QPen(theme::kHairline, 1));
        painter.drawLine(QPointF(x, in.bottom()), QPointF(x, in.bottom() + 3));
        painter.setPen(theme::kQuiet);
        painter.drawText(QRectF(x - 24, in.bottom() + 4, 48, 14), Qt::AlignCenter,
                         QString::number(frame));
    }
}

void KeyGraph::paintCurve(QPainter& painter, const MovingSetting& setting, const Range& range,
                          bool faint) const {
    const QRectF in = area();
    const std::size_t parts = partsOf(setting.value).size();
    std::vector<QPainterPath> paths(parts);
    for (double x = in.left(); x <= in.right(); x += 1.5) {
        const double frame = frameAt(x);
        Value value = setting.at(frame);
        if (setting.flicker)
            value =
                flickering(value, flickerAt(*setting.flicker, (frame - m_frames.first) / m_rate),
                           setting.flicker->amount, setting.parameter);
        const std::vector<float> numbers = partsOf(value);
        for (std::size_t part = 0; part < parts; ++part) {
            const QPointF to = placeIn(range, frame, numbers[part]);
            if (paths[part].elementCount() == 0)
                paths[part].moveTo(to);
            else
                paths[part].lineTo(to);
        }
    }
    painter.setBrush(Qt::NoBrush);
    for (std::size_t part = 0; part < parts; ++part) {
        painter.setPen(QPen(faint ? theme::kOff : colourOf(part, parts), faint ? 1.2 : 1.8));
        painter.drawPath(paths[part]);
    }
    if (faint)
        return;
    for (const Key& key : setting.keys) {
        std::vector<float> numbers = partsOf(key.value);
        if (numbers.empty())
            numbers = {(range.low + range.high) / 2};
        for (std::size_t part = 0; part < numbers.size(); ++part) {
            const bool chosen = m_chosenKeys.contains(key.frame);
            painter.setPen(QPen(chosen ? theme::kText : colourOf(part, numbers.size()), 1.4));
            painter.setBrush(chosen ? colourOf(part, numbers.size()) : theme::kPanel);
            painter.drawEllipse(placeIn(range, key.frame, numbers[part]), 4.2, 4.2);
        }
    }
}

void KeyGraph::paintGrips(QPainter& painter) const {
    const auto dot = [&](const QPointF& at, const QPointF& from) {
        painter.setPen(QPen(theme::kQuiet, 1));
        painter.drawLine(from, at);
        painter.setBrush(theme::kPanel);
        painter.drawRect(QRectF(at.x() - 3, at.y() - 3, 6, 6));
    };
    const Key* next = nullptr;
    if (const Key* key = bentKey(&next)) {
        const QPointF here = placeOf(key->frame, partsOf(key->value).front());
        const QPointF there = placeOf(next->frame, partsOf(next->value).front());
        if (const auto out = gripPlace(Grip::BendOut))
            dot(*out, here);
        if (const auto in = gripPlace(Grip::BendIn))
            dot(*in, there);
        if (const auto past = gripPlace(Grip::Settle))
            dot(*past, there);
    }
    const auto first = gripPlace(Grip::FirstEnd);
    const auto last = gripPlace(Grip::LastEnd);
    if (!first || !last)
        return;
    painter.setPen(QPen(theme::kText, 1.4));
    painter.drawLine(*first, *last);
    for (const QPointF& end : {*first, *last})
        painter.drawLine(end - QPointF(0, 4), end + QPointF(0, 4));
}

void KeyGraph::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), theme::kPanel);
    paintAxes(painter);
    const QRectF in = area();
    painter.setClipRect(in.adjusted(-6, -kTop, 6, 6));
    for (std::size_t i = 0; i < m_settings.size(); ++i)
        if (i != m_active)
            paintCurve(painter, m_settings[i], rangeOf(m_settings[i]), true);
    if (const MovingSetting* shown = active())
        paintCurve(painter, *shown, m_range, false);
    paintGrips(painter);
    const double x = placeOf(m_now, m_range.low).x();
    painter.setPen(QPen(theme::kText, 1));
    painter.drawLine(QPointF(x, kTop - 4), QPointF(x, in.bottom()));
    if (m_band) {
        painter.setPen(QPen(theme::kQuiet, 1, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(*m_band);
    }
    painter.setClipping(false);
    if (hasFocus()) {
        painter.setPen(QPen(theme::kAccent, 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(QRectF(rect()).adjusted(1.5, 1.5, -1.5, -1.5), 3, 3);
    }
}

}  // namespace noctis
