// How the session keeps what is not saved, for a crash or the next start.
#include "app/look/picture_paint.h"
#include "app/session/demo_folder.h"
#include "app/session/session.h"
#include "core/image/error.h"
#include "core/image/safe_write.h"
#include "core/passes/frame_name.h"
#include "core/project/project_file.h"

#include <QDir>
#include <QFileInfo>

namespace noctis {

namespace fs = std::filesystem;

namespace {

/// What a project's file holds, if it is older than what was kept of it; nothing otherwise.
std::string unchangedSince(const fs::path& kept, const fs::path& file) {
    std::error_code failed;
    const auto keptAt = fs::last_write_time(kept, failed);
    if (failed || fs::last_write_time(file, failed) > keptAt || failed)
        return {};
    try {
        return readTextFile(file);
    } catch (const Error&) {
        return {};
    }
}

}  // namespace

bool Session::unsaved() const {
    return m_history.changedSinceSaved() || m_frame.unsaved || m_shelf.unsaved();
}

Project Session::projectWithFrames() const {
    Project kept = project();
    if (m_frame.unsaved && !m_frame.files.empty())
        kept.passFiles = m_frame.files;
    kept.viewFiles = m_shelf.files();
    return kept;
}

Project Session::projectElsewhere() const {
    Project elsewhere = projectWithFrames();
    if (!passes().view.empty())
        elsewhere.view = View{passes().view, passes().cameraOrAssumed()};
    return elsewhere;
}

Project Session::projectToSend(std::vector<fs::path>& passing) {
    keepNow();
    Project sent = projectElsewhere();
    const auto look = [&](const std::vector<fs::path>& files) {
        for (const fs::path& file : files)
            if (m_unsaved.frames().holds(file))
                passing.push_back(file);
    };
    look(sent.passFiles);
    for (const auto& [view, files] : sent.viewFiles)
        look(files);
    return sent;
}

void Session::keepFrames() {
    if (m_frameWriter.running())
        return;  // which leads here again when it ends
    const Frame* next = m_frame.unsaved && m_frame.files.empty() ? &m_frame : m_shelf.withoutFile();
    if (next == nullptr || next->change == m_notKept)
        return autosave();
    const fs::path file = m_unsaved.frames().fileOf(next->passes.view);
    m_frameWriter.start(
        [this, file, set = next->passes, change = next->change](const std::stop_token&) {
            makeFolder(file.parent_path());
            writePasses(file, set);
            return [this, file, view = set.view, change] {
                Frame* frame = m_frame.passes.view == view ? &m_frame : m_shelf.named(view);
                if (frame != nullptr && frame->change == change && frame->files.empty())
                    frame->files = {file};
                m_shelf.letGo();
                keepFrames();
            };
        },
        [this, change = next->change](const QString& text) {
            m_notKept = change;
            Q_EMIT notified(tr("Autosave: %1").arg(text), true);
            autosave();
        });
}

void Session::keepNow() {
    m_frameWriter.stop();
    const auto keep = [this](Frame& frame) {
        const fs::path file = m_unsaved.frames().fileOf(frame.passes.view);
        makeFolder(file.parent_path());
        writePasses(file, frame.passes);
        frame.files = {file};
    };
    if (m_frame.unsaved && m_frame.files.empty())
        keep(m_frame);
    while (const Frame* next = m_shelf.withoutFile())
        keep(*m_shelf.named(next->passes.view));
}

void Session::keepForNextTime() {
    m_autosave.stop();
    if (!unsaved())
        return m_unsaved.forget();
    keepNow();
    m_unsaved.keep(projectWithFrames(), m_file);
}

void Session::leave() {
    m_autosave.stop();
    if (!unsaved())
        return m_unsaved.forget();
    keepNow();
    const UnsavedProject left = m_unsaved.leave(projectWithFrames(), m_file);
    Q_EMIT leftUnsaved(title(), left);
}

void Session::returnTo(const UnsavedProject& left) {
    const UnsavedProject project = left;  // which may be in the list that is changed
    openProjectFile(project.kept, [this, project] {
        m_unsaved.take(project);
        m_file = project.file;
        m_onDisk = unchangedSince(project.kept, m_file);
        m_history.markUnsaved();
        m_autosave.start();
        Q_EMIT projectChanged();
    });
}

void Session::autosave() {
    if (!unsaved())
        return;
    try {
        m_unsaved.keep(projectWithFrames(), m_file);
    } catch (const std::exception& error) {
        Q_EMIT notified(tr("Autosave: %1").arg(QString::fromUtf8(error.what())), true);
    }
}

QString Session::folderForFiles() const {
    for (const fs::path& file :
         {m_file, project().scene,
          project().passFiles.empty() ? fs::path() : project().passFiles.front()})
        if (!file.empty())
            return isExample(file) ? QDir::homePath() : qstring(file.parent_path().string());
    return QDir::homePath();
}

QString Session::freeFile(const QString& baseName, const QString& ending) const {
    const QDir folder(folderForFiles());
    // A name with a slash would be a folder.
    const QString base = qstring(fileNameOf(baseName.toStdString()));
    QString file = folder.filePath(base + ending);
    for (int i = 2; QFileInfo::exists(file); ++i)
        file = folder.filePath(QStringLiteral("%1 %2%3").arg(base).arg(i).arg(ending));
    return file;
}

fs::path Session::fileNamed(const QString& typed) const {
    const QString text = typed.trimmed();
    const QDir from(text.startsWith(QLatin1String("~/")) ? QDir::homePath() : folderForFiles());
    return from.absoluteFilePath(text.startsWith(QLatin1String("~/")) ? text.mid(2) : text)
        .toStdString();
}

}  // namespace noctis
