// How the session's frame is read from files, again and differently.
#include "app/look/picture_paint.h"
#include "app/session/session.h"
#include "core/image/error.h"
#include "core/passes/difference.h"
#include "core/passes/frame_name.h"
#include "core/passes/pass_settling.h"

#include <algorithm>

namespace noctis {

namespace fs = std::filesystem;

void Session::watchFiles() {
    if (const QStringList old = m_watcher.files(); !old.isEmpty())
        m_watcher.removePaths(old);
    std::vector<fs::path> files = project().passFiles;
    files.push_back(project().scene);
    m_writtenAt.clear();
    for (const fs::path& file : files) {
        std::error_code ignored;
        if (file.empty() || !fs::exists(file, ignored))
            continue;
        m_writtenAt[file] = fs::last_write_time(file, ignored);
        m_watcher.addPath(qstring(file.string()));
    }
}

PassSet Session::readByRules(const std::vector<fs::path>& files, Readings& readings) const {
    PassSet set = readPasses(files, readings);
    bool ruled = false;
    for (const Pass& pass : set.passes)
        if (const auto rule = m_rules.all().find(pass.key);
            rule != m_rules.all().end() && !saysItself(pass))
            ruled = readings.passes.insert(*rule).second || ruled;
    return ruled ? readPasses(files, readings) : set;
}

void Session::readAnew() {
    for (Pass& fresh : readPasses(project().passFiles, project().readings).passes) {
        const auto old = std::ranges::find_if(m_frame.passes.passes, [&](const Pass& pass) {
            return pass.key == fresh.key && pass.derived == fresh.derived;
        });
        if (old == m_frame.passes.passes.end())
            m_frame.passes.put(std::move(fresh));
        else
            *old = std::move(fresh);
    }
}

void Session::reloadPassesIfNeeded(const Project& before) {
    deriveMist();
    try {
        followFiles(before);
    } catch (const std::exception& error) {  // gone since: the frame stays as it was
        Q_EMIT told(QString::fromUtf8(error.what()), true);
        Q_EMIT passesChanged();
    }
}

QStringList Session::passWarnings() const {
    QStringList texts;
    for (const Pass& pass : m_frame.passes.passes)
        for (const std::string& warning : pass.warnings)
            texts << tr("%1: %2").arg(qstring(pass.name), qstring(warning));
    return texts;
}

void Session::followFiles(const Project& before) {
    const Project& now = project();
    // Other files, by relinking or by undoing it; saving writes the frame's own.
    if (now.passFiles != before.passFiles && now.passFiles != m_frame.files &&
        !now.passFiles.empty() && !m_frame.unsaved) {
        readFrame(now.passFiles, readPasses(now.passFiles, now.readings));
        return;
    }
    if (now.readings == before.readings || m_frame.passes.empty())
        return;
    m_frame.passes.assumedYfovRadians = now.readings.yfovRadians;
    const QStringList warned = passWarnings();
    // What only brings a depth to metres in another way starts from what is in memory.
    bool anew = false;
    for (Pass& pass : m_frame.passes.passes) {
        const PassReading was = readingOf(before.readings.passes, pass.key);
        const PassReading is = readingOf(now.readings.passes, pass.key);
        const bool depthOnly = was.kind == is.kind && was.normal == is.normal &&
                               was.straight == is.straight && was.snapped == is.snapped &&
                               was.evened == is.evened && was.filled == is.filled;
        if (pass.interpretation && !pass.raw.empty() && depthOnly && (is.depth || !was.depth)) {
            PassReading reading = is;
            if (!reading.depth)
                reading.depth = pass.interpretation;
            reinterpret(pass, reading, m_frame.passes.cameraOrAssumed());
        } else if (!(was == is)) {
            anew = true;
        }
    }
    if (anew)
        readAnew();
    // Another depth may have another background.
    std::erase_if(m_frame.passes.passes,
                  [](const Pass& pass) { return pass.derived && pass.kind == PassKind::Coverage; });
    deriveCoverage(m_frame.passes);
    const QStringList warns = passWarnings();
    for (const QString& text : warned)
        if (!warns.contains(text))
            Q_EMIT settled(text);
    Q_EMIT passesChanged();
}

void Session::correctReading(const std::string& pass, const PassReading& reading) {
    // Numbers that are turned are one undo; every other correction is one of its own.
    PassReading before = readingOf(project().readings.passes, pass);
    before.depth = reading.depth;
    const bool numbersAlone = before == reading;
    change(tr("Reading of %1").arg(qstring(pass)),
           numbersAlone ? QStringLiteral("reading.") + qstring(pass) : QString(),
           [&](Project& p) { p.readings.passes[pass] = reading; });
}

void Session::readFrame(const std::vector<fs::path>& files, PassSet passes) {
    m_frame.passes = std::move(passes);
    m_frame.files = files;
    m_frame.unsaved = false;
    m_frame.change = ++m_change;
    watchFiles();
    Q_EMIT passesChanged();
}

void Session::relink(const std::vector<fs::path>& files) {
    try {
        PassSet fresh = readPasses(files, project().readings);
        if (fresh.empty())
            throw Error(ErrorCode::BadFile, "there are no passes in these files");
        const std::vector<std::string> differ = differencesOf(m_frame.passes, fresh);
        Q_EMIT relinking();
        QStringList text{differ.empty() ? tr("Relinked: the same size, passes and ranges.")
                                        : tr("Relinked.")};
        for (const std::string& each : differ)
            text << qstring(each);
        if (files == project().passFiles)
            readFrame(files, std::move(fresh));
        else
            change(tr("Relink"), {}, [&](Project& p) { p.passFiles = files; });
        Q_EMIT relinked(text.join(QLatin1Char(' ')));
    } catch (const std::exception& error) {
        Q_EMIT told(QString::fromUtf8(error.what()), true);
    }
}

void Session::showFrame(int frame) {
    std::vector<fs::path> files;
    for (const fs::path& file : project().passFiles)
        files.push_back(atFrame(file, frame));
    for (const fs::path& file : files) {
        std::error_code ignored;
        if (fs::exists(file, ignored))
            continue;
        Q_EMIT told(tr("Frame %1 is missing: there is no %2.")
                        .arg(frame)
                        .arg(qstring(file.filename().string())),
                    true);
        Q_EMIT passesChanged();
        return;
    }
    change(tr("Frame %1").arg(frame), QStringLiteral("frame"),
           [&](Project& p) { p.passFiles = files; });
}

void Session::setAssumedAngle(float yfovRadians) {
    change(tr("Angle of view"), QStringLiteral("reading.angle"),
           [&](Project& p) { p.readings.yfovRadians = yfovRadians; });
}

}  // namespace noctis
