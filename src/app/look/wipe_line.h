#pragma once

#include <QRectF>
#include <QString>

#include <functional>

class QPainter;

namespace noctis {

/// An upright line over a picture: what it is compared with is at its left.
struct WipeLine {
    qreal part = 0.5;  ///< of the widget's width

    [[nodiscard]] bool isUnder(const QPointF& at, qreal width) const;
    void dragTo(const QPointF& at, qreal width);
    /// Draws what is at the left, clipped, then the line with the names of both sides.
    void paint(QPainter& painter, const QSizeF& size, const std::function<void()>& paintLeft,
               const QString& left, const QString& right) const;
};

}  // namespace noctis
