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

void RenderWorker::render(std::shared_ptr<const LoadedScene> scene, const RenderRequest& request) {
    m_background.stop();
    m_done = 0.0F;
    m_clock.start();
    m_background.start(
        [this, scene = std::move(scene),
         request](const std::stop_token& stop) -> std::function<void()> {
            const RunContext run{.stop = stop, .progress = [&](float done) {
                                     m_done = done;
                                     Q_EMIT progressed();
                                 }};
            auto set = std::make_shared<const PassSet>(
                renderPasses(scene->scene, *scene->accelerator, request, run, observer(request)));
            clearTiles();
            return [this, set] { Q_EMIT finished(set); };
        },
        [this](const QString& text) { Q_EMIT failed(text); });
}

void RenderWorker::renderViews(std::shared_ptr<const LoadedScene> scene,
                               const RenderRequest& request, const std::vector<View>& views,
                               const std::filesystem::path& pattern) {
    m_background.stop();
    m_done = 0.0F;
    m_clock.start();
    m_background.start(
        [this, scene = std::move(scene), request, views,
         pattern](const std::stop_token& stop) -> std::function<void()> {
            const RunContext run{.stop = stop, .progress = [&](float part) {
                                     m_done = part;
                                     Q_EMIT progressed();
                                 }};
            const int done = noctis::renderViews(scene->scene, *scene->accelerator, request, views,
                                                 pattern, {}, run, observer(request));
            clearTiles();
            if (stop.stop_requested())
                return {};
            return [this, done, folder = pattern.parent_path().string()] {
                Q_EMIT written(done, QString::fromStdString(folder));
            };
        },
        [this](const QString& text) { Q_EMIT failed(text); });
}

void RenderWorker::renderFrames(std::shared_ptr<const LoadedScene> scene,
                                const RenderRequest& request, const SequenceOptions& options) {
    m_background.stop();
    m_done = 0.0F;
    m_clock.start();
    m_background.start(
        [this, scene = std::move(scene), request,
         options](const std::stop_token& stop) -> std::function<void()> {
            Scene posed = scene->scene;
            const RunContext run{.stop = stop, .progress = [&](float done) {
                                     m_done = done;
                                     Q_EMIT progressed();
                                 }};
            const SequenceReport report = renderSequence(posed, request, options, run);
            if (stop.stop_requested())
                return {};
            return [this, report, folder = options.pattern.parent_path().string()] {
                for (const std::string& failure : report.failures)
                    Q_EMIT failed(QString::fromStdString(failure));
                Q_EMIT written(report.written, QString::fromStdString(folder));
            };
        },
        [this](const QString& text) { Q_EMIT failed(text); });
}

}  // namespace noctis
