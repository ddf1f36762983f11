#include "app/hand/handle_marks.h"

#include "app/look/theme.h"

#include <QLineF>

#include <utility>

namespace noctis {

namespace {

constexpr qreal kReach = 12.0;  ///< px around a handle in which it can be grabbed

}  // namespace

bool HandleMarks::set(std::vector<PictureHandle> handles) {
    if (handles == m_handles)
        return false;
    m_handles = std::move(handles);
    m_over = -1;
    if (m_grabbed >= static_cast<int>(m_handles.size()))
        m_grabbed = -1;
    return true;
}

int HandleMarks::at(const QPointF& widget, const Viewport& viewport) const {
    int best = -1;
    qreal nearest = kReach;
    for (std::size_t i = 0; i < m_handles.size(); ++i) {
        const qreal away = QLineF(viewport.fromPicture(m_handles[i].at), widget).length();
        if (away < nearest) {
            nearest = away;
            best = static_cast<int>(i);
        }
    }
    return best;
}

bool HandleMarks::hover(const QPointF& widget, const Viewport& viewport) {
    m_over = at(widget, viewport);
    return m_over >= 0;
}

bool HandleMarks::grab(const QPointF& widget, const Viewport& viewport) {
    m_grabbed = at(widget, viewport);
    return m_grabbed >= 0;
}

const PictureHandle* HandleMarks::grabbed() const {
    return m_grabbed < 0 ? nullptr : &m_handles[static_cast<std::size_t>(m_grabbed)];
}

bool HandleMarks::release() { return std::exchange(m_grabbed, -1) >= 0; }

void HandleMarks::paint(QPainter& painter, const Viewport& viewport) const {
    for (int i = 0; i < static_cast<int>(m_handles.size()); ++i) {
        const PictureHandle& handle = m_handles[static_cast<std::size_t>(i)];
        const QPointF at = viewport.fromPicture(handle.at);
        const bool hot = i == m_grabbed || i == m_over;
        painter.setPen(QPen(theme::kPanel, 4));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(at, 6, 6);
        painter.setPen(QPen(hot ? theme::kText : theme::kAccent, 1.6));
        painter.setBrush(hot ? theme::kAccent : theme::kPanel);
        painter.drawEllipse(at, 6, 6);
        if (!hot)
            continue;
        const qreal wide = painter.fontMetrics().horizontalAdvance(handle.label) + 12;
        painter.fillRect(QRectF(at.x() + 12, at.y() - 9, wide, 18), QColor(26, 27, 28, 200));
        painter.setPen(theme::kText);
        painter.drawText(QRectF(at.x() + 12, at.y() - 9, wide, 18), Qt::AlignCenter, handle.label);
    }
}

}  // namespace noctis
