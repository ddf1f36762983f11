#include "app/look/label_places.h"

#include <algorithm>

namespace noctis {

QRectF LabelPlaces::place(const std::vector<QRectF>& boxes) {
    const auto isFree = [this](const QRectF& box) {
        return m_room.contains(box) &&
               std::none_of(m_taken.begin(), m_taken.end(),
                            [&](const QRectF& other) { return other.intersects(box); });
    };
    const auto found = std::find_if(boxes.begin(), boxes.end(), isFree);
    take(found == boxes.end() ? boxes.front() : *found);
    return m_taken.back();
}

}  // namespace noctis
