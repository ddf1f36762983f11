#pragma once

#include "app/hand/shape_drawing.h"
#include "core/recipe/where.h"

#include <QString>

#include <functional>

namespace noctis {

/// A hand that draws a criterion of a Where on a picture or a map.
class WhereHand {
public:
    struct On {
        std::function<const Where*()> criterion;  ///< that is in hand; null: none
        std::function<const Brush&()> brush;
        std::function<const PassSet&()> passes;  ///< where things are picked
        /// what: for undo; gesture: the same for all of one stroke.
        std::function<void(const QString& what, const QString& gesture, const Settings&)> change;
    };
    explicit WhereHand(On on) : m_on(std::move(on)) {}

    [[nodiscard]] Drawing drawing() const;
    // Places are those of the full picture.
    void begin(const V2f& at, bool takesAway, float pressure);
    void lead(const V2f& to, float pressure);
    void end(const V2f& at);

private:
    using Edit = std::function<std::optional<Settings>(const CriterionType&, const Settings&)>;
    void draw(const QString& gesture, const Edit& edit);

    On m_on;
    ShapeHand m_shape;
};

}  // namespace noctis
