// How the session opens scenes, pass files and projects.
#include "app/look/picture_paint.h"
#include "app/session/demo_folder.h"
#include "app/session/session.h"
#include "core/image/error.h"
#include "core/image/input_file.h"
#include "core/passes/frame_name.h"
#include "core/project/project_file.h"
#include "core/scene/import.h"
#include "core/steps/registry.h"

#include <algorithm>
#include <set>

namespace noctis {

namespace fs = std::filesystem;

namespace {

bool isOneOf(const std::vector<std::string>& endings, const fs::path& path) {
    return std::find(endings.begin(), endings.end(), endingOf(path)) != endings.end();
}

bool isProject(const fs::path& path) {
    return endingOf(path) == ".noctis" || endingOf(path) == ".noctis-autosave";
}

/// Reads files by these readings, and by the rules for passes that have none and whose file is silent;
/// those that count are added.
PassSet readByRules(const std::vector<fs::path>& files, Readings& readings, const ReadingMap& rules,
                    const RunContext& run) {
    PassSet set = readPasses(files, readings, run);
    bool ruled = false;
    for (const Pass& pass : set.passes)
        if (const auto rule = rules.find(pass.key); rule != rules.end() && !saysItself(pass))
            ruled = readings.passes.insert(*rule).second || ruled;
    return ruled ? readPasses(files, readings, run) : set;
}

}  // namespace

void Session::open(const std::vector<fs::path>& paths) {
    try {
        std::vector<fs::path> passFiles;
        for (const fs::path& path : paths) {
            if (isProject(path))
                return openProjectFile(path, [this, path, alone = paths.size() == 1] {
                    if (!alone)
                        warnOpenedAlone(path);
                });
            if (isOneOf(readableSceneEndings(), path)) {
                openScene(path);
                // Pictures beside it are mostly its textures.
                if (std::count_if(paths.begin(), paths.end(), [](const fs::path& each) {
                        return isProject(each) || isOneOf(readableSceneEndings(), each);
                    }) > 1)
                    warnOpenedAlone(path);
                return;
            }
            if (!isOneOf(readableImageEndings(), path))
                throw Error(ErrorCode::UnknownName,
                            path.string() +
                                " isn't a scene, pass file or project that Noctis can open");
            passFiles.push_back(fs::absolute(path));
        }
        openPassFiles(passFiles);
    } catch (const std::exception& error) {
        warn(QString::fromUtf8(error.what()));
    }
}

void Session::warnOpenedAlone(const fs::path& path) {
    warn(tr("%1 is open; the other files are not. Open one project or scene at a time, then "
            "add passes to it.")
             .arg(qstring(path.filename().string())));
}

void Session::openScene(const fs::path& path) {
    if (!fs::exists(path))
        throw Error(ErrorCode::FileAccess, path.string() + ": no such file; check the path");
    m_reader.stop();  // of files that the scene would put aside
    Project project = noctis::newProject();
    project.scene = fs::absolute(path);
    start(std::move(project), {}, {});
    remember(path);
    Q_EMIT loaded();
}

void Session::openProjectFile(const fs::path& path, const std::function<void()>& then) {
    const auto begin = [this, path, then]() -> PassReader::Work {
        std::string text;
        const auto project = std::make_shared<Project>(openProject(path, stepCatalogue(), &text));
        return [this, path, then, project, text](const RunContext& run) -> PassReader::Apply {
            const auto passes = std::make_shared<PassSet>();
            QString failure;
            try {
                const FrameFiles files = frameFilesOf(*project);
                *passes = readPasses(files.at(files.named), project->readings, run);
            } catch (const Error& error) {
                failure = QString::fromUtf8(error.what());
            }
            return [this, path, then, project, text, passes, failure] {
                start(std::move(*project), isExample(path) ? fs::path() : fs::absolute(path),
                      std::move(*passes));
                m_onDisk = text;
                watchFiles();
                if (endingOf(path) == ".noctis")
                    remember(path);
                then();
                if (!failure.isEmpty())
                    warn(failure);
                Q_EMIT loaded();
            };
        };
    };
    m_reader.ask({namesOf({path}), begin, [this](const QString& text) { warn(text); }});
}

PassReader::Work Session::joiningWork(const std::vector<fs::path>& paths, const QString& note,
                                      bool anew) {
    if (m_frame.unsaved)
        keepNow();
    std::vector<fs::path> all = m_frame.files;
    for (const fs::path& path : paths)
        if (std::find(all.begin(), all.end(), path) == all.end())
            all.push_back(path);
    // Of the frame, as it is when reading begins.
    const bool open = !anew && !m_frame.passes.empty();
    const QSize size(m_frame.passes.width, m_frame.passes.height);
    const bool lacksPicture = !m_frame.unsaved && m_frame.passes.find(PassKind::Beauty) == nullptr;
    return [=, this, change = m_frame.change, readings = project().readings,
            rules = m_rules.all()](const RunContext& run) -> PassReader::Apply {
        if (open) {
            const auto how = std::make_shared<Readings>(readings);
            const auto set = std::make_shared<PassSet>(readByRules(all, *how, rules, run));
            const PassSet alone = readPassesWithoutPixels(paths);
            const bool joins =
                std::any_of(set->passes.begin(), set->passes.end(), [&](const Pass& pass) {
                    return std::find(paths.begin(), paths.end(), pass.file) != paths.end();
                });
            // A picture of another size is another frame, unless it is the one these passes lack.
            if (joins && (QSize(alone.width, alone.height) == size || lacksPicture ||
                          alone.find(PassKind::Beauty) == nullptr))
                return [=, this] {
                    if (m_frame.change != change || !(project().readings == readings))
                        return readFiles(paths, note);  // the frame is another by now
                    joinFrame(paths, std::move(*set), *how);
                    noteOpened(paths, note);
                };
        }
        const auto how = std::make_shared<Readings>();
        const auto set = std::make_shared<PassSet>(readByRules(paths, *how, rules, run));
        return [=, this] {
            startWith(paths, std::move(*set), *how);
            noteOpened(paths, note);
        };
    };
}

void Session::joinFrame(const std::vector<fs::path>& paths, PassSet set, const Readings& readings) {
    Project next = project();
    next.readings = readings;
    std::vector<fs::path> all = m_frame.files;
    for (const fs::path& path : paths)
        if (std::find(all.begin(), all.end(), path) == all.end()) {
            all.push_back(path);
            next.passFiles.push_back(path);
        }
    m_history.change(std::move(next), tr("Add pass files").toStdString());
    m_frame.passes = std::move(set);
    m_frame.files = m_frame.unsaved ? std::vector<fs::path>() : all;
    m_frame.change = ++m_change;
    followSequence(false);
    forgetState();
    if (!m_frame.unsaved && m_frame.files != filesNow())
        readAgain();  // they are of another frame than the one that is shown
    m_autosave.start();
    Q_EMIT projectChanged();
    Q_EMIT passesChanged();
    for (const std::string& warning : m_frame.passes.warnings)
        warn(qstring(warning));
}

void Session::startWith(const std::vector<fs::path>& paths, PassSet set, const Readings& readings) {
    Project next = noctis::newProject();
    next.readings = readings;
    next.passFiles = paths;
    next.width = set.width;
    next.height = set.height;
    // What was made for a screen shows as it is.
    if (const Pass* picture = set.find(PassKind::Beauty);
        picture != nullptr &&
        (picture->type == SampleType::Byte || picture->type == SampleType::Short))
        next.viewTransform = ViewTransform::Plain;
    start(std::move(next), {}, std::move(set));
}

void Session::noteOpened(const std::vector<fs::path>& paths, const QString& note) {
    if (!note.isEmpty())
        Q_EMIT notified(note, false);
    watchFiles();
    for (const fs::path& path : paths)
        remember(path);
    for (const Pass& pass : m_frame.passes.passes)
        if (pass.interpretation && !pass.interpretation->reason.empty())
            Q_EMIT notified(tr("%1 is read as %2: %3.")
                                .arg(qstring(pass.name), qstring(describe(*pass.interpretation)),
                                     qstring(pass.interpretation->reason)),
                            false);
    warnOfPasses();
    Q_EMIT loaded();
}

void Session::openPassFiles(const std::vector<fs::path>& all) {
    std::vector<fs::path> later;
    const std::vector<fs::path> paths = firstFrames(all, &later);
    if (paths.empty())
        return;
    const QString note =
        later.empty()
            ? QString()
            : tr("%1 is open, the first of %2 numbered frames. The line of time shows the others; "
                 "noctis-cli finish --frames works on all.")
                  .arg(qstring(paths.front().filename().string()))
                  .arg(later.size() + paths.size());
    if (!askedAboutShot(paths))
        readFiles(paths, note);
}

bool Session::askedAboutShot(const std::vector<fs::path>& paths) {
    std::set<std::string> shots;
    std::set<fs::path> folders;
    for (const fs::path& file : m_frame.files) {
        shots.insert(shotOf(file));
        folders.insert(file.parent_path());
    }
    const auto isOther = [&](const fs::path& path) {
        const std::string shot = shotOf(path);
        const bool like = std::ranges::any_of(shots, [&](const std::string& other) {
            return shot.starts_with(other) || other.starts_with(shot);
        });
        // Names that say nothing of a shot are of the frame they lie beside.
        return shot.empty() || shots.contains({}) ? !folders.contains(path.parent_path()) : !like;
    };
    if (m_frame.files.empty() || !std::ranges::all_of(paths, isOther))
        return false;
    const QString frame = qstring(m_frame.files.front().filename().string());
    const bool newFirst =
        std::ranges::any_of(paths, [&](const fs::path& path) { return !shotOf(path).empty(); }) &&
        !shots.contains({});
    Q_EMIT shotAsked(tr("%1 may be of another shot than %2.").arg(namesOf(paths), frame), paths,
                     newFirst);
    return true;
}

void Session::readFiles(const std::vector<fs::path>& paths, const QString& note, bool anew) {
    m_reader.ask({namesOf(paths),
                  [this, paths, note, anew] { return joiningWork(paths, note, anew); },
                  [this](const QString& text) { warn(text); }});
}

}  // namespace noctis
