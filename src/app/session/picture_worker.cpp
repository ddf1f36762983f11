#include "app/session/picture_worker.h"

#include "app/look/picture_paint.h"
#include "core/steps/registry.h"

namespace noctis {

namespace {

// A moving picture is to take between these many milliseconds; its scale follows.
constexpr double kTooSlowMs = 34.0;
constexpr double kCouldBeFinerMs = 9.0;
constexpr int kCoarsest = 8;
/// A moving hand gets a picture at least this often, be it a movement behind.
constexpr int kLongestWithoutMs = 60;

}  // namespace

PictureWorker::PictureWorker(QObject* parent) : QObject(parent) {
    m_thread = std::jthread([this](const std::stop_token& stop) { loop(stop); });
}

PictureWorker::~PictureWorker() {
    {
        const std::scoped_lock lock(m_mutex);
        m_inWork.request_stop();
    }
    m_thread.request_stop();
    m_wake.notify_all();
    m_thread.join();
}

void PictureWorker::setPasses(const PassSet& passes) {
    post([&](Job& job) { job.passes = passes; });
}

void PictureWorker::request(const PictureRequest& request) {
    post([&](Job& job) { job.request = request; });
}

void PictureWorker::post(const std::function<void(Job&)>& fill) {
    const std::scoped_lock lock(m_mutex);
    if (!m_waiting)
        m_waiting.emplace();
    fill(*m_waiting);
    m_waiting->serial = ++m_serial;
    if (!m_movingInWork || shownLately())
        m_inWork.request_stop();
    m_wake.notify_all();
}

bool PictureWorker::shownLately() const {
    return m_sinceShown.isValid() && m_sinceShown.elapsed() < kLongestWithoutMs;
}

bool PictureWorker::idle() const {
    const std::scoped_lock lock(m_mutex);
    return !m_waiting && !m_working;
}

void PictureWorker::loop(const std::stop_token& stop) {
    Evaluator evaluator(stepCatalogue());
    while (!stop.stop_requested()) {
        Job job;
        std::stop_token newer;
        {
            std::unique_lock lock(m_mutex);
            m_working = false;
            if (!m_wake.wait(lock, stop, [this] { return m_waiting.has_value(); }))
                return;
            job = *std::exchange(m_waiting, std::nullopt);
            m_inWork = std::stop_source();
            newer = m_inWork.get_token();
            m_movingInWork = job.request.moving;
            m_working = true;
        }
        work(job, evaluator, newer);
    }
}

void PictureWorker::work(const Job& job, Evaluator& evaluator, const std::stop_token& stop) {
    Shown shown;
    try {
        if (job.passes)
            evaluator.setPasses(*job.passes);
        if (!evaluator.passes().empty()) {
            const int factor = job.request.moving ? m_movingFactor : 1;
            QElapsedTimer timer;
            timer.start();
            shown = shownOf(job, evaluator, factor, stop);
            if (stop.stop_requested())
                return;
            const double taken = static_cast<double>(timer.nsecsElapsed()) / 1e6;
            if (job.request.moving && taken > kTooSlowMs && m_movingFactor < kCoarsest)
                ++m_movingFactor;
            else if (job.request.moving && taken < kCouldBeFinerMs && m_movingFactor > 1)
                --m_movingFactor;
        }
    } catch (const std::exception& error) {
        shown = {{}, 1, {QString::fromUtf8(error.what())}};
    }
    QMetaObject::invokeMethod(
        this,
        [this, serial = job.serial, moving = job.request.moving, shown] {
            deliver(serial, moving, shown);
        },
        Qt::QueuedConnection);
}

PictureWorker::Shown PictureWorker::shownOf(const Job& job, Evaluator& evaluator, int factor,
                                            const std::stop_token& stop) const {
    Shown shown;
    shown.factor = factor;
    shown.problems.resize(static_cast<qsizetype>(job.request.recipe.steps.size()));
    EvaluateOptions options;
    options.factor = factor;
    options.editing = job.request.editing;
    options.problem = [&](std::size_t step, const std::string& text) {
        shown.problems[static_cast<qsizetype>(step)] = qstring(text);
    };
    const Image picture =
        evaluator.evaluate(job.request.recipe, options, {.stop = stop, .progress = {}});
    if (!picture.empty() && !stop.stop_requested())
        shown.picture = toQImage(viewed(picture, job.request.view, job.request.exposure));
    return shown;
}

void PictureWorker::deliver(quint64 serial, bool moving, const Shown& shown) {
    bool late = false;
    {
        const std::scoped_lock lock(m_mutex);
        late = serial != m_serial;
    }
    if (late && (!moving || shownLately()))
        return;
    m_shownLate += late ? 1 : 0;
    m_sinceShown.start();
    Q_EMIT stepProblems(shown.problems);
    Q_EMIT pictureReady(shown.picture, shown.factor);
}

}  // namespace noctis
