// Drawing a criterion of the chosen step's Where on the picture.
#include "app/look/picture_paint.h"
#include "app/picture/picture_hand.h"
#include "app/picture/picture_view.h"
#include "app/picture/recipe_panel.h"
#include "core/steps/registry.h"

#include <cmath>

namespace noctis {

namespace {

/// A new stroke begins where the pen's pressure has changed by this much.
constexpr qreal kPressureStep = 0.08;

}  // namespace

const CriterionType* PictureHand::typeInHand() const {
    if (m_recipe.inHand().empty())
        return nullptr;
    const Where* part = criterionOf(m_session.project().recipe, m_recipe.inHand());
    return part == nullptr ? nullptr : &stepCatalogue().criterion(part->name);
}

void PictureHand::takeDrawing() {
    const CriterionType* type = typeInHand();
    const Drawing drawing = type == nullptr ? Drawing::None : drawingOf(*type);
    m_on.view->setDrawn(drawing != Drawing::None, drawing == Drawing::Brush
                                                      ? static_cast<qreal>(m_recipe.brush().radius)
                                                      : 0.0);
}

void PictureHand::edit(const QString& gesture,
                       const std::function<Settings(const CriterionType&, Settings)>& by) {
    const CriterionType* type = typeInHand();
    if (type == nullptr)
        return;
    m_session.change(tr("Draw: %1").arg(qstring(type->label)), gesture, [&](Project& p) {
        Where* part = criterionOf(p.recipe, m_recipe.inHand());
        part->settings = by(*type, part->settings);
    });
}

void PictureHand::beginStroke(const QPointF& at, bool takesAway, qreal pressure) {
    const CriterionType* type = typeInHand();
    if (type == nullptr)
        return;
    m_drawnFrom = toV2f(at);
    m_pressure = pressure;
    m_takesAway = takesAway;
    if (drawingOf(*type) != Drawing::Brush)
        return;
    Q_EMIT moves();
    Brush brush = m_recipe.brush();
    brush.radius *= static_cast<float>(pressure);
    edit(QStringLiteral("draw"), [&](const CriterionType& t, Settings s) {
        return withStroke(t, std::move(s), toV2f(at), brush, takesAway);
    });
}

void PictureHand::leadStroke(const QPointF& to, qreal pressure) {
    const CriterionType* type = typeInHand();
    if (type == nullptr)
        return;
    switch (drawingOf(*type)) {
    case Drawing::Shape:
        Q_EMIT moves();
        edit(QStringLiteral("draw"), [&](const CriterionType& t, Settings s) {
            return drawnShape(t, std::move(s), m_drawnFrom, toV2f(to));
        });
        break;
    case Drawing::Brush:
        Q_EMIT moves();
        edit(QStringLiteral("draw"), [&](const CriterionType& t, Settings s) {
            Settings led = withStrokeTo(t, std::move(s), toV2f(to));
            if (std::abs(pressure - m_pressure) < kPressureStep)
                return led;
            m_pressure = pressure;
            Brush brush = m_recipe.brush();
            brush.radius *= static_cast<float>(pressure);
            return withStroke(t, std::move(led), toV2f(to), brush, m_takesAway);
        });
        break;
    default:
        break;
    }
}

void PictureHand::endStroke(const QPointF& at) {
    const CriterionType* type = typeInHand();
    if (type == nullptr)
        return;
    if (drawingOf(*type) == Drawing::Outline)
        edit({}, [&](const CriterionType& t, Settings s) {
            return withCorner(t, std::move(s), toV2f(at));
        });
    if (drawingOf(*type) == Drawing::Pick)
        edit({}, [&](const CriterionType& t, const Settings& s) {
            return picked(t, s, m_session.passes(), static_cast<int>(std::floor(at.x())),
                          static_cast<int>(std::floor(at.y())))
                .value_or(s);
        });
    rest();
}

}  // namespace noctis
