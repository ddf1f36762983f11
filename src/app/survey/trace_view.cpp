#include "app/survey/trace_view.h"

#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/survey/survey_lanes.h"
#include "core/passes/appearance.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>
#include <utility>

namespace noctis {

namespace {

constexpr qreal kMargin = 8.0;
// A moving picture is to take no longer; its coarseness follows, and becomes finer where that would take
// clearly less.
constexpr std::chrono::milliseconds kTooSlow{45};
constexpr double kClearlyLess = 0.85;
constexpr int kFinest = 2;
constexpr int kCoarsest = 8;
constexpr int kLiveSamples = 96;
constexpr int kRestMs = 160;
constexpr qreal kTremble = 4.0;
constexpr qreal kZoomPerTurn = 1.25;
constexpr qreal kLeastOfFit = 0.25;
/// Zooming in ends at so many pixels of the frame's width.
constexpr qreal kWidestTraced = 4096.0;
constexpr float kTurnPerPixel = 0.006F;

M44f rotationAbout(const V3f& axis, float radians) {
    M44f m;
    m.setAxisAngle(axis, radians);
    return m;
}

}  // namespace

TraceView::TraceView(Session& session, QWidget* parent) : QWidget(parent), m_session(session) {
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAccessibleName(tr("Scene view"));
    setToolTip(tr("Drag to orbit, with Shift to pan; the wheel moves closer. With Ctrl the wheel "
                  "zooms into the frame, and dragging moves it, without moving the camera."));
    setMinimumSize(240, 160);
    m_restart.setSingleShot(true);
    m_restart.setInterval(kRestMs);
    connect(&m_restart, &QTimer::timeout, this, [this] { trace(false); });
    connect(&m_session, &Session::sceneChanged, this, [this] {
        m_image = {};
        m_pass.reset();
        m_seenFrom.reset();
        m_depth = {};
        m_traced.reset();
        restart(false);
    });
    connect(&m_session, &Session::projectChanged, this, [this] {
        if (!m_coarse)
            paintPass();  // while it moves, the next picture comes soon
        restart(m_coarse);
    });
    const auto take = [this](const std::shared_ptr<const PassSet>& set) {
        const Pass* pass = set->find(std::string_view(nameOf(m_shown)));
        if (pass == nullptr)
            return;
        m_pass = *pass;
        m_seenFrom = set->camera;
        if (const Pass* depth = set->find(PassKind::Depth)) {
            const float ahead = depth->image(set->width / 2, set->height / 2, 0);
            if (std::isfinite(ahead))
                m_ahead = ahead;
            m_depth = depth->image;
            if (!m_coarse && !m_seenInPart) {
                m_automatic = depthRangeOf(depth->image);
                Q_EMIT depthSeen(*depth);
            }
        }
        paintPass();
    };
    connect(
        &m_worker, &RenderWorker::refined, this,
        [this, take](const std::shared_ptr<const PassSet>& set) {
            if (!m_coarseInWork)  // a moving picture is taken once, when it is finished
                take(set);
        },
        Qt::QueuedConnection);
    connect(&m_worker, &RenderWorker::finished, this,
            [this, take](const std::shared_ptr<const PassSet>& set) {
                if (m_coarseInWork)
                    adaptCoarseness(m_worker.taken());
                take(set);
                if (std::exchange(m_movedOn, false))
                    trace(true);
            });
}

QSizeF TraceView::fittedSize() const {
    const Project& project = m_session.project();
    const auto aspect = static_cast<qreal>(project.aspect());
    const QSizeF room(width() - 2 * kMargin, height() - 2 * kMargin);
    const qreal w = std::min(room.width(), room.height() * aspect);
    return {w, w / aspect};
}

QRectF TraceView::frame() const {
    const QSizeF size = fittedSize() * m_zoom;
    return {QPointF((width() - size.width()) / 2.0, (height() - size.height()) / 2.0) + m_shift,
            size};
}

qreal TraceView::zoom() const {
    return frame().width() * devicePixelRatioF() / m_session.project().width;
}

void TraceView::setZoom(qreal zoom, const QPointF& about) {
    const QRectF before = frame();
    const qreal hundred = m_session.project().width / devicePixelRatioF() / fittedSize().width();
    const qreal most = kWidestTraced / devicePixelRatioF() / fittedSize().width();
    m_zoom = std::clamp(zoom * hundred, std::min(kLeastOfFit, hundred), std::max(most, 1.0));
    const QPointF from = about - before.topLeft();
    const QPointF part(from.x() / before.width(), from.y() / before.height());
    const QRectF after = frame();
    m_shift +=
        about - after.topLeft() - QPointF(part.x() * after.width(), part.y() * after.height());
    m_traced.reset();
    restart(false);
}

void TraceView::fit() {
    m_zoom = 1.0;
    m_shift = {};
    m_traced.reset();
    restart(false);
}

std::optional<Tile> TraceView::seenPart(int frameWidth, int frameHeight) const {
    const QRectF place = frame();
    const QRectF seen = place.intersected(rect());
    if (seen == place || seen.isEmpty())
        return std::nullopt;
    const qreal across = frameWidth / place.width();
    const qreal down = frameHeight / place.height();
    return Tile{
        static_cast<int>((seen.left() - place.left()) * across),
        static_cast<int>((seen.top() - place.top()) * down),
        std::min(frameWidth, static_cast<int>(std::ceil((seen.right() - place.left()) * across))),
        std::min(frameHeight, static_cast<int>(std::ceil((seen.bottom() - place.top()) * down)))};
}

void TraceView::setShown(const PassName& pass) {
    m_shown = pass;
    m_traced.reset();
    restart(false);
}

void TraceView::setCutShown(bool shown) {
    m_cutShown = shown;
    update();
}

void TraceView::setBlurShown(bool shown) {
    m_blurShown = shown;
    update();
}

void TraceView::setFocusDragged(bool dragged) {
    m_focusDragged = dragged;
    update();
}

void TraceView::paintTints(QPainter& painter) const {
    const Project& project = m_session.project();
    if (m_cutShown)
        painter.drawImage(frame(), cutOverlay(m_depth, rampOf(project, m_automatic)));
    if (m_blurShown || m_focusDragged)
        for (const HandleGroup& lane : surveyLanes(project, m_automatic))
            if (isFocusLane(lane.owner) && lane.on)
                painter.drawImage(frame(), blurOverlay(m_depth, lane));
}

void TraceView::setCropping(bool on) {
    m_cropping = on;
    setCursor(on ? Qt::CrossCursor : Qt::ArrowCursor);
}

void TraceView::dragCrop(const QPointF& to) {
    const QRectF place = frame();
    const auto part = [&](const QPointF& p) {
        return QPointF(std::clamp((p.x() - place.left()) / place.width(), 0.0, 1.0),
                       std::clamp((p.y() - place.top()) / place.height(), 0.0, 1.0));
    };
    const QRectF drawn = QRectF(part(m_pressed), part(to)).normalized();
    m_session.change(tr("Crop"), QStringLiteral("crop"), [&](Project& p) {
        p.crop = {static_cast<float>(drawn.left()), static_cast<float>(drawn.top()),
                  static_cast<float>(drawn.right()), static_cast<float>(drawn.bottom())};
    });
}

void TraceView::paintPass() {
    update();
    if (!m_pass)
        return;
    const Project& project = m_session.project();
    const PassLook look = passKindInfo(m_pass->kind).look;
    if (look == PassLook::Light)
        m_image = toQImage(viewed(m_pass->image, project.viewTransform, project.exposure));
    else if (look == PassLook::Distance)
        m_image = toQImage(rampPicture(m_pass->image, rampOf(project, m_automatic)));
    else
        m_image = toQImage(appearanceOf(*m_pass));
}

void TraceView::setRender(RenderWorker* worker) {
    m_render = worker;
    connect(worker, &RenderWorker::started, this, [this] {
        if (settled())
            return;
        m_restart.stop();
        m_worker.stop();  // the cores are for the render
        m_traced.reset();
    });
    // What changed while a render had the cores is traced after it. Its last picture stays only if it is
    // a finished one of this view.
    const auto ended = [this](bool finished) {
        const bool stays = finished && !showsOther();
        m_renderedView.clear();
        if (!stays)
            paintPass();
        restart(false);
    };
    const auto otherwise = [ended] { ended(false); };
    connect(
        worker, &RenderWorker::finished, this, [ended] { ended(true); }, Qt::QueuedConnection);
    connect(worker, &RenderWorker::written, this, otherwise, Qt::QueuedConnection);
    connect(worker, &RenderWorker::stopped, this, otherwise, Qt::QueuedConnection);
    connect(worker, &RenderWorker::failed, this, otherwise, Qt::QueuedConnection);
}

void TraceView::setRendered(const QImage& image, const std::string& view) {
    m_image = image;
    m_renderedView = view;
    update();
}

bool TraceView::showsOther() const {
    return !m_renderedView.empty() && m_renderedView != m_session.view().name;
}

void TraceView::restart(bool moving) {
    const bool busy = m_render != nullptr && m_render->running();
    if (!isVisible() || !m_session.scene() || busy)
        return update();
    const View view = m_session.view();
    const bool same =
        m_traced && *m_traced == view && m_tracedPasses == m_session.project().passes &&
        m_tracedScene == m_session.scene() && m_tracedMoved == m_session.project().moved;
    if (same && !moving)
        return update();
    // A moving picture is finished before the next is begun: a hand faster than it would see none.
    if (moving && m_coarseInWork && m_worker.running())
        m_movedOn = true;
    else
        trace(moving);
    if (moving)
        m_restart.start();
}

void TraceView::trace(bool coarse) {
    const auto scene = m_session.scene();
    if (!scene)
        return;
    const QRectF place = frame();
    const qreal scale = devicePixelRatioF() / (coarse ? m_coarseness : 1);
    RenderRequest request = m_session.renderRequest(m_session.view());
    request.passes.clear();
    request.width = std::max(16, static_cast<int>(place.width() * scale));
    request.height = std::max(9, static_cast<int>(place.height() * scale));
    request.crop = seenPart(request.width, request.height);
    const auto live = [&](PassRequest asked) {
        if (coarse)
            makeRough(asked);
        if (asked.settings.find("samples") != nullptr)
            asked.settings.set("samples",
                               std::min(asked.settings.number("samples"), 1.0F * kLiveSamples));
        return asked;
    };
    const Project& project = m_session.project();
    const PassRequest* asked = passAsked(project, nameOf(m_shown));
    request.passes.push_back(
        live(asked != nullptr ? *asked : passRequest(m_shown.kind, m_shown.subject)));
    request.light = live({PassKind::Beauty, request.light, {}}).settings;
    if (m_shown.kind != PassKind::Depth)
        request.passes.push_back(passRequest(PassKind::Depth));
    m_coarse = coarse;
    m_coarseInWork = coarse;
    m_movedOn = false;
    m_seenInPart = request.crop.has_value();
    m_traced = request.view;
    m_tracedPasses = m_session.project().passes;
    m_tracedScene = scene;
    m_tracedMoved = request.moved;
    m_worker.render(scene, request);
}

void TraceView::adaptCoarseness(std::chrono::duration<double> taken) {
    const double finerBy = m_coarseness / (m_coarseness - 1.0);
    if (taken > kTooSlow)
        m_coarseness = std::min(m_coarseness + 1, kCoarsest);
    else if (taken * finerBy * finerBy < kTooSlow * kClearlyLess)
        m_coarseness = std::max(m_coarseness - 1, kFinest);
}

void TraceView::changeCamera(const QString& what, const std::function<void(Camera&)>& edit) {
    View view = m_session.view();
    edit(view.camera);
    changeMoving(what, QStringLiteral("camera"), [&](Project& p) { p.view = view; });
}

void TraceView::changeMoving(const QString& what, const QString& gesture,
                             const std::function<void(Project&)>& edit) {
    m_coarse = true;
    m_session.change(what, gesture, edit);
}

void TraceView::orbit(const QPointF& way) {
    changeCamera(tr("Orbit"), [&](Camera& camera) {
        const V3f right =
            V3f(camera.cameraToWorld[0][0], camera.cameraToWorld[0][1], camera.cameraToWorld[0][2]);
        M44f there;
        there.setTranslation(-m_pivot);
        M44f back;
        back.setTranslation(m_pivot);
        const M44f turn = rotationAbout(V3f(0, 1, 0), -static_cast<float>(way.x()) * kTurnPerPixel);
        const M44f tilt = rotationAbout(right, -static_cast<float>(way.y()) * kTurnPerPixel);
        camera.cameraToWorld = camera.cameraToWorld * there * tilt * turn * back;
    });
}

void TraceView::pan(const QPointF& way) {
    changeCamera(tr("Pan"), [&](Camera& camera) {
        const float perPixel = 2.0F * m_ahead * std::tan(0.5F * camera.yfovRadians) /
                               static_cast<float>(frame().height());
        M44f shift;
        shift.setTranslation(V3f(-static_cast<float>(way.x()) * perPixel,
                                 static_cast<float>(way.y()) * perPixel, 0.0F));
        camera.cameraToWorld = shift * camera.cameraToWorld;
    });
}

void TraceView::dolly(qreal turns) {
    changeCamera(tr("Dolly"), [&](Camera& camera) {
        const float way = m_ahead * (1.0F - std::pow(0.88F, static_cast<float>(turns)));
        if (camera.orthographic()) {
            camera.orthographicHeight *= std::pow(0.88F, static_cast<float>(turns));
            return;
        }
        M44f shift;
        shift.setTranslation(V3f(0.0F, 0.0F, -way));
        camera.cameraToWorld = shift * camera.cameraToWorld;
        m_ahead = std::max(0.05F, m_ahead - way);
    });
}

void TraceView::mousePressEvent(QMouseEvent* event) {
    m_last = event->position();
    const View view = m_session.view();
    m_pivot = V3f(0, 0, -m_ahead) * view.camera.cameraToWorld;
    m_pressed = event->position();
    m_dragged = false;
    m_session.endGesture();
}

std::optional<SeenPlace> TraceView::placeUnder(const QPointF& at) const {
    const auto scene = m_session.scene();
    if (!scene || !frame().contains(at))
        return std::nullopt;
    return placeAlong(*scene, place().ray(at));
}

std::string TraceView::objectAhead() const {
    const auto ahead = placeUnder(frame().center());
    return ahead ? ahead->object : std::string();
}

void TraceView::mouseMoveEvent(QMouseEvent* event) {
    if (event->buttons() != Qt::NoButton && !m_dragged) {
        // A hand that clicks trembles a little.
        if ((event->position() - m_pressed).manhattanLength() < kTremble)
            return;
        m_dragged = true;
    }
    if (m_cropping && (event->buttons() & Qt::LeftButton) != 0)
        return dragCrop(event->position());
    const QPointF way = event->position() - m_last;
    m_last = event->position();
    const bool shift = (event->modifiers() & Qt::ShiftModifier) != 0;
    if (event->buttons() == Qt::NoButton)
        return;
    if ((event->modifiers() & Qt::ControlModifier) != 0) {
        m_shift += way;
        m_traced.reset();
        restart(false);
    } else if ((event->buttons() & Qt::MiddleButton) != 0 ||
               ((event->buttons() & Qt::LeftButton) != 0 && shift))
        pan(way);
    else if ((event->buttons() & Qt::LeftButton) != 0)
        orbit(way);
    else if ((event->buttons() & Qt::RightButton) != 0)
        dolly(-way.y() / 24.0);
}

void TraceView::mouseReleaseEvent(QMouseEvent* event) {
    if (m_cropping) {
        if (!m_dragged)
            m_session.change(tr("No crop"), {}, [](Project& p) { p.crop = {0, 0, 1, 1}; });
        Q_EMIT cropDrawn();
    } else if (!m_dragged && event->button() == Qt::LeftButton) {
        if (const auto clicked = placeUnder(event->position()))
            Q_EMIT placeClicked(*clicked);
    }
    m_session.endGesture();
    if (m_coarse)
        m_restart.start();
}

void TraceView::wheelEvent(QWheelEvent* event) {
    const qreal turns = event->angleDelta().y() / 120.0;
    if ((event->modifiers() & Qt::ControlModifier) != 0)
        setZoom(zoom() * std::pow(kZoomPerTurn, turns), event->position());
    else
        dolly(turns);
}

void TraceView::keyPressEvent(QKeyEvent* event) {
    const bool shift = (event->modifiers() & Qt::ShiftModifier) != 0;
    const auto move = [&](const QPointF& way) {
        m_pivot = V3f(0, 0, -m_ahead) * m_session.view().camera.cameraToWorld;
        if (shift)
            pan(way);
        else
            orbit(way);
    };
    switch (event->key()) {
    case Qt::Key_Left:
        return move({16, 0});
    case Qt::Key_Right:
        return move({-16, 0});
    case Qt::Key_Up:
        return move({0, 16});
    case Qt::Key_Down:
        return move({0, -16});
    case Qt::Key_Plus:
        return dolly(1);
    case Qt::Key_Minus:
        return dolly(-1);
    default:
        QWidget::keyPressEvent(event);
    }
}

void TraceView::resizeEvent(QResizeEvent*) {
    m_traced.reset();
    restart(false);
}

void TraceView::showEvent(QShowEvent*) { restart(false); }

void TraceView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme::kSurround);
    const QRectF place = frame();
    if (!m_session.scene()) {
        painter.setPen(theme::kQuiet);
        painter.drawText(rect().adjusted(40, 40, -40, -40), Qt::AlignCenter | Qt::TextWordWrap,
                         m_session.loadingScene()
                             ? tr("Reading the scene…")
                             : tr("No scene yet. Drop one here, or open one: glTF, OBJ, PLY, STL, "
                                  "OFF, FBX or Collada."));
        return;
    }
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    if (!m_image.isNull())
        painter.drawImage(place, m_image);
    const bool rendering = m_render != nullptr && m_render->running();
    Tags tags(place);
    if (!rendering) {
        if (!m_depth.empty())
            paintTints(painter);
        if (m_shown.kind == PassKind::Occlusion || m_shown.kind == PassKind::Bent)
            if (const PassRequest* asked = passAsked(m_session.project(), nameOf(m_shown)))
                paintReach(painter, this->place(), occlusionSettings(asked->settings).reach,
                           m_ahead, tags);
    }
    const Project& project = m_session.project();
    if (cropOf(project))
        paintCrop(painter, place, project.crop);
    if (!rendering)
        paintPins(painter, this->place(), project.pins, tags);
    paintFrame(painter, place,
               rendering && showsOther() ? tr("%1 is rendered").arg(qstring(m_renderedView))
                                         : frameText());
    if (rendering)
        paintTilesInWork(painter, place, m_render->tiles());
}

QString TraceView::frameText() const {
    const Project& project = m_session.project();
    const Camera camera = m_session.view().camera;
    QString text = camera.orthographic()
                       ? tr("%1 × %2, parallel").arg(project.width).arg(project.height)
                       : tr("%1 × %2, %3 mm")
                             .arg(project.width)
                             .arg(project.height)
                             .arg(static_cast<double>(focalLengthOf(
                                      camera, project.lens.sensorMillimetres, project.aspect())),
                                  0, 'f', 0);
    if (!qFuzzyCompare(m_zoom, 1.0))
        text += tr(", at %1 %").arg(zoom() * 100.0, 0, 'f', 0);
    return text;
}

}  // namespace noctis
