#pragma once

#include <QRectF>

#include <vector>

namespace noctis {

/// Where labels over a drawing go, so that none lies over another.
class LabelPlaces {
public:
    explicit LabelPlaces(const QRectF& room) : m_room(room) {}
    void take(const QRectF& box) { m_taken.push_back(box); }
    /// Takes the first box that lies in the room, clear of those taken; where none does, the first.
    QRectF place(const std::vector<QRectF>& boxes);

private:
    QRectF m_room;
    std::vector<QRectF> m_taken;
};

}  // namespace noctis
