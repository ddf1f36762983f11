#include "app/look/wipe_line.h"

#include "app/look/theme.h"

#include <QPainter>

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {
constexpr qreal kReach = 10.0;
}

bool WipeLine::isUnder(const QPointF& at, qreal width) const {
    return std::abs(at.x() - width * part) < kReach;
}

void WipeLine::dragTo(const QPointF& at, qreal width) {
    part = std::clamp(at.x() / width, 0.01, 0.99);
}

void WipeLine::paint(QPainter& painter, const QSizeF& size, const std::function<void()>& paintLeft,
                     const QString& left, const QString& right) const {
    const qreal x = std::round(size.width() * part) + 0.5;
    painter.save();
    painter.setClipRect(QRectF(0, 0, x, size.height()));
    paintLeft();
    painter.restore();
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(theme::kText, 1));
    painter.drawLine(QPointF(x, 0), QPointF(x, size.height()));
    painter.setBrush(theme::kPanel);
    painter.drawEllipse(QPointF(x, size.height() / 2.0), 6, 6);
    painter.drawText(QRectF(x - 160, 14, 150, 18), Qt::AlignRight | Qt::AlignVCenter, left);
    painter.drawText(QRectF(x + 10, 14, 150, 18), Qt::AlignLeft | Qt::AlignVCenter, right);
    painter.restore();
}

}  // namespace noctis
