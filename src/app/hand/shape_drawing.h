#pragma once

#include "core/passes/pass_set.h"
#include "core/recipe/criterion_type.h"

#include <optional>

namespace noctis {

/// How a criterion is drawn on the picture.
enum class Drawing {
    None,
    Shape,    ///< dragged out from one place to another
    Outline,  ///< corner by corner
    Brush,    ///< stroke by stroke
    Pick,     ///< by clicking something that shows it
};

/// The size and softness of the brush.
struct Brush {
    float radius = 30.0F;   ///< px of the full picture
    float softness = 0.5F;  ///< part of the radius over which it fades
    bool operator==(const Brush&) const = default;
};

Drawing drawingOf(const CriterionType& type);

/// The settings after a drag from one place of the picture to another.
Settings drawnShape(const CriterionType& type, Settings settings, const V2f& from, const V2f& to);
/// With one more corner of the outline.
Settings withCorner(const CriterionType& type, Settings settings, const V2f& corner);
/// With a stroke begun at a place; pressure: 0..1 of the brush's radius.
Settings withStroke(const CriterionType& type, Settings settings, const V2f& at, const Brush& brush,
                    bool takesAway, float pressure = 1.0F);
/// With the last stroke continued to a place.
Settings withStrokeTo(const CriterionType& type, Settings settings, const V2f& to,
                      float pressure = 1.0F);
/// With what is seen there: an object or material put in or, if it is in, taken out; the way the
/// surface faces; the picture's colour. None where nothing is seen.
std::optional<Settings> picked(const CriterionType& type, Settings settings, const PassSet& passes,
                               int x, int y);

/// A criterion as a hand draws it: pressed, led and released. Each gives the settings as they are now, or none where
/// nothing has changed.
class ShapeHand {
public:
    std::optional<Settings> begin(const CriterionType& type, const Settings& settings,
                                  const Brush& brush, const V2f& at, bool takesAway,
                                  float pressure);
    std::optional<Settings> lead(const CriterionType& type, const Settings& settings, const V2f& to,
                                 float pressure);
    static std::optional<Settings> end(const CriterionType& type, const Settings& settings,
                                       const V2f& at);

private:
    V2f m_from;
};

}  // namespace noctis
