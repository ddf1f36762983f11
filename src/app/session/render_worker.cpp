#include "app/session/render_worker.h"

namespace noctis {

namespace {

constexpr std::size_t kTilesShown = 4;

}  // namespace

RenderWorker::RenderWorker(QObject* parent) : QObject(parent) {}

double RenderWorker::secondsLeft() const {
    const auto done = static_cast<double>(m_done.load());
    const double elapsed = static_cast<double>(m_clock.elapsed()) / 1000.0;
    return done > 0.001 ? elapsed / done - elapsed : -1.0;
}

std::vector<QRectF> RenderWorker::tiles() const {
    const std::scoped_lock lock(m_mutex);
    return m_tiles;
}

void RenderWorker::stop() {
    if (!running())
        return;
    m_background.stop();
    Q_EMIT stopped();
}

void RenderWorker::render(std::shared_ptr<const LoadedScene> scene, const RenderRequest& request) {
    m_background.stop();
    m_done = 0.0F;
    m_clock.start();
    m_background.start(
        [this, scene = std::move(scene),
         request](const std::stop_token& stop) -> std::function<void()> {
            RenderObserver observer;
            const auto w = static_cast<double>(request.width);
            const auto h = static_cast<double>(request.height);
            observer.tileBegun = [&](PassKind, const Tile& t) {
                const std::scoped_lock lock(m_mutex);
                m_tiles.emplace_back(t.x0 / w, t.y0 / h, t.width() / w, t.height() / h);
                if (m_tiles.size() > kTilesShown)
                    m_tiles.erase(m_tiles.begin());
            };
            observer.refined = [&](const PassSet& set) {
                Q_EMIT refined(std::make_shared<const PassSet>(set));
            };
            const RunContext run{.stop = stop, .progress = [&](float done) {
                                     m_done = done;
                                     Q_EMIT progressed();
                                 }};
            auto set = std::make_shared<const PassSet>(
                renderPasses(scene->scene, *scene->accelerator, request, run, observer));
            {
                const std::scoped_lock lock(m_mutex);
                m_tiles.clear();
            }
            return [this, set] { Q_EMIT finished(set); };
        },
        [this](const QString& text) { Q_EMIT failed(text); });
}

}  // namespace noctis
