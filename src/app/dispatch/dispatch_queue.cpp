#include "app/dispatch/dispatch_queue.h"

#include "app/dispatch/going_out.h"
#include "app/look/folder_text.h"
#include "app/look/picture_paint.h"
#include "app/session/session.h"
#include "core/settings/counted.h"

namespace noctis {

namespace {

QString kindText(JobKind kind) {
    switch (kind) {
    case JobKind::Passes:
        return QObject::tr("passes");
    case JobKind::Finished:
        return QObject::tr("finished");
    case JobKind::Sheet:
        return QObject::tr("sheet");
    case JobKind::Relief:
        return QObject::tr("height maps");
    }
    return {};
}

}  // namespace

DispatchQueue::DispatchQueue(Session& session, const std::filesystem::path& folder, QObject* parent)
    : QObject(parent), m_session(session), m_queue(folder, [this] {
          // Any thread, often: one call waits at a time.
          if (!m_announced.exchange(true))
              QMetaObject::invokeMethod(this, &DispatchQueue::announce, Qt::QueuedConnection);
      }) {
    connect(&session, &Session::jobAsked, this,
            [this](const Job& job, const std::vector<View>& views, bool now) {
                if (!add(job, views, now))
                    return;
                const QString to =
                    now ? qstring(job.to.filename().string()) : folderText(job.to.parent_path());
                Q_EMIT m_session.notified(
                    m_queue.paused()
                        ? tr("Queued for %1; the queue is paused in Dispatch (F5).").arg(to)
                        : tr("Queued for %1; Dispatch (F5) shows how far it is.").arg(to),
                    false);
            });
    for (const QueuedJob& queued : m_queue.jobs())
        m_stages[queued.job.id] = queued.stage;
}

QString DispatchQueue::titleOf(const Job& job) {
    return tr("%1, %2").arg(qstring(job.project.stem().string()), kindText(job.kind));
}

bool DispatchQueue::add(Job job, const std::vector<View>& views, bool first) {
    try {
        std::vector<std::filesystem::path> passing;
        Project project = m_session.projectToSend(passing);
        for (const View& view : views) {
            std::erase_if(project.views, [&](const View& v) { return v.name == view.name; });
            project.views.push_back(view);
        }
        job.id = newJobId();
        job.project = projectNameOf(m_session);
        m_queue.add(std::move(job), std::move(project), passing, first);
        return true;
    } catch (const std::exception& error) {
        Q_EMIT m_session.notified(QString::fromUtf8(error.what()), true);
        return false;
    }
}

void DispatchQueue::announce() {
    m_announced = false;
    for (const QueuedJob& queued : m_queue.jobs()) {
        JobStage& before = m_stages[queued.job.id];
        const JobStage now = queued.stage;
        if (before == JobStage::Runs && now == JobStage::Done)
            Q_EMIT m_session.notified(
                tr("Dispatch: %1 is done, in %2.")
                    .arg(titleOf(queued.job), folderText(queued.job.to.parent_path())),
                false);
        if (before == JobStage::Runs && now == JobStage::Failed)
            Q_EMIT m_session.notified(
                tr("Dispatch: %1 failed. %2")
                    .arg(titleOf(queued.job),
                         qstring(queued.trouble.empty() && !queued.state.failures.empty()
                                     ? queued.state.failures.front().reason
                                     : queued.trouble)),
                true);
        before = now;
    }
    Q_EMIT changed();
}

}  // namespace noctis
