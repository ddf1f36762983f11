#include "app/hand/where_hand.h"

#include "app/look/picture_paint.h"
#include "core/steps/registry.h"

#include <QObject>

#include <cmath>

namespace noctis {

Drawing WhereHand::drawing() const {
    const Where* part = m_on.criterion();
    return part == nullptr ? Drawing::None : drawingOf(stepCatalogue().criterion(part->name));
}

void WhereHand::draw(const QString& gesture, const Edit& edit) {
    const Where* part = m_on.criterion();
    if (part == nullptr)
        return;
    const CriterionType& type = stepCatalogue().criterion(part->name);
    if (const std::optional<Settings> now = edit(type, part->settings))
        m_on.change(QObject::tr("Draw: %1").arg(qstring(type.label)), gesture, *now);
}

void WhereHand::begin(const V2f& at, bool takesAway, float pressure) {
    draw(QStringLiteral("draw"), [&](const CriterionType& type, const Settings& s) {
        return m_shape.begin(type, s, m_on.brush(), at, takesAway, pressure);
    });
}

void WhereHand::lead(const V2f& to, float pressure) {
    draw(QStringLiteral("draw"), [&](const CriterionType& type, const Settings& s) {
        return m_shape.lead(type, s, to, pressure);
    });
}

void WhereHand::end(const V2f& at) {
    draw({}, [&](const CriterionType& type, const Settings& s) {
        return drawingOf(type) == Drawing::Pick
                   ? picked(type, s, m_on.passes(), static_cast<int>(std::floor(at.x)),
                            static_cast<int>(std::floor(at.y)))
                   : ShapeHand::end(type, s, at);
    });
}

}  // namespace noctis
