#include "app/picture/picture_hand.h"

#include "app/instruments/bearing.h"
#include "app/instruments/depth_overlay.h"
#include "app/instruments/plan.h"
#include "app/instruments/sounding.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/picture/picture_view.h"
#include "app/picture/recipe_panel.h"
#include "core/image/resample.h"
#include "core/passes/derived_pixels.h"
#include "core/passes/world_normals.h"
#include "core/steps/registry.h"

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr int kTintWidth = 320;

bool focuses(const Step& step) {
    return step.usable() && !stepCatalogue().type(step.type).focusParameter.empty();
}

}  // namespace

PictureHand::PictureHand(Session& session, RecipePanel& recipe, const Instruments& on,
                         QObject* parent)
    : QObject(parent), m_session(session), m_recipe(recipe), m_on(on) {
    connect(m_on.view, &PictureView::clicked, this, &PictureHand::takeClick);
    connect(m_on.view, &PictureView::handleMoved, this, &PictureHand::movePictureHandle);
    connect(m_on.view, &PictureView::handleRested, this, &PictureHand::rest);
    connect(m_on.view, &PictureView::strokeBegun, this, &PictureHand::beginStroke);
    connect(m_on.view, &PictureView::strokeLed, this, &PictureHand::leadStroke);
    connect(m_on.view, &PictureView::strokeEnded, this, &PictureHand::endStroke);
    connect(m_on.sounding, &Sounding::handleMoved, this,
            [this](const std::string& owner, const std::string& handle, float metres) {
                moveHandle(owner, handle, metres);
                showBlur(owner);
            });
    connect(m_on.sounding, &Sounding::handleRested, this, &PictureHand::rest);
    connect(m_on.sounding, &Sounding::laneChosen, this, [this](const std::string& owner) {
        if (const std::string step = stepOfOwner(owner); m_recipe.chosen() != step)
            m_recipe.choose(step);
    });
    connect(m_on.bearing, &Bearing::handleMoved, this,
            [this](const std::string& owner, const std::string& handle, const V3f& to) {
                moveHandle(owner, handle, to);
            });
    connect(m_on.bearing, &Bearing::handleRested, this, &PictureHand::rest);
    connect(m_on.plan, &Plan::markMoved, this, &PictureHand::movePlanMark);
    connect(m_on.plan, &Plan::boxMoved, this, &PictureHand::movePlanBox);
    connect(m_on.plan, &Plan::rested, this, &PictureHand::rest);
    connect(&m_recipe, &RecipePanel::inHandChanged, this, &PictureHand::takeDrawing);
}

MeasuredFrame measuredFrame(const PassSet& overview) {
    MeasuredFrame frame{
        {overview.cameraOrAssumed(), std::max(overview.width, 1), std::max(overview.height, 1)},
        tryResolvePass(overview, PassKind::Depth),
        {},
        {}};
    if (frame.depth)
        frame.coarseDepth =
            shrinkByCentre(frame.depth->image, std::max(1, overview.width / kTintWidth));
    if (const auto normals = tryResolvePass(overview, PassKind::Normal))
        frame.worldNormals = inWorld(*normals, frame.shown.camera);
    return frame;
}

void PictureHand::takeFrame(const MeasuredFrame& frame) {
    m_focusMark.reset();
    m_coarseDepth = frame.coarseDepth;
    const Image depth = frame.depth ? frame.depth->image : Image();
    m_on.sounding->setDepth(frame.depth);
    m_on.view->setDepth(depth);
    m_on.bearing->setCamera(frame.shown.camera);
    m_on.bearing->setNormals(frame.worldNormals);
    m_on.plan->setCamera(frame.shown.camera, frame.shown.aspect());
    m_on.plan->setDepth(depth);
}

void PictureHand::refresh() {
    const Recipe& recipe = m_session.project().recipe;
    m_groups = handleGroups(recipe, stepCatalogue(), m_session.shownFrame());
    m_on.sounding->setLanes(m_groups, m_recipe.chosen());
    m_on.bearing->setGroups(m_groups, m_recipe.chosen());
    m_on.bearing->setVisible(m_on.bearing->hasHandles());
    showPictureHandles();
    showPlan();
    takeDrawing();
    QString focus;
    for (const Step& step : recipe.steps)
        if (step.on && focuses(step))
            focus = tr("focus %1")
                        .arg(metresText(
                            step.settings.number(stepCatalogue().type(step.type).focusParameter)));
    m_on.view->setFocusMark(focus.isEmpty() ? std::nullopt : m_focusMark, focus);
}

void PictureHand::showPictureHandles() {
    std::vector<PictureHandle> handles;
    const PassSet& set = m_session.passes();
    for (const HandleGroup& group : m_groups) {
        if (stepOfOwner(group.owner) != m_recipe.chosen() || set.empty())
            continue;
        const auto add = [&](const Handle& handle, float x, float y, const QString& value) {
            handles.push_back({group.owner, handle.id,
                               QStringLiteral("%1  %2").arg(qstring(handle.label), value),
                               QPointF(static_cast<qreal>(x), static_cast<qreal>(y))});
        };
        for (const Handle* handle : group.shown(HandleKind::Place)) {
            const V2f at = std::get<V2f>(group.at(*handle));
            add(*handle, at.x, at.y, tr("%1, %2 px").arg(std::lround(at.x)).arg(std::lround(at.y)));
        }
        for (const Handle* handle : group.shown(HandleKind::Point)) {
            const V3f at =
                noctis::project(set.cameraOrAssumed(), group.point(*handle), set.width, set.height);
            if (at.z > 0.0F)
                add(*handle, at.x, at.y, tr("%1 away").arg(metresText(at.z)));
        }
    }
    m_on.view->setHandles(std::move(handles));
}

void PictureHand::showPlan() {
    std::vector<PlanMark> marks;
    std::vector<PlanBox> boxes;
    m_planMarks.clear();
    m_planBoxes.clear();
    for (const HandleGroup& group : m_groups) {
        if (stepOfOwner(group.owner) != m_recipe.chosen())
            continue;
        for (const Handle* handle : group.shown(HandleKind::Point)) {
            marks.push_back({qstring(handle->label), group.point(*handle), true, true});
            m_planMarks.emplace_back(group.owner, handle->id);
            if (handle->opposite.empty())
                continue;
            const Handle& opposite = group.handle(handle->opposite);
            boxes.push_back({group.point(*handle), group.point(opposite)});
            m_planBoxes.emplace_back(group.owner, handle->id);
        }
    }
    const bool shown = !marks.empty() && !m_session.passes().empty();
    for (const auto& [name, light] : m_session.passes().lights)
        if (light.kind != SceneLightKind::Sun && light.kind != SceneLightKind::Dome)
            marks.push_back({qstring(name), light.position, true, false});
    m_on.plan->setMarks(std::move(marks));
    m_on.plan->setBoxes(std::move(boxes));
    m_on.plan->setVisible(shown);
}

const HandleGroup* PictureHand::groupOf(const std::string& owner) const {
    for (const HandleGroup& group : m_groups)
        if (group.owner == owner)
            return &group;
    return nullptr;
}

void PictureHand::moveHandle(const std::string& owner, const std::string& handle,
                             const HandleValue& to) {
    const HandleGroup* group = groupOf(owner);
    const Step* step = m_session.project().recipe.find(stepOfOwner(owner));
    if (group == nullptr || step == nullptr)
        return;
    Q_EMIT moves();
    m_session.change(
        tr("%1: %2").arg(qstring(titleOf(*step, stepCatalogue())),
                         qstring(group->handle(handle).label)),
        QStringLiteral("handle.%1.%2").arg(qstring(owner), qstring(handle)), [&](Project& p) {
            noctis::moveHandle(p.recipe, stepCatalogue(), owner, handle, to, group->frame);
        });
}

void PictureHand::movePictureHandle(const std::string& owner, const std::string& handle,
                                    const QPointF& picture) {
    const HandleGroup* group = groupOf(owner);
    if (group == nullptr)
        return;
    const Handle& moved = group->handle(handle);
    if (moved.kind == HandleKind::Place) {
        moveHandle(owner, handle, toV2f(picture));
        return;
    }
    // A point of the scene stays as far from the picture as it was.
    const PassSet& set = m_session.passes();
    const float depth =
        noctis::project(set.cameraOrAssumed(), group->point(moved), set.width, set.height).z;
    const CameraRay ray = cameraRay(set.cameraOrAssumed(), static_cast<float>(picture.x()),
                                    static_cast<float>(picture.y()), set.width, set.height);
    moveHandle(owner, handle, V3f(ray.origin + ray.direction * (depth / ray.planarPerDistance)));
}

void PictureHand::movePlanMark(std::size_t index, const V3f& way) {
    if (index >= m_planMarks.size())
        return;
    const auto [owner, handle] = m_planMarks[index];
    if (const HandleGroup* group = groupOf(owner))
        moveHandle(owner, handle, V3f(group->point(group->handle(handle)) + way));
}

void PictureHand::movePlanBox(std::size_t index, const V3f& way) {
    if (index >= m_planBoxes.size())
        return;
    const auto [owner, corner] = m_planBoxes[index];
    const HandleGroup* group = groupOf(owner);
    const Step* step = m_session.project().recipe.find(stepOfOwner(owner));
    if (group == nullptr || step == nullptr)
        return;
    Q_EMIT moves();
    m_session.change(tr("%1: box").arg(qstring(titleOf(*step, stepCatalogue()))),
                     QStringLiteral("box.") + qstring(owner), [&](Project& p) {
                         for (const std::string& id : {corner, group->handle(corner).opposite})
                             noctis::moveHandle(p.recipe, stepCatalogue(), owner, id,
                                                V3f(group->point(group->handle(id)) + way),
                                                group->frame);
                     });
}

void PictureHand::rest() {
    m_session.endGesture();
    m_on.view->setOver({});
    Q_EMIT rested();
}

void PictureHand::showBlur(const std::string& owner) {
    const HandleGroup* group = groupOf(owner);
    const Step* step = m_session.project().recipe.find(owner);
    if (group == nullptr || step == nullptr || !focuses(*step) || m_coarseDepth.empty())
        return;
    m_on.view->setOver(blurOverlay(m_coarseDepth, *group));
}

std::optional<HandleValue> PictureHand::valueAt(HandleKind kind, const QPointF& picture) const {
    if (kind == HandleKind::Place)
        return toV2f(picture);
    const PassSet& set = m_session.passes();
    if (!canResolve(set, PassKind::Depth))
        return std::nullopt;
    const float metres =
        DerivedPixels(set).depth(static_cast<int>(picture.x()), static_cast<int>(picture.y()));
    if (!std::isfinite(metres))
        return std::nullopt;
    if (kind == HandleKind::Distance)
        return metres;
    if (kind != HandleKind::Point)
        return std::nullopt;
    const CameraRay ray = cameraRay(set.cameraOrAssumed(), static_cast<float>(picture.x()),
                                    static_cast<float>(picture.y()), set.width, set.height);
    return V3f(ray.origin + ray.direction * (metres / ray.planarPerDistance));
}

void PictureHand::takeClick(const QPointF& picture, Qt::KeyboardModifiers keys) {
    if (m_takesFirst && m_takesFirst(picture))
        return;
    const Recipe& recipe = m_session.project().recipe;
    const Step* chosen = recipe.find(m_recipe.chosen());
    if (chosen != nullptr && chosen->on && focuses(*chosen)) {
        focusAt(chosen->id, picture);
        return;
    }
    if (chosen != nullptr && keys.testFlag(Qt::ShiftModifier) && takeHighlight(*chosen, picture))
        return;
    // A step that stands somewhere goes where the click is.
    if (chosen != nullptr)
        if (const HandleGroup* group = groupOf(chosen->id))
            for (const HandleKind kind : {HandleKind::Place, HandleKind::Point})
                for (const Handle* handle : group->shown(kind))
                    if (auto value = valueAt(kind, picture)) {
                        if (handle->offSurface > 0.0F) {
                            const V3f eye = m_session.passes().cameraOrAssumed().position();
                            V3f& at = std::get<V3f>(*value);
                            at += (eye - at) * handle->offSurface;
                        }
                        moveHandle(group->owner, handle->id, *value);
                        rest();
                        return;
                    }
    if (chosen != nullptr && takeHighlight(*chosen, picture))
        return;
    for (const Step& step : recipe.steps)
        if (focuses(step) && step.on) {
            focusAt(step.id, picture);
            return;
        }
}

bool PictureHand::takeHighlight(const Step& step, const QPointF& picture) {
    const HandleGroup* group = groupOf(step.id);
    bool lights = false;
    for (const HandleKind kind : {HandleKind::Direction, HandleKind::Point})
        for (const Handle* handle :
             group != nullptr ? group->shown(kind) : std::vector<const Handle*>())
            lights = lights || handle->highlights;
    if (!lights)
        return false;
    const auto place = valueAt(HandleKind::Point, picture);
    const PassSet& set = m_session.passes();
    const V3f towardsViewer = -cameraRay(set.cameraOrAssumed(), static_cast<float>(picture.x()),
                                         static_cast<float>(picture.y()), set.width, set.height)
                                   .direction;
    const V3f normal = canResolve(set, PassKind::Normal)
                           ? DerivedPixels(set).normal(static_cast<int>(picture.x()),
                                                       static_cast<int>(picture.y()))
                           : V3f(0.0F);
    const float facing = normal.dot(towardsViewer);
    if (!place || !(facing > 0.0F)) {
        Q_EMIT m_session.notified(
            tr("No surface faces the view there, so the light stays where it is."), false);
        return true;
    }
    const V3f mirrored = (normal * (2.0F * facing) - towardsViewer).normalized();
    m_session.change(tr("%1: highlight").arg(qstring(titleOf(step, stepCatalogue()))), {},
                     [&, id = step.id](Project& p) {
                         placeHighlight(p.recipe, stepCatalogue(), id, std::get<V3f>(*place),
                                        mirrored, m_session.shownFrame());
                     });
    return true;
}

void PictureHand::focusAt(const std::string& step, const QPointF& picture) {
    const auto metres = valueAt(HandleKind::Distance, picture);
    if (!metres) {
        Q_EMIT m_session.notified(tr("Only sky there, so the focus stays where it is."), false);
        return;
    }
    m_focusMark = picture;
    m_session.change(tr("Focus here"), {}, [&](Project& p) {
        Step& focused = *p.recipe.find(step);
        focused.settings.set(stepCatalogue().type(focused.type).focusParameter,
                             std::get<float>(*metres));
    });
    m_session.endGesture();
    refresh();
}

}  // namespace noctis
