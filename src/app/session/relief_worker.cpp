#include "app/session/relief_worker.h"

#include "app/look/picture_paint.h"
#include "core/operations/registry.h"
#include "core/passes/statistics.h"
#include "core/relief/upside_down.h"
#include "core/steps/registry.h"

#include <algorithm>
#include <utility>

#include <fmt/format.h>

namespace noctis {

namespace {

/// Inputs kept ready: one a source in the strip.
constexpr std::size_t kKeptInputs = 5;
constexpr int kBins = 160;
/// Cells on the longer side, during a drag.
constexpr int kMovingCells = 512;

/// Another text for another input.
std::string keyOf(const ReliefFrom& from, unsigned serial) {
    std::string key = fmt::format("{}|{}x{}", from.view, from.width, from.height);
    for (const auto& file : from.files) {
        std::error_code ignored;
        const auto when = std::filesystem::last_write_time(file, ignored);
        key += fmt::format("|{}@{}", file.string(), when.time_since_epoch().count());
    }
    if (from.files.empty())
        key += fmt::format("|{}", serial);
    return key;
}

std::vector<float> countsOf(const HeightField& field, const HeightStatistics& statistics) {
    if (!(statistics.range() > 0.0F))
        return {};
    std::vector<float> counts =
        histogramOf(field.heights, 0, kBins, statistics.lowest, statistics.highest, false);
    const float most = std::max(*std::max_element(counts.begin(), counts.end()), 1.0F);
    for (float& count : counts)
        count /= most;
    return counts;
}

}  // namespace

ReliefWorker::ReliefWorker(QObject* parent) : QObject(parent) {
    m_thread = std::jthread([this](const std::stop_token& stop) { loop(stop); });
}

ReliefWorker::~ReliefWorker() {
    {
        const std::scoped_lock lock(m_mutex);
        m_inWork.request_stop();
    }
    m_thread.request_stop();
    m_wake.notify_all();
    m_thread.join();
}

void ReliefWorker::setSurroundings(const PassSet& frame, std::shared_ptr<const LoadedScene> scene,
                                   std::vector<View> views) {
    const std::scoped_lock lock(m_mutex);
    m_around = {frame, std::move(scene), std::move(views), m_around.serial + 1};
    if (m_latest && m_latest->relief.from.files.empty()) {
        m_waiting = m_latest;
        post();
    }
}

void ReliefWorker::request(const ReliefRequest& request) {
    const std::scoped_lock lock(m_mutex);
    if (m_latest && request == *m_latest)
        return;
    m_latest = m_waiting = request;
    post();
}

/// Under the lock. A small map for a hand that moves is finished: a hand that never rests would see none.
void ReliefWorker::post() {
    if (!m_drawsMoving || !m_waiting->moving)
        m_inWork.request_stop();
    m_wake.notify_all();
}

bool ReliefWorker::idle() const {
    const std::scoped_lock lock(m_mutex);
    return !m_waiting && !m_working;
}

void ReliefWorker::loop(const std::stop_token& stop) {
    while (!stop.stop_requested()) {
        Job job;
        std::stop_token newer;
        {
            std::unique_lock lock(m_mutex);
            m_working = false;
            if (!m_wake.wait(lock, stop, [this] { return m_waiting.has_value(); }))
                return;
            job = {*std::exchange(m_waiting, std::nullopt), m_around};
            m_inWork = std::stop_source();
            newer = m_inWork.get_token();
            m_drawsMoving = job.request.moving;
            m_working = true;
        }
        work(job, newer);
    }
}

ReliefEvaluator* ReliefWorker::evaluatorFor(const Job& job, const std::stop_token& stop) {
    const ReliefFrom& from = job.request.relief.from;
    const std::string key = keyOf(from, job.around.serial);
    const auto found = std::find_if(m_kept.begin(), m_kept.end(),
                                    [&](const Kept& kept) { return kept.from == key; });
    if (found != m_kept.end()) {
        std::rotate(found, found + 1, m_kept.end());
        return m_kept.back().evaluator.get();
    }
    QMetaObject::invokeMethod(
        this, [this] { Q_EMIT busy(tr("Reading the map's source…")); }, Qt::QueuedConnection);
    ReliefSurroundings around;
    around.frame = &job.around.frame;
    if (job.around.scene) {
        around.scene = &job.around.scene->scene;
        around.accelerator = job.around.scene->accelerator.get();
    }
    around.views = job.around.views;
    ReliefInput input = gatherReliefInput(from, around, {.stop = stop, .progress = {}});
    auto evaluator = std::make_unique<ReliefEvaluator>(reliefCatalogue(), stepCatalogue());
    evaluator->setInput(std::move(input));
    if (stop.stop_requested())  // half an input is none
        return nullptr;
    m_kept.push_back({key, std::move(evaluator)});
    if (m_kept.size() > kKeptInputs)
        m_kept.erase(m_kept.begin());
    return m_kept.back().evaluator.get();
}

void ReliefWorker::work(const Job& job, const std::stop_token& stop) {
    const Relief& relief = job.request.relief;
    auto shown = std::make_shared<WorkedRelief>();
    shown->request = job.request;
    QString why;
    try {
        ReliefEvaluator* ready = evaluatorFor(job, stop);
        if (ready == nullptr || stop.stop_requested())
            return;
        ReliefEvaluator& evaluator = *ready;
        const RunContext run{.stop = stop, .progress = {}};
        const PassSet& set = evaluator.input().passes;
        const int longer = std::max({set.width, set.height, evaluator.input().stored.width()});
        const int factor =
            job.request.moving ? std::max(1, (longer + kMovingCells - 1) / kMovingCells) : 1;
        HeightField field = evaluator.evaluate(relief, factor, job.request.editing, run);
        if (stop.stop_requested())
            return;
        shown->factor = factor;
        shown->source = qstring(evaluator.input().source);
        shown->frame = frameSizeOf(evaluator.input());
        shown->passes = set;
        shown->report = reportOf(field, SampleType::Short);
        if (const auto agreement = agreementWith(job.around.frame, field))
            if (isUpsideDown(*agreement))
                shown->report.warnings.push_back(upsideDownText(*agreement));
        shown->statistics = heightStatisticsOf(field.heights);
        shown->counts = countsOf(field, shown->statistics);
        shown->map = std::make_shared<const FieldPyramid>(std::move(field));
    } catch (const std::exception& error) {
        why = QString::fromUtf8(error.what());
    }
    const bool late = [&] {
        const std::scoped_lock lock(m_mutex);
        return m_waiting.has_value() && !job.request.moving;
    }();
    if (late)
        return;
    QMetaObject::invokeMethod(
        this,
        [this, shown, why] {
            if (why.isEmpty())
                Q_EMIT worked(shown);
            else
                Q_EMIT failed(qstring(shown->request.relief.id), why);
        },
        Qt::QueuedConnection);
}

}  // namespace noctis
