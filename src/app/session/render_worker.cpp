#include "app/session/render_worker.h"

#include "app/session/time_left.h"

namespace noctis {

namespace {

constexpr std::size_t kTilesShown = 4;
/// Passes of more bytes aren't kept in memory, where they exist twice while they are refined.
constexpr std::size_t kMostInMemory = std::size_t{3} << 30U;

}  // namespace

bool RenderWorker::fitsInMemory(const RenderRequest& request) {
    return bytesOf(request) <= kMostInMemory;
}

RenderWorker::RenderWorker(QObject* parent) : QObject(parent) {}

double RenderWorker::secondsLeft() const { return noctis::secondsLeft(m_done, m_clock); }

std::vector<QRectF> RenderWorker::tiles() const {
    const std::scoped_lock lock(m_mutex);
    return m_tiles;
}

void RenderWorker::clearTiles() {
    const std::scoped_lock lock(m_mutex);
    m_tiles.clear();
}

void RenderWorker::stop() {
    if (!running())
        return;
    m_background.stop();
    Q_EMIT stopped();
}

RenderObserver RenderWorker::observer(const RenderRequest& request) {
    RenderObserver observer;
    const auto w = static_cast<double>(request.width);
    const auto h = static_cast<double>(request.height);
    observer.tileBegun = [this, w, h](PassKind, const Tile& t) {
        const std::scoped_lock lock(m_mutex);
        m_tiles.emplace_back(t.x0 / w, t.y0 / h, t.width() / w, t.height() / h);
        if (m_tiles.size() > kTilesShown)
            m_tiles.erase(m_tiles.begin());
    };
    observer.refined = [this](const PassSet& set) {
        Q_EMIT refined(std::make_shared<const PassSet>(set));
    };
    return observer;
}

void RenderWorker::start(const Work& work) {
    m_background.stop();
    m_done = 0.0F;
    m_clock.start();
    m_background.start(
        [this, work](const std::stop_token& stop) -> std::function<void()> {
            const RunContext run{.stop = stop, .progress = [&](float done) {
                                     m_done = done;
                                     Q_EMIT progressed();
                                 }};
            const auto begun = std::chrono::steady_clock::now();
            const std::function<void()> show = work(run);
            const auto taken = std::chrono::steady_clock::now() - begun;
            clearTiles();
            if (stop.stop_requested())
                return {};
            return [this, taken, show] {
                m_taken = taken;
                show();
            };
        },
        [this](const QString& text) { Q_EMIT failed(text); });
    Q_EMIT started();
}

void RenderWorker::render(std::shared_ptr<const LoadedScene> scene, const RenderRequest& request) {
    start([this, scene = std::move(scene), request](const RunContext& run) {
        const auto set = std::make_shared<const PassSet>(
            renderPasses(scene->scene, *scene->accelerator, request, run, observer(request)));
        return [this, set] { Q_EMIT finished(set); };
    });
}

void RenderWorker::keepSeen(bool sameLight) {
    m_background.stop();
    if (sameLight)
        return;
    m_seen.reset();
    m_moving = {};
}

void RenderWorker::renderMoving(std::shared_ptr<const LoadedScene> scene,
                                const RenderRequest& request, bool sameLight) {
    keepSeen(sameLight);
    start([this, scene = std::move(scene), request](const RunContext& run) {
        const auto set = std::make_shared<const PassSet>(
            MovingPicture::shows(request.passes.front().kind)
                ? m_moving.draw(scene->scene, *scene->accelerator, request, seen(), run)
                : renderPasses(scene->scene, *scene->accelerator, request, run));
        return [this, set] { Q_EMIT finished(set); };
    });
}

void RenderWorker::renderStill(std::shared_ptr<const LoadedScene> scene,
                               const RenderRequest& request, bool sameLight) {
    keepSeen(sameLight);
    start([this, scene = std::move(scene), request](const RunContext& run) {
        RenderObserver watched = observer(request);
        RenderRequest all = request;
        const bool moves = MovingPicture::shows(request.passes.front().kind);
        if (moves) {
            const PassSet quick =
                m_moving.draw(scene->scene, *scene->accelerator, request, seen(), run);
            if (!run.stopped())
                watched.refined(quick);
            for (const PassKind kind : keptWith(request.passes.front().kind))
                all.passes.push_back(passRequest(kind));
            all.watched = true;
            watched.refined = [this, show = watched.refined,
                               ground = scene->scene.standInGround](const PassSet& set) {
                show(set);
                if (auto seen = seenBefore(set, ground))  // not yet in the first
                    m_seen = std::move(seen);
            };
        }
        const auto set = std::make_shared<const PassSet>(
            renderPasses(scene->scene, *scene->accelerator, all, run, watched));
        return [this, set] { Q_EMIT finished(set); };
    });
}

}  // namespace noctis
