#include "app/survey/trace_view.h"

#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/survey/survey_lanes.h"
#include "core/image/camera_move.h"
#include "core/passes/appearance.h"

#include <QKeyEvent>
#include <QMouseEvent>

#include <algorithm>
#include <cmath>
#include <utility>

namespace noctis {

namespace {

constexpr qreal kMargin = 4.0;
constexpr qreal kNarrowestShown = 120.0;
constexpr qreal kTremble = 4.0;
constexpr qreal kZoomPerTurn = 1.25;
/// Zooming in ends where the view holds this many pixels of the frame's width.
constexpr qreal kWidestTraced = 4096.0;
constexpr float kTurnPerPixel = 0.006F;

/// What is left of the way ahead after a turn of the wheel.
constexpr float kLeftByTurn = 0.88F;
constexpr float kNearestAhead = 0.05F;  ///< m

}  // namespace

TraceView::TraceView(Session& session, QWidget* parent)
    : QWidget(parent), m_session(session), m_live(session, [this] { return tracedSize(); }),
      m_viewport(Viewport::Limits{}) {
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAccessibleName(tr("Scene view"));
    setToolTip(tr("Drag to orbit, Shift-drag to pan, use the wheel to move closer. With Ctrl, the "
                  "wheel zooms into the frame and dragging moves it; the camera stays."));
    setMinimumSize(240, 160);
    connect(&m_session, &Session::sceneChanged, this, [this] {
        // A scene that is read again stays to be seen until the new one is.
        if (!m_session.scene() && !m_session.loadingScene()) {
            m_image = {};
            m_depth = {};
        }
        m_pass.reset();
        m_seenFrom.reset();
        m_live.forget();
        restart(false);
    });
    takeFrameSize();
    connect(&m_session, &Session::projectChanged, this, [this] {
        takeFrameSize();
        if (!m_live.moves())
            paintPass();  // while it moves, the next picture comes soon
        restart(m_live.moves());
    });
    connect(&m_live, &LiveTrace::seen, this,
            [this](const std::shared_ptr<const PassSet>& set, bool moving, bool inPart) {
                take(*set, moving, inPart);
            });
}

void TraceView::take(const PassSet& set, bool moving, bool inPart) {
    const Pass* pass = set.find(std::string_view(nameOf(shown())));
    if (pass == nullptr)
        return;
    m_pass = *pass;
    m_seenFrom = set.camera;
    if (const Pass* depth = set.find(PassKind::Depth)) {
        const float ahead = depth->image(set.width / 2, set.height / 2, 0);
        if (std::isfinite(ahead))
            m_ahead = ahead;
        m_depth = depth->image;
        if (!moving && !inPart) {
            m_automatic = depthRangeOf(depth->image);
            Q_EMIT depthSeen(*depth);
        }
    }
    paintPass();
}

void TraceView::takeFrameSize() {
    const Project& project = m_session.project();
    m_viewport.setLimits({.margin = kMargin,
                          .leastZoom = kNarrowestShown / project.width,
                          .mostZoom = kWidestTraced / devicePixelRatioF() / project.width});
    m_viewport.setPicture(QSizeF(project.width, project.height));
}

qreal TraceView::zoom() const { return m_viewport.zoom() * devicePixelRatioF(); }

void TraceView::setZoom(qreal zoom, const QPointF& about) {
    m_viewport.setZoom(zoom / devicePixelRatioF(), about);
    m_live.forget();
    restart(false);
}

void TraceView::fit() {
    m_viewport.fit();
    m_live.forget();
    restart(false);
}

LiveTrace::Size TraceView::tracedSize() const {
    const QRectF place = frame();
    const QRectF seen = place.intersected(rect());
    LiveTrace::Size size{place.size() * devicePixelRatioF(), {}};
    if (seen != place && !seen.isEmpty())
        size.part = QRectF((seen.left() - place.left()) / place.width(),
                           (seen.top() - place.top()) / place.height(),
                           seen.width() / place.width(), seen.height() / place.height());
    return size;
}

void TraceView::setShown(const PassName& pass) { m_live.setShown(pass); }

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

void TraceView::setRender(RenderWorker* worker) {
    m_render = worker;
    connect(worker, &RenderWorker::started, this, [this] {
        if (settled())
            return;
        m_live.stop();  // the cores are for the render
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
    m_live.setPaused(!isVisible() || (m_render != nullptr && m_render->running()));
    m_live.restart(moving);
    if (!m_live.moves())
        update();  // while it moves, all is painted with the next picture
}

void TraceView::changeCamera(const QString& what, const std::function<void(Camera&)>& edit) {
    if (m_session.scene() == nullptr)
        return;  // there is nothing to look at yet
    View view = m_session.view();
    edit(view.camera);
    changeMoving(what, QStringLiteral("camera"), [&](Project& p) { p.view = view; });
}

void TraceView::changeMoving(const QString& what, const QString& gesture,
                             const std::function<void(Project&)>& edit) {
    m_live.setMoves(true);
    m_session.change(what, gesture, edit);
}

void TraceView::orbit(const QPointF& way) {
    changeCamera(tr("Orbit"), [&](Camera& camera) {
        camera = orbited(camera, m_pivot, -static_cast<float>(way.x()) * kTurnPerPixel,
                         -static_cast<float>(way.y()) * kTurnPerPixel);
    });
}

void TraceView::pan(const QPointF& way) {
    changeCamera(tr("Pan"), [&](Camera& camera) {
        const float seen = camera.orthographic()
                               ? camera.orthographicHeight
                               : 2.0F * m_ahead * std::tan(0.5F * camera.yfovRadians);
        const float perPixel = seen / static_cast<float>(frame().height());
        camera = panned(camera, -static_cast<float>(way.x()) * perPixel,
                        static_cast<float>(way.y()) * perPixel);
    });
}

void TraceView::dolly(qreal turns) {
    changeCamera(tr("Dolly"), [&](Camera& camera) {
        const float nearer = 1.0F - std::pow(kLeftByTurn, static_cast<float>(turns));
        camera = dollied(camera, m_ahead * nearer, nearer);
        if (!camera.orthographic())
            m_ahead = std::max(kNearestAhead, m_ahead * (1.0F - nearer));
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
        // A click may move by a little.
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
        m_viewport.moveBy(way);
        m_live.forget();
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
    m_live.rest();
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
    m_viewport.setRoom(rect());
    m_live.forget();
    restart(false);
}

void TraceView::showEvent(QShowEvent*) { restart(false); }

}  // namespace noctis
