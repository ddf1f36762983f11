// How the session's frame is read from files, again and differently.
#include "app/look/picture_paint.h"
#include "app/session/session.h"
#include "core/image/error.h"
#include "core/passes/difference.h"
#include "core/passes/pass_settling.h"
#include "core/recipe/scale_places.h"
#include "core/steps/registry.h"

#include <algorithm>

namespace noctis {

namespace fs = std::filesystem;

void Session::watchFiles() {
    if (const QStringList old = m_watcher.files(); !old.isEmpty())
        m_watcher.removePaths(old);
    std::vector<fs::path> files = filesNow();
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

QString Session::namesOf(const std::vector<fs::path>& files) {
    if (files.empty())
        return {};
    const QString first = qstring(files.front().filename().string());
    return files.size() == 1
               ? first
               : tr("%1 and %n more", nullptr, static_cast<int>(files.size()) - 1).arg(first);
}

void Session::stopReading() {
    m_reader.stop();
    if (filesNow() != m_frame.files && !m_frame.unsaved && !m_frame.passes.empty())
        warn(tr("Stopped: the picture still shows the previous files. Undo to return to them."));
}

void Session::readAgain() {
    const auto begin = [this]() -> PassReader::Work {
        return [this, files = filesNow(),
                readings = project().readings](const RunContext& run) -> PassReader::Apply {
            const auto fresh = std::make_shared<PassSet>(readPasses(files, readings, run));
            return [this, files, readings, fresh] {
                const bool sameReadings = project().readings == readings;
                if (filesNow() == files && sameReadings)
                    return takeReadAgain(files, std::move(*fresh));
                if (filesNow() != m_frame.files || !sameReadings)
                    readAgain();
            };
        };
    };
    const auto failed = [this](const QString& text) {  // gone since: the frame stays as it was
        warn(text);
        Q_EMIT passesChanged();
    };
    m_reader.ask({namesOf(filesNow()), begin, failed, QStringLiteral("again")});
}

void Session::takeReadAgain(const std::vector<fs::path>& files, PassSet fresh) {
    if (files != m_frame.files && !m_frame.unsaved)
        return readFrame(files, std::move(fresh));
    editPasses([&] {
        for (Pass& pass : fresh.passes) {
            const auto old = std::ranges::find_if(m_frame.passes.passes, [&](const Pass& other) {
                return other.key == pass.key && other.derived == pass.derived;
            });
            if (old == m_frame.passes.passes.end())
                m_frame.passes.put(std::move(pass));
            else
                *old = std::move(pass);
        }
    });
}

void Session::readKept(const std::vector<fs::path>& files, const std::function<void()>& then,
                       const QString& once) {
    const auto begin = [this, files, then]() -> PassReader::Work {
        return [this, files, then,
                readings = project().readings](const RunContext& run) -> PassReader::Apply {
            const auto read = std::make_shared<PassSet>(readPasses(files, readings, run));
            return [this, files, then, read] {
                m_shelf.putRead(files, std::move(*read));
                then();
            };
        };
    };
    const auto failed = [this, files, then](const QString& text) {
        m_shelf.putRead(files, std::nullopt);
        warn(text);
        then();
    };
    m_reader.ask({namesOf(files), begin, failed, once});
}

void Session::editPasses(const std::function<void()>& edit) {
    const QStringList warned = passWarnings();
    edit();
    forgetState();
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

QString Session::warningText(const Pass& pass, const std::string& warning) {
    return tr("%1: %2").arg(qstring(pass.name), qstring(warning));
}

QStringList Session::passWarnings() const {
    QStringList texts;
    for (const Pass& pass : m_frame.passes.passes)
        for (const std::string& warning : pass.warnings)
            texts << warningText(pass, warning);
    return texts;
}

void Session::warnOfPasses() {
    for (const Pass& pass : m_frame.passes.passes)
        for (const std::string& warning : pass.warnings)
            if (const auto repair = pass.key.empty() ? std::nullopt : repairFor(warning))
                Q_EMIT repairOffered(warningText(pass, warning), qstring(pass.key), *repair);
            else
                warn(warningText(pass, warning));
}

void Session::followFiles(const Project& before) {
    deriveMist();
    const Project& now = project();
    const bool others = now.passFiles != before.passFiles;
    if (others || now.sequence != before.sequence || now.readings != before.readings)
        followSequence(others);
    // Other files, by relinking or by undoing it; saving writes the frame's own.
    if (others && filesNow() != m_frame.files && !now.passFiles.empty() && !m_frame.unsaved)
        return readAgain();
    if (now.readings == before.readings || m_frame.passes.empty())
        return;
    bool anew = false;
    editPasses([&] {
        m_frame.passes.assumedYfovRadians = now.readings.yfovRadians;
        // Another conversion of a depth to metres starts from what is in memory.
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
    });
    if (anew)
        readAgain();
}

void Session::correctReading(const std::string& pass, const PassReading& reading) {
    // Numbers that are turned are one undo; every other correction is one by itself.
    PassReading before = readingOf(project().readings.passes, pass);
    before.depth = reading.depth;
    const bool numbersAlone = before == reading;
    change(tr("Reading of %1").arg(qstring(pass)),
           numbersAlone ? QStringLiteral("reading.") + qstring(pass) : QString(),
           [&](Project& p) { p.readings.passes[pass] = reading; });
}

void Session::repair(const std::string& pass, Repair repair) {
    for (const Pass& read : m_frame.passes.passes)
        if (read.key == pass)
            return correctReading(
                pass, withRepair(readingOf(project().readings.passes, pass), repair, read));
}

void Session::readFrame(const std::vector<fs::path>& files, PassSet passes) {
    m_frame.passes = std::move(passes);
    m_frame.files = files;
    m_frame.unsaved = false;
    m_frame.change = ++m_change;
    forgetState();
    watchFiles();
    Q_EMIT passesChanged();
}

void Session::relink(const std::vector<fs::path>& files) {
    const auto begin = [this, files]() -> PassReader::Work {
        return [this, files,
                readings = project().readings](const RunContext& run) -> PassReader::Apply {
            const auto fresh = std::make_shared<PassSet>(readPasses(files, readings, run));
            if (fresh->empty())
                throw Error(ErrorCode::BadFile, "these files hold no passes");
            return [this, files, fresh] { takeRelinked(files, std::move(*fresh)); };
        };
    };
    m_reader.ask({namesOf(files), begin, [this](const QString& text) { warn(text); }});
}

void Session::takeRelinked(const std::vector<fs::path>& files, PassSet fresh) {
    const std::vector<std::string> differ = differencesOf(m_frame.passes, fresh);
    const V2f before(static_cast<float>(m_frame.passes.width),
                     static_cast<float>(m_frame.passes.height));
    const V2f now(static_cast<float>(fresh.width), static_cast<float>(fresh.height));
    const bool scales = before.x > 0.0F && before.y > 0.0F && before != now;
    Q_EMIT relinking();
    QStringList text{differ.empty() ? tr("Relinked: the same size, passes and ranges.")
                                    : tr("Relinked.")};
    for (const std::string& each : differ)
        text << qstring(each);
    const bool same = files == filesNow();
    if (same || !m_frame.unsaved)
        readFrame(files, std::move(fresh));
    if (!same || scales)
        change(tr("Relink"), {}, [&](Project& p) {
            if (!same)
                p.passFiles = files;
            // What was drawn stays on what it was drawn on.
            if (scales)
                scalePlaces(p.recipe, stepCatalogue(), now / before);
        });
    Q_EMIT relinked(text.join(QLatin1Char(' ')));
}

void Session::setAssumedAngle(float yfovRadians) {
    change(tr("Angle of view"), QStringLiteral("reading.angle"),
           [&](Project& p) { p.readings.yfovRadians = yfovRadians; });
}

}  // namespace noctis
