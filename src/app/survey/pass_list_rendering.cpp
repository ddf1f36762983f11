// How the list's passes are rendered, of one view or of several.
#include "app/look/picture_paint.h"
#include "app/session/time_left.h"
#include "app/survey/pass_list.h"
#include "core/dispatch/job.h"

#include <QDir>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

QString timeText(double seconds) {
    return seconds < 0.0 ? QObject::tr("starting") : timeLeftText(seconds);
}

}  // namespace

void PassList::render(bool all) {
    if (m_worker.running())
        return;
    renderView(m_session.view(), all);
}

void PassList::renderAlso(const std::vector<PassName>& passes) {
    std::vector<PassRequest> added;
    for (const PassName& pass : passes)
        if (passAsked(m_session.project(), nameOf(pass)) == nullptr)
            added.push_back(passRequest(pass.kind, pass.subject));
    if (!added.empty())
        m_session.change(tr("Add a pass"), {}, [&](Project& p) {
            p.passes.insert(p.passes.end(), added.begin(), added.end());
        });
    render(false);
}

void PassList::renderViews() {
    if (m_worker.running())
        return;
    m_nextViews = views();
    std::erase_if(m_nextViews, [this](const View& view) {
        const std::vector<PassState> states = statesOf(view);
        return std::all_of(states.begin(), states.end(), [](const PassState& state) {
            return state.kind == PassState::Kind::Current;
        });
    });
    m_viewCount = m_nextViews.size();
    if (m_nextViews.empty())
        return m_session.notified(tr("All passes of all views are current."), false);
    renderNextView();
}

void PassList::forgetViews() {
    m_nextViews.clear();
    m_viewCount = 0;
}

void PassList::renderNextView() {
    while (!m_nextViews.empty() && !m_worker.running()) {
        const View next = m_nextViews.front();
        m_nextViews.erase(m_nextViews.begin());
        renderView(next, false);
    }
    if (!m_worker.running())
        forgetViews();
}

void PassList::renderView(const View& view, bool all) {
    const auto scene = m_session.scene();
    if (!scene)
        return;
    RenderRequest request = m_session.renderRequest(view);
    if (!(view == m_session.view()))
        request.crop.reset();  // drawn for another view
    const std::vector<PassState> states = statesOf(view);
    std::vector<PassRequest> wanted;
    for (std::size_t i = 0; i < states.size(); ++i)
        if (all || states[i].kind != PassState::Kind::Current)
            wanted.push_back(request.passes[i]);
    if (wanted.empty())
        return;  // a view in the same place was rendered before it
    request.passes = std::move(wanted);
    if (!RenderWorker::fitsInMemory(request)) {
        forgetViews();
        Q_EMIT m_session.notified(
            tr("These passes take %1 GB of memory. Render them into a file, or render fewer, or a "
               "smaller frame.")
                .arg(static_cast<double>(bytesOf(request)) / 1e9, 0, 'f', 1),
            true);
        return;
    }
    m_crop = request.crop;
    m_worker.render(scene, request);
}

void PassList::renderInto(const std::filesystem::path& file) {
    Job job;
    job.kind = JobKind::Passes;
    job.views = {m_session.view().name};
    job.settings.render = JobRender::All;
    job.to = file;
    Q_EMIT m_session.jobAsked(job, {m_session.view()}, false);
}

QString PassList::progress() const {
    if (!m_worker.running())
        return {};
    // Cleaning and assembly follow the tracing, and no count covers them.
    return m_worker.done() >= 1.0F
               ? tr("finishing")
               : tr("%1 %, %2")
                     .arg(static_cast<double>(m_worker.done() * 100.0F), 0, 'f', 0)
                     .arg(timeText(m_worker.secondsLeft()));
}

void PassList::showProgress() {
    if (!m_worker.running())
        return;
    m_bar->setValue(static_cast<int>(m_worker.done() * 1000.0F));
    const std::size_t now = m_viewCount - m_nextViews.size();
    const QString which = m_viewCount > 1 ? tr("%1 of %2: ").arg(now).arg(m_viewCount) : QString();
    m_state->setText(which + progress());
}

}  // namespace noctis
