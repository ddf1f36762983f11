#include "app/session/picture_worker.h"

#include "app/look/picture_paint.h"
#include "core/steps/registry.h"

namespace noctis {

namespace {

// A moving picture is to take between these many milliseconds; its scale follows.
constexpr double kTooSlowMs = 34.0;
constexpr double kCouldBeFinerMs = 9.0;
constexpr int kCoarsest = 8;

}  // namespace

PictureWorker::PictureWorker(QObject* parent) : QObject(parent) {
    m_clock.start();
    m_thread = std::jthread([this](const std::stop_token& stop) { loop(stop); });
}

PictureWorker::~PictureWorker() {
    {
        const std::scoped_lock lock(m_mutex);
        m_full.request_stop();
    }
    m_thread.request_stop();
    m_wake.notify_all();
    m_thread.join();
}

void PictureWorker::setPasses(const PassSet& passes) {
    const std::scoped_lock lock(m_mutex);
    if (!m_waiting)
        m_waiting.emplace();
    m_waiting->passes = passes;
    m_waiting->serial = ++m_serial;
    m_waiting->askedAt = m_clock.nsecsElapsed();
    m_full.request_stop();
    m_wake.notify_all();
}

void PictureWorker::request(const PictureRequest& request) {
    const std::scoped_lock lock(m_mutex);
    if (!m_waiting)
        m_waiting.emplace();
    m_waiting->request = request;
    m_waiting->serial = ++m_serial;
    m_waiting->askedAt = m_clock.nsecsElapsed();
    m_full.request_stop();
    m_wake.notify_all();
}

bool PictureWorker::idle() const {
    const std::scoped_lock lock(m_mutex);
    return !m_waiting && !m_working;
}

void PictureWorker::loop(const std::stop_token& stop) {
    Evaluator evaluator(stepCatalogue());
    while (!stop.stop_requested()) {
        Job job;
        std::stop_token full;
        {
            std::unique_lock lock(m_mutex);
            m_working = false;
            if (!m_wake.wait(lock, stop, [this] { return m_waiting.has_value(); }))
                return;
            job = *std::exchange(m_waiting, std::nullopt);
            m_full = std::stop_source();
            full = m_full.get_token();
            m_working = true;
        }
        Q_EMIT busy(true);
        work(job, evaluator, full);
        Q_EMIT busy(false);
    }
}

void PictureWorker::work(const Job& job, Evaluator& evaluator, const std::stop_token& full) {
    if (job.passes)
        evaluator.setPasses(*job.passes);
    if (evaluator.passes().empty()) {
        Q_EMIT pictureReady({}, 1);
        return;
    }
    try {
        if (job.request.moving) {
            QElapsedTimer timer;
            timer.start();
            show(job, evaluator, m_movingFactor, {});
            const double taken = static_cast<double>(timer.nsecsElapsed()) / 1e6;
            m_latencyMs = static_cast<double>(m_clock.nsecsElapsed() - job.askedAt) / 1e6;
            if (taken > kTooSlowMs && m_movingFactor < kCoarsest)
                ++m_movingFactor;
            else if (taken < kCouldBeFinerMs && m_movingFactor > 1)
                --m_movingFactor;
        } else {
            show(job, evaluator, 1, full);
        }
    } catch (const std::exception& error) {
        Q_EMIT stepProblems({QString::fromUtf8(error.what())});
        Q_EMIT pictureReady({}, 1);
    }
}

bool PictureWorker::show(const Job& job, Evaluator& evaluator, int factor,
                         const std::stop_token& stop) {
    QStringList problems;
    problems.resize(static_cast<qsizetype>(job.request.recipe.steps.size()));
    EvaluateOptions options;
    options.factor = factor;
    options.editing = job.request.editing;
    options.problem = [&](std::size_t step, const std::string& text) {
        problems[static_cast<qsizetype>(step)] = qstring(text);
    };
    const Image picture =
        evaluator.evaluate(job.request.recipe, options, {.stop = stop, .progress = {}});
    if (picture.empty() || stop.stop_requested())
        return false;
    const QImage shown = toQImage(viewed(picture, job.request.view, job.request.exposure));
    Q_EMIT stepProblems(problems);
    Q_EMIT pictureReady(shown, factor);
    return true;
}

}  // namespace noctis
