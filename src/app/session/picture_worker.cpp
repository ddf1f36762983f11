#include "app/session/picture_worker.h"

#include "app/look/picture_paint.h"
#include "core/image/error.h"
#include "core/steps/registry.h"

#include <algorithm>

namespace noctis {

namespace {

// A moving picture is to take between these many milliseconds, so that it is there before the hand has
// moved on; its scale follows.
constexpr double kTooSlowMs = 16.0;
constexpr double kCouldBeFinerMs = 5.0;
constexpr int kCoarsest = 8;
/// A moving hand gets a picture at least this often, even if it is one movement behind.
constexpr int kLongestWithoutMs = 60;
/// States of passes that nobody else has numbered begin here.
constexpr std::uint64_t kOwnStates = std::uint64_t{1} << 63U;

PlayedPictures::Source sourceOf(const PictureRequest& request, std::uint64_t state) {
    return {request.recipe, request.solo, request.time, state, request.playing};
}

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

void PictureWorker::setPasses(const PassSet& passes, std::uint64_t state) {
    post([&](Job& job) {
        ++m_serial;
        m_state = state != 0 ? state : kOwnStates | m_serial;
        job.passes = passes;
        job.request = m_latest;
    });
}

void PictureWorker::request(const PictureRequest& request) {
    if (request == m_latest)
        return;  // it is there, or being made
    post([&](Job& job) {
        // A hand at rest asks for the same picture in full: what is being made for it remains valid.
        if (!request.sameAs(m_latest))
            ++m_serial;
        job.request = m_latest = request;
    });
}

void PictureWorker::post(const std::function<void(Job&)>& fill) {
    const std::scoped_lock lock(m_mutex);
    if (!m_waiting)
        m_waiting.emplace();
    const quint64 before = m_serial;
    fill(*m_waiting);
    m_waiting->serial = m_serial;
    m_waiting->state = m_state;
    if (!m_waits.isValid() || !m_drawsMoving)
        m_waits.start();  // waiting for a full picture doesn't hold up the hand
    if (!m_drawsMoving || (m_serial != before && !waitsLong()))
        m_inWork.request_stop();
    m_wake.notify_all();
}

bool PictureWorker::waitsLong() const {
    return m_waits.isValid() && m_waits.elapsed() >= kLongestWithoutMs;
}

bool PictureWorker::isPlayed(const PictureRequest& request, std::uint64_t state) const {
    return m_played.has(sourceOf(request, state != 0 ? state : m_state));
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
            m_drawsMoving = job.request.moving;
            m_working = true;
        }
        work(job, evaluator, newer);
    }
}

void PictureWorker::work(const Job& job, Evaluator& evaluator, const std::stop_token& stop) {
    Shown shown;
    try {
        if (job.passes)
            m_newPasses = job.passes;
        if (job.request.playing > 0) {
            shown = playedOf(job, evaluator, stop);
            if (stop.stop_requested())
                return;
        } else if (takePasses(evaluator)) {
            const int factor = job.request.moving ? m_movingFactor : 1;
            QElapsedTimer timer;
            timer.start();
            shown = shownOf(job, evaluator, factor, stop);
            if (job.request.moving)
                adaptScale(static_cast<double>(timer.nsecsElapsed()) / 1e6);
            if (stop.stop_requested())
                return;
        }
    } catch (const std::exception& error) {
        shown.problems = {{QString(), QString::fromUtf8(error.what())}};
    }
    QMetaObject::invokeMethod(
        this,
        [this, serial = job.serial, moving = job.request.moving, shown] {
            deliver(serial, moving, shown);
        },
        Qt::QueuedConnection);
}

bool PictureWorker::takePasses(Evaluator& evaluator) {
    if (m_newPasses)
        evaluator.setPasses(*std::exchange(m_newPasses, std::nullopt));
    return !evaluator.passes().empty();
}

PictureWorker::Shown PictureWorker::playedOf(const Job& job, Evaluator& evaluator,
                                             const std::stop_token& stop) {
    const PictureRequest& request = job.request;
    const PlayedPictures::Source source = sourceOf(request, job.state);
    Shown shown;
    shown.factor = request.playing;
    std::optional<Image> picture = m_played.find(source);
    if (!picture && takePasses(evaluator)) {
        picture = evaluator.evaluate(request.recipe, optionsOf(request, request.playing, shown),
                                     {.stop = stop, .progress = {}});
        if (stop.stop_requested() || picture->empty())
            return shown;
        if (shown.problems.isEmpty())
            m_played.put(source, *picture);
    }
    if (picture)
        shown.picture = viewedOf(*picture, request, shown);
    return shown;
}

QImage PictureWorker::viewedOf(const Image& picture, const PictureRequest& request, Shown& shown) {
    Image over = picture;
    try {
        over = m_grounds.under(picture, request.ground, shown.factor);
    } catch (const Error& error) {
        shown.problems[QString()] = QString::fromUtf8(error.what());
    }
    return toQImage(viewed(over, request.view, request.exposure));
}

EvaluateOptions PictureWorker::optionsOf(const PictureRequest& request, int factor, Shown& shown) {
    EvaluateOptions options;
    options.factor = factor;
    options.time = request.time;
    options.editing = request.editing;
    options.solo = request.solo;
    options.problem = [&shown](const std::string& step, const std::string& text) {
        shown.problems[qstring(step)] = qstring(text);
    };
    options.notice = [&shown](const std::string& step, const std::string& text) {
        QString& all = shown.notices[qstring(step)];
        all += (all.isEmpty() ? QString() : QStringLiteral(" ")) + qstring(text);
    };
    return options;
}

void PictureWorker::adaptScale(double taken) {
    if (taken > kTooSlowMs)
        m_movingFactor = std::min(m_movingFactor + 1, kCoarsest);
    else if (taken < kCouldBeFinerMs)
        m_movingFactor = std::max(m_movingFactor - 1, 1);
}

PictureWorker::Shown PictureWorker::shownOf(const Job& job, Evaluator& evaluator, int factor,
                                            const std::stop_token& stop) {
    Shown shown;
    shown.factor = factor;
    const EvaluateOptions options = optionsOf(job.request, factor, shown);
    const RunContext run{.stop = stop, .progress = {}};
    if (!job.request.where.empty() && job.request.recipe.find(job.request.where) != nullptr)
        shown.mask =
            greyQImage(evaluator.where(job.request.recipe, job.request.where, options, run));
    const Image picture = evaluator.evaluate(job.request.recipe, options, run);
    if (!picture.empty() && !stop.stop_requested())
        shown.picture = viewedOf(picture, job.request, shown);
    return shown;
}

void PictureWorker::deliver(quint64 serial, bool moving, const Shown& shown) {
    bool late = false;
    {
        const std::scoped_lock lock(m_mutex);
        late = serial != m_serial;
    }
    if (late && (!moving || !waitsLong()))
        return;
    m_shownLate += late ? 1 : 0;
    if (late)
        m_waits.restart();
    else
        m_waits.invalidate();
    Q_EMIT stepProblems(shown.problems);
    Q_EMIT stepNotices(shown.notices);
    Q_EMIT whereReady(shown.mask);
    Q_EMIT pictureReady(shown.picture, shown.factor);
}

}  // namespace noctis
