#include "app/picture/picture_hand.h"

#include "app/instruments/depth_overlay.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/picture/picture_view.h"
#include "app/picture/recipe_panel.h"
#include "core/passes/derived_pixels.h"
#include "core/steps/registry.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace noctis {

namespace {

/// Where a handle goes is shown by this many places, about.
constexpr int kMostOfCourse = 60;

bool focuses(const Step& step) {
    return step.usable() && !stepCatalogue().type(step.type).focusParameter.empty();
}

}  // namespace

PictureHand::PictureHand(Session& session, RecipePanel& recipe, PictureView& view,
                         std::vector<Instrument*> instruments, QObject* parent)
    : QObject(parent), m_session(session), m_recipe(recipe), m_view(view),
      m_instruments(std::move(instruments)),
      m_drawing({[this]() -> const Where* {
                     const std::string owner = m_recipe.inHand().owner();
                     return criterionOf(m_now.steps, owner);
                 },
                 [this]() -> const Brush& { return m_recipe.brush(); },
                 [this]() -> const PassSet& { return m_session.passes(); },
                 [this](const QString& what, const QString& gesture, const Settings& settings) {
                     if (!gesture.isEmpty())
                         Q_EMIT moves();
                     m_session.changeRecipe(what, gesture, [&](Recipe& r) {
                         criterionOf(r.steps, m_recipe.inHand().owner())->settings = settings;
                     });
                 }}) {
    connect(&m_view, &PictureView::clicked, this, &PictureHand::takeClick);
    connect(&m_view, &PictureView::handleMoved, this, &PictureHand::movePictureHandle);
    connect(&m_view, &PictureView::handleRested, this, &PictureHand::rest);
    connect(&m_view, &PictureView::strokeBegun, this,
            [this](const QPointF& at, bool takesAway, qreal pressure) {
                if (m_takePart)
                    m_partFrom = at;
                else
                    m_drawing.begin(toV2f(at), takesAway, static_cast<float>(pressure));
            });
    connect(&m_view, &PictureView::strokeLed, this, [this](const QPointF& to, qreal pressure) {
        if (m_takePart)
            return m_view.setBox(QRectF(m_partFrom, to).normalized());
        m_drawing.lead(toV2f(to), static_cast<float>(pressure));
    });
    connect(&m_view, &PictureView::strokeEnded, this, [this](const QPointF& at) {
        if (m_takePart)
            return endPart(at);
        m_drawing.end(toV2f(at));
        rest();
    });
    connect(&m_view, &PictureView::escaped, this, [this] {
        if (m_takePart)
            endPart(m_partFrom);
    });
    for (Instrument* instrument : m_instruments) {
        connect(instrument, &Instrument::handlesMoved, this,
                [this](const std::vector<HandleMove>& moves) {
                    move(moves);
                    showBlur(moves.front().owner);
                });
        connect(instrument, &Instrument::handlesRested, this, &PictureHand::rest);
        connect(instrument, &Instrument::ownerChosen, this, [this](const std::string& owner) {
            if (const std::string step = stepOfOwner(owner); m_recipe.chosen() != step)
                m_recipe.choose(step);
        });
    }
    // Nobody waits for a part any more.
    connect(&m_recipe, &RecipePanel::chosenChanged, this, [this] {
        if (m_takePart)
            endPart(m_partFrom);
    });
    connect(&m_recipe, &RecipePanel::inHandChanged, this, &PictureHand::takeDrawing);
}

void PictureHand::takeFrame(const MeasuredFrame& frame) {
    m_focusMark.reset();
    m_coarseDepth = frame.coarseDepth;
    m_session.setDepthRange(frame.shown.nearest, frame.shown.farthest);
    m_view.setDepth(frame.depth ? frame.depth->image : Image());
    for (Instrument* instrument : m_instruments)
        instrument->setFrame(frame);
    refresh();
}

void PictureHand::refresh() {
    m_now = m_session.recipeNow();
    const Recipe& recipe = m_now;
    m_groups = handleGroups(recipe.steps, stepCatalogue(), m_session.shownFrame());
    const auto [first, last] = m_session.frames();
    std::vector<FrameTime> times;
    for (int frame = first; frame <= last && last > first;
         frame += std::max(1, (last - first) / kMostOfCourse))
        times.push_back(m_session.timeOf(frame));
    addCourses(m_groups, m_session.project().recipe, stepCatalogue(), m_recipe.chosen(), times);
    for (Instrument* instrument : m_instruments) {
        instrument->setGroups(m_groups, m_recipe.chosen());
        instrument->setVisible(m_large != nullptr
                                   ? instrument == m_large
                                   : instrument->isWide() ||
                                         (instrument->isOfUse() && !m_session.passes().empty()));
    }
    showPictureHandles();
    takeDrawing();
    QString focus;
    for (const Step& step : recipe.steps)
        if (step.on && focuses(step))
            focus = tr("focus %1")
                        .arg(metresText(
                            step.settings.number(stepCatalogue().type(step.type).focusParameter)));
    m_view.setFocusMark(focus.isEmpty() ? std::nullopt : m_focusMark, focus);
}

void PictureHand::setLarge(Instrument* instrument) {
    m_large = instrument;
    for (Instrument* each : m_instruments)
        each->setLarge(each == instrument);
    refresh();
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
    if (m_loose)
        handles.push_back(*m_loose);
    m_view.setHandles(std::move(handles));
}

const HandleGroup* PictureHand::groupOf(const std::string& owner) const {
    for (const HandleGroup& group : m_groups)
        if (group.owner == owner)
            return &group;
    return nullptr;
}

void PictureHand::move(const std::vector<HandleMove>& moves) {
    const HandleMove& first = moves.front();
    const HandleGroup* group = groupOf(first.owner);
    const Step* step = m_session.project().recipe.find(stepOfOwner(first.owner));
    if (group == nullptr || step == nullptr)
        return;
    Q_EMIT this->moves();
    m_session.changeRecipe(
        tr("%1: %2").arg(qstring(titleOf(*step, stepCatalogue())),
                         qstring(group->handle(first.handle).label)),
        QStringLiteral("handle.%1.%2").arg(qstring(first.owner), qstring(first.handle)),
        [&, frame = group->frame](Recipe& r) {
            for (const HandleMove& each : moves)
                moveHandle(r.steps, stepCatalogue(), each.owner, each.handle, each.to, frame);
        });
}

void PictureHand::movePictureHandle(const std::string& owner, const std::string& handle,
                                    const QPointF& picture) {
    if (m_loose && m_loose->owner == owner)
        return looseMoved(picture);
    const HandleGroup* group = groupOf(owner);
    if (group == nullptr)
        return;
    const Handle& moved = group->handle(handle);
    if (moved.kind == HandleKind::Place) {
        move({{owner, handle, toV2f(picture)}});
        return;
    }
    // A point of the scene stays as far from the picture as it was.
    const PassSet& set = m_session.passes();
    const float depth =
        noctis::project(set.cameraOrAssumed(), group->point(moved), set.width, set.height).z;
    const CameraRay ray = cameraRay(set.cameraOrAssumed(), static_cast<float>(picture.x()),
                                    static_cast<float>(picture.y()), set.width, set.height);
    move({{owner, handle, V3f(ray.origin + ray.direction * (depth / ray.planarPerDistance))}});
}

void PictureHand::rest() {
    m_session.endGesture();
    m_view.setOver({});
    Q_EMIT rested();
}

void PictureHand::showBlur(const std::string& owner) {
    const HandleGroup* group = groupOf(owner);
    const Step* step = m_session.project().recipe.find(owner);
    if (group == nullptr || step == nullptr || !focuses(*step) || m_coarseDepth.empty())
        return;
    m_view.setOver(blurOverlay(m_coarseDepth, *group));
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
    m_session.point(toV2f(picture));
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
                        move({{group->owner, handle->id, *value}});
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
    m_session.changeRecipe(tr("%1: highlight").arg(qstring(titleOf(step, stepCatalogue()))), {},
                           [&, id = step.id](Recipe& r) {
                               placeHighlight(r.steps, stepCatalogue(), id, std::get<V3f>(*place),
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
    m_session.changeRecipe(tr("Focus here"), {}, [&](Recipe& r) {
        Step& focused = *r.find(step);
        focused.settings.set(stepCatalogue().type(focused.type).focusParameter,
                             std::get<float>(*metres));
    });
    m_session.endGesture();
    refresh();
}

void PictureHand::setLoose(std::optional<PictureHandle> handle) {
    m_loose = std::move(handle);
    showPictureHandles();
}

void PictureHand::askPart(const QString& hint, std::function<void(const Tile&)> take) {
    m_takePart = std::move(take);
    Q_EMIT m_session.notified(hint, false);
    takeDrawing();
    m_view.setFocus();
}

void PictureHand::endPart(const QPointF& at) {
    constexpr qreal kLeast = 3.0;  // px of the picture
    const auto take = std::exchange(m_takePart, {});
    m_view.setBox({});
    takeDrawing();
    const QRectF box = QRectF(m_partFrom, at).normalized();
    if (box.width() < kLeast || box.height() < kLeast)
        return;
    const QRect pixels = box.toAlignedRect();
    take({pixels.left(), pixels.top(), pixels.right() + 1, pixels.bottom() + 1});
}

void PictureHand::takeDrawing() {
    if (m_takePart)
        return m_view.setDrawn(true, 0.0);
    const Drawing drawing = m_drawing.drawing();
    m_view.setDrawn(drawing != Drawing::None,
                    drawing == Drawing::Brush ? static_cast<qreal>(m_recipe.brush().radius) : 0.0);
}

}  // namespace noctis
