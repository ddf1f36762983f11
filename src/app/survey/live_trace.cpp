#include "app/survey/live_trace.h"

#include "core/tracer/moving_picture.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace noctis {

namespace {

/// A moving picture is to take so long; its size follows, in small steps, so that it doesn't flutter.
constexpr std::chrono::milliseconds kMovingPicture{47};
constexpr double kSmallest = 0.125;
constexpr double kMostSmaller = 0.75;
constexpr double kMostLarger = 1.1;
constexpr int kLiveSamples = 96;
constexpr int kHandRestMs = 160;

Tile tileOf(const QRectF& part, int width, int height) {
    return {static_cast<int>(part.left() * width), static_cast<int>(part.top() * height),
            std::min(width, static_cast<int>(std::ceil(part.right() * width))),
            std::min(height, static_cast<int>(std::ceil(part.bottom() * height)))};
}

}  // namespace

LiveTrace::LiveTrace(Session& session, std::function<Size()> size, QObject* parent)
    : QObject(parent), m_session(session), m_size(std::move(size)) {
    m_rest.setSingleShot(true);
    m_rest.setInterval(kHandRestMs);
    connect(&m_rest, &QTimer::timeout, this, [this] { trace(false); });
    connect(
        &m_worker, &RenderWorker::refined, this,
        [this](const std::shared_ptr<const PassSet>& set) {
            setFailure({});
            if (!m_drawsMoving)  // a moving picture is taken once, when it is finished
                Q_EMIT seen(set, m_moves, m_inPart);
        },
        Qt::QueuedConnection);
    connect(&m_worker, &RenderWorker::finished, this,
            [this](const std::shared_ptr<const PassSet>& set) {
                setFailure({});
                if (m_drawsMoving)
                    adaptScale(m_worker.taken());
                // The next picture is begun before this one is painted: neither waits for the other.
                const bool moves = m_moves;
                const bool inPart = m_inPart;
                if (std::exchange(m_movedOn, false))
                    trace(true);
                Q_EMIT seen(set, moves, inPart);
            });
    connect(&m_worker, &RenderWorker::failed, this, &LiveTrace::setFailure);
}

void LiveTrace::setFailure(const QString& text) {
    if (text == m_failure)
        return;
    if (!m_failure.isEmpty())
        Q_EMIT m_session.settled(m_failure);
    m_failure = text;
    if (!m_failure.isEmpty())
        Q_EMIT m_session.notified(m_failure, true);
}

void LiveTrace::setShown(const PassName& pass) {
    if (pass != m_shown)
        forget();
    m_shown = pass;
    restart(false);
}

void LiveTrace::rest() {
    if (m_moves)
        m_rest.start();
}

void LiveTrace::stop() {
    m_rest.stop();
    m_worker.stop();
    forget();
}

void LiveTrace::restart(bool moving) {
    if (m_paused || !m_session.scene())
        return;
    const bool same =
        m_traced && *m_traced == m_session.view() && m_tracedPasses == m_session.project().passes &&
        m_tracedScene == m_session.scene() && m_tracedMoved == m_session.project().moved;
    if (same && !moving)
        return;
    // A moving picture is finished before the next is begun: a hand faster than it would see none.
    if (moving && m_drawsMoving && m_worker.running())
        m_movedOn = true;
    else
        trace(moving);
    if (moving)
        m_rest.start();
}

RenderRequest LiveTrace::requestOf(bool moving) const {
    const Size size = m_size();
    const qreal scale = moving ? m_scale : 1.0;
    RenderRequest request = m_session.renderRequest(m_session.view());
    request.passes.clear();
    request.width = std::max(16, static_cast<int>(size.pixels.width() * scale));
    request.height = std::max(9, static_cast<int>(size.pixels.height() * scale));
    request.crop.reset();  // the frame's crop is for its render
    if (size.part)
        request.crop = tileOf(*size.part, request.width, request.height);
    const auto live = [moving](PassRequest asked) {
        if (moving)
            makeRough(asked);
        if (asked.settings.find("samples") != nullptr)
            asked.settings.set("samples",
                               std::min(asked.settings.number("samples"), 1.0F * kLiveSamples));
        if (asked.settings.find("denoise") != nullptr)
            asked.settings.set("denoise", 1.0F);  // few samples of light are sparks
        return asked;
    };
    const PassRequest* asked = passAsked(m_session.project(), nameOf(m_shown));
    request.passes.push_back(
        live(asked != nullptr ? *asked : passRequest(m_shown.kind, m_shown.subject)));
    request.light = live({PassKind::Beauty, request.light, {}}).settings;
    if (m_shown.kind != PassKind::Depth)
        request.passes.push_back(passRequest(PassKind::Depth));
    return request;
}

void LiveTrace::trace(bool moving) {
    const auto scene = m_session.scene();
    if (!scene)
        return;
    const RenderRequest request = requestOf(moving);
    const bool sameLight = m_tracedShown == m_shown && m_tracedScene == scene &&
                           m_tracedMoved == request.moved &&
                           m_tracedPasses == m_session.project().passes;
    m_tracedShown = m_shown;
    m_moves = moving;
    m_drawsMoving = moving;
    m_movedOn = false;
    m_inPart = request.crop.has_value();
    m_traced = request.view;
    m_tracedPasses = m_session.project().passes;
    m_tracedScene = scene;
    m_tracedMoved = request.moved;
    if (moving)
        m_worker.renderMoving(scene, request, sameLight);
    else
        m_worker.renderStill(scene, request, sameLight);
}

void LiveTrace::adaptScale(std::chrono::duration<double> taken) {
    const double fitting = std::sqrt(std::chrono::duration<double>(kMovingPicture) / taken);
    m_scale = std::clamp(m_scale * std::clamp(fitting, kMostSmaller, kMostLarger), kSmallest, 1.0);
}

}  // namespace noctis
