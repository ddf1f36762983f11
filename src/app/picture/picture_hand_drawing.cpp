// Drawing a criterion of the chosen step's Where on the picture.
#include "app/look/picture_paint.h"
#include "app/picture/picture_hand.h"
#include "app/picture/picture_view.h"
#include "app/picture/recipe_panel.h"
#include "core/steps/registry.h"

#include <cmath>

namespace noctis {

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

void PictureHand::edit(const QString& gesture, const SettingsEdit& by) {
    const CriterionType* type = typeInHand();
    if (type == nullptr)
        return;
    const Where* part = criterionOf(m_session.project().recipe, m_recipe.inHand());
    const std::optional<Settings> now = by(*type, part->settings);
    if (!now)
        return;
    if (!gesture.isEmpty())
        Q_EMIT moves();
    m_session.change(tr("Draw: %1").arg(qstring(type->label)), gesture, [&](Project& p) {
        criterionOf(p.recipe, m_recipe.inHand())->settings = *now;
    });
}

void PictureHand::beginStroke(const QPointF& at, bool takesAway, qreal pressure) {
    edit(QStringLiteral("draw"), [&](const CriterionType& type, const Settings& s) {
        return m_shape.begin(type, s, m_recipe.brush(), toV2f(at), takesAway,
                             static_cast<float>(pressure));
    });
}

void PictureHand::leadStroke(const QPointF& to, qreal pressure) {
    edit(QStringLiteral("draw"), [&](const CriterionType& type, const Settings& s) {
        return m_shape.lead(type, s, m_recipe.brush(), toV2f(to), static_cast<float>(pressure));
    });
}

void PictureHand::endStroke(const QPointF& at) {
    const CriterionType* type = typeInHand();
    if (type == nullptr)
        return;
    edit({}, [&](const CriterionType& t, const Settings& s) {
        return drawingOf(t) == Drawing::Pick
                   ? picked(t, s, m_session.passes(), static_cast<int>(std::floor(at.x())),
                            static_cast<int>(std::floor(at.y())))
                   : ShapeHand::end(t, s, toV2f(at));
    });
    rest();
}

}  // namespace noctis
