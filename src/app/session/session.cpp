#include "app/session/session.h"

#include "app/look/picture_paint.h"
#include "core/image/error.h"
#include "core/image/safe_write.h"
#include "core/passes/frame_name.h"
#include "core/project/project_file.h"
#include "core/project/render_request.h"
#include "core/scene/import.h"
#include "core/steps/registry.h"

#include <QDir>
#include <QSettings>

#include <algorithm>

namespace noctis {

namespace fs = std::filesystem;

namespace {

constexpr int kAutosaveDelayMs = 3000;
constexpr int kMostRecent = 8;
constexpr int kSceneSettlesMs = 400;

std::string endingOf(const fs::path& path) {
    return QString::fromStdString(path.extension().string()).toLower().toStdString();
}

bool isOneOf(const std::vector<std::string>& endings, const fs::path& path) {
    return std::find(endings.begin(), endings.end(), endingOf(path)) != endings.end();
}

}  // namespace

Session::Session(fs::path dataFolder, QObject* parent)
    : QObject(parent), m_dataFolder(std::move(dataFolder)), m_history(noctis::newProject()),
      m_unsaved(m_dataFolder), m_rules(m_dataFolder / "pass-rules.json") {
    m_autosave.setSingleShot(true);
    m_autosave.setInterval(kAutosaveDelayMs);
    connect(&m_autosave, &QTimer::timeout, this, &Session::keepFrames);
    m_filesSettle.setSingleShot(true);
    m_filesSettle.setInterval(kSceneSettlesMs);
    connect(&m_watcher, &QFileSystemWatcher::fileChanged, this, [this] { m_filesSettle.start(); });
    connect(&m_filesSettle, &QTimer::timeout, this, [this] {
        const auto known = m_writtenAt;
        watchFiles();  // programs that write and rename leave another file in its place
        const auto changed = [&](const fs::path& file) {
            const auto was = known.find(file);
            const auto is = m_writtenAt.find(file);
            return was != known.end() && is != m_writtenAt.end() && was->second != is->second;
        };
        if (changed(project().scene))
            Q_EMIT sceneFileChanged();
        if (std::any_of(m_frame.files.begin(), m_frame.files.end(), changed))
            Q_EMIT passFilesChanged();
    });
}

QString Session::title() const {
    if (!m_file.empty())
        return qstring(m_file.stem().string());
    if (!project().scene.empty())
        return qstring(project().scene.stem().string());
    if (const Pass* picture = m_frame.passes.find(PassKind::Beauty);
        picture != nullptr && !picture->file.empty())
        return qstring(picture->file.stem().string());
    if (!project().passFiles.empty())
        return qstring(project().passFiles.front().stem().string());
    return tr("Untitled");
}

View Session::view() const {
    if (project().view)
        return *project().view;
    if (m_scene && !m_scene->scene.views.empty())
        return m_scene->scene.views.front();
    return {"", assumedCamera()};
}

std::vector<View> Session::views() const {
    std::vector<View> all;
    if (m_scene)
        all = m_scene->scene.views;
    all.insert(all.end(), project().views.begin(), project().views.end());
    return all;
}

RenderRequest Session::renderRequest(const View& of) const {
    RenderRequest request = renderRequestOf(project(), of);
    request.panoramas = m_panoramas;
    return request;
}

void Session::change(const QString& what, const QString& gesture,
                     const std::function<void(Project&)>& edit) {
    const Project before = project();
    Project next = before;
    edit(next);
    if (next == before)
        return;
    m_history.change(std::move(next), what.toStdString(), gesture.toStdString());
    reloadPassesIfNeeded(before);
    followView();
    m_autosave.start();
    Q_EMIT projectChanged();
}

void Session::endGesture() { m_history.endGesture(); }

void Session::undo() {
    const Project before = project();
    m_history.undo();
    reloadPassesIfNeeded(before);
    followView();
    m_autosave.start();
    Q_EMIT projectChanged();
}

void Session::redo() {
    const Project before = project();
    m_history.redo();
    reloadPassesIfNeeded(before);
    followView();
    m_autosave.start();
    Q_EMIT projectChanged();
}

void Session::start(Project project, fs::path file, PassSet passes) {
    const fs::path oldScene = m_history.current().scene;
    m_frameReader.stop();
    leave();
    m_history = History(std::move(project));
    m_file = std::move(file);
    Q_EMIT opened();
    const auto isKept = [this](const std::vector<fs::path>& files) {
        return !files.empty() && m_unsaved.frames().holds(files.front());
    };
    m_frame = {};
    m_frame.passes = std::move(passes);
    m_frame.files = m_history.current().passFiles;
    m_frame.unsaved = isKept(m_frame.files);
    m_shelf.clear();
    for (const auto& [view, files] : m_history.current().viewFiles)
        m_shelf.putFiles(view, files, isKept(files));
    deriveMist();
    if (m_history.current().scene != oldScene || !m_scene) {
        m_scene.reset();
        if (m_history.current().scene.empty())
            m_sceneLoader.stop();
        else
            loadScene(m_history.current().scene);
    }
    Q_EMIT projectChanged();
    Q_EMIT sceneChanged();
    Q_EMIT passesChanged();
    for (const std::string& warning : m_history.current().warnings)
        Q_EMIT told(qstring(warning), true);
    for (const std::string& warning : m_frame.passes.warnings)
        Q_EMIT told(qstring(warning), true);
}

const PassSet* Session::passesOf(const View& of) const {
    if (m_frame.isOf(of))
        return m_frame.passes.empty() ? nullptr : &m_frame.passes;
    const Frame* kept = m_shelf.find(of);
    return kept == nullptr ? nullptr : &kept->passes;
}

WantedFrame Session::wantedFrame(const View& of) const {
    return {of,
            project().width,
            project().height,
            project().passes,
            m_scene ? m_scene->scene.signature : std::string(),
            project().moved,
            cropOf(project())};
}

void Session::followView() {
    const View now = view();
    if (!m_scene || m_frame.passes.view == now.name)
        return;
    if (const auto files = m_shelf.filesToRead(now); !files.empty())
        return readKept(files);
    std::optional<Frame> kept = m_shelf.take(now);
    if (!kept)
        return;
    if (!m_frame.passes.empty())
        m_shelf.put(std::move(m_frame));
    m_frame = std::move(*kept);
    deriveMist();
    Q_EMIT passesChanged();
}

void Session::readKept(const std::vector<fs::path>& files) {
    if (m_frameReader.running())
        return;  // whose end leads here again
    m_frameReader.start(
        [this, files, readings = project().readings](const std::stop_token&) {
            const auto read = std::make_shared<PassSet>(readPasses(files, readings));
            return [this, files, read] {
                m_shelf.putRead(files, std::move(*read));
                followView();
            };
        },
        [this, files](const QString& text) {
            m_shelf.putRead(files, std::nullopt);
            Q_EMIT told(text, true);
            followView();
        });
}

std::optional<Frame> Session::takeAtOnce(const View& of) {
    if (const auto files = m_shelf.filesToRead(of); !files.empty()) {
        try {
            m_shelf.putRead(files, readPasses(files, project().readings));
        } catch (const std::exception& error) {
            m_shelf.putRead(files, std::nullopt);
            Q_EMIT told(QString::fromUtf8(error.what()), true);
        }
    }
    return m_shelf.take(of);
}

void Session::newProject() {
    try {
        start(noctis::newProject(), {}, {});
    } catch (const std::exception& error) {
        Q_EMIT told(QString::fromUtf8(error.what()), true);
    }
}

void Session::open(const std::vector<fs::path>& paths) {
    try {
        std::vector<fs::path> passFiles;
        for (const fs::path& path : paths) {
            if (endingOf(path) == ".noctis" || endingOf(path) == ".noctis-autosave") {
                openProjectFile(path);
                return;
            }
            if (isOneOf(readableSceneEndings(), path)) {
                Project project = noctis::newProject();
                project.scene = fs::absolute(path);
                if (!fs::exists(path))
                    throw Error(ErrorCode::FileAccess,
                                path.string() + ": there is no such file; check the path");
                start(std::move(project), {}, {});
                remember(path);
                return;
            }
            if (!isOneOf(readableImageEndings(), path))
                throw Error(ErrorCode::UnknownName,
                            path.string() +
                                ": is no scene, pass file or project that Noctis knows");
            passFiles.push_back(fs::absolute(path));
        }
        openPassFiles(passFiles);
    } catch (const std::exception& error) {
        Q_EMIT told(QString::fromUtf8(error.what()), true);
    }
}

void Session::openProjectFile(const fs::path& path) {
    Project project = openProject(path, stepCatalogue());
    PassSet passes;
    try {
        passes = readPasses(project.passFiles, project.readings);
    } catch (const Error& error) {
        Q_EMIT told(QString::fromUtf8(error.what()), true);
    }
    start(std::move(project), fs::absolute(path), std::move(passes));
    watchFiles();
    if (endingOf(path) == ".noctis")
        remember(path);
}

bool Session::joinPassFiles(const std::vector<fs::path>& paths) {
    if (m_frame.passes.empty())
        return false;
    if (m_frame.unsaved)
        keepNow();
    Project next = project();
    std::vector<fs::path> all = m_frame.files;
    for (const fs::path& path : paths)
        if (std::find(all.begin(), all.end(), path) == all.end()) {
            all.push_back(path);
            next.passFiles.push_back(path);
        }
    PassSet set = readByRules(all, next.readings);
    const PassSet alone = readPassesWithoutPixels(paths);
    const bool joins = std::any_of(set.passes.begin(), set.passes.end(), [&](const Pass& pass) {
        return std::find(paths.begin(), paths.end(), pass.file) != paths.end();
    });
    const bool sameSize = alone.width == set.width && alone.height == set.height;
    if (!joins || (!sameSize && alone.find(PassKind::Beauty) != nullptr))
        return false;
    m_history.change(std::move(next), tr("Add pass files").toStdString());
    m_frame.passes = std::move(set);
    m_frame.files = m_frame.unsaved ? std::vector<fs::path>() : all;
    m_frame.change = ++m_change;
    m_autosave.start();
    Q_EMIT projectChanged();
    Q_EMIT passesChanged();
    for (const std::string& warning : m_frame.passes.warnings)
        Q_EMIT told(qstring(warning), true);
    return true;
}

void Session::openPassFiles(const std::vector<fs::path>& all) {
    std::vector<fs::path> later;
    const std::vector<fs::path> paths = firstFrames(all, &later);
    if (paths.empty())
        return;
    if (!later.empty())
        Q_EMIT told(tr("%1 is opened, the first of %2 numbered frames; noctis-cli finish --frames "
                       "does all of them.")
                        .arg(qstring(paths.front().filename().string()))
                        .arg(later.size() + paths.size()),
                    false);
    if (!joinPassFiles(paths)) {
        Project next = noctis::newProject();
        PassSet set = readByRules(paths, next.readings);
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
    watchFiles();
    for (const fs::path& path : paths)
        remember(path);
    for (const Pass& pass : m_frame.passes.passes) {
        if (pass.interpretation && !pass.interpretation->reason.empty())
            Q_EMIT told(tr("%1 is read as %2: %3.")
                            .arg(qstring(pass.name), qstring(describe(*pass.interpretation)),
                                 qstring(pass.interpretation->reason)),
                        false);
        for (const std::string& warning : pass.warnings)
            Q_EMIT told(tr("%1: %2").arg(qstring(pass.name), qstring(warning)), true);
    }
}

void Session::loadScene(const fs::path& path) {
    m_sceneLoader.start(
        [this, path](const std::stop_token&) -> std::function<void()> {
            auto loaded = std::make_shared<LoadedScene>();
            loaded->file = path;
            loaded->scene = importScene(path);
            loaded->accelerator = std::make_unique<Accelerator>(loaded->scene);
            return [this, loaded] {
                m_scene = loaded;
                watchFiles();
                followView();
                for (const std::string& warning : loaded->scene.warnings)
                    Q_EMIT told(qstring(warning), true);
                Q_EMIT sceneChanged();
                Q_EMIT projectChanged();
            };
        },
        [this](const QString& text) {
            Q_EMIT told(text, true);
            Q_EMIT sceneChanged();
        });
}

void Session::reloadScene() {
    if (project().scene.empty())
        return;
    loadScene(project().scene);
}

void Session::deriveMist() {
    const PassRequest* mist = passAsked(project(), "mist");
    if (mist != nullptr)
        m_frame.passes.mist = mistSettings(mist->settings);
    const Pass* depth = m_frame.passes.find(PassKind::Depth);
    if (mist == nullptr || depth == nullptr)
        return;
    std::map<std::string, std::string> settings = settingsAsText(*mist, project().passes);
    for (const char* key : {kSceneSetting, kCropSetting})
        if (const auto made = depth->settings.find(key); made != depth->settings.end())
            settings.insert(*made);
    if (const Pass* old = m_frame.passes.find(PassKind::Mist);
        old != nullptr && old->settings == settings)
        return;
    Pass derived = mistFromDepth(*depth, mistSettings(mist->settings));
    derived.settings = std::move(settings);
    m_frame.passes.put(std::move(derived));
    if (m_frame.unsaved) {
        m_frame.files.clear();  // what was kept holds the mist as it was
        m_frame.change = ++m_change;
    }
    Q_EMIT passesChanged();
}

bool Session::save(const fs::path& path) {
    try {
        const fs::path target = fs::absolute(path);
        if (m_frame.unsaved || m_shelf.unsaved() || m_frame.files != project().passFiles) {
            if (m_frame.unsaved)
                saveFrame(m_frame, target);
            const auto viewFiles = m_shelf.save(target);
            change(tr("Save"), {}, [&](Project& p) {
                p.passFiles = m_frame.files;
                p.viewFiles = viewFiles;
            });
        }
        saveProject(project(), target, stepCatalogue());
        watchFiles();  // what was just written is known
        m_frameWriter.stop();
        m_unsaved.forget();
        m_file = target;
        m_history.markSaved();
        remember(target);
        Q_EMIT projectChanged();
        Q_EMIT told(tr("Saved %1").arg(qstring(target.filename().string())), false);
        return true;
    } catch (const std::exception& error) {
        Q_EMIT told(QString::fromUtf8(error.what()), true);
        return false;
    }
}

void Session::takeRendered(const PassSet& rendered, const std::optional<Tile>& crop) {
    if (rendered.view != m_frame.passes.view && !m_frame.passes.empty()) {
        std::optional<Frame> kept = takeAtOnce({rendered.view, rendered.cameraOrAssumed()});
        m_shelf.put(std::move(m_frame));
        m_frame = kept ? std::move(*kept) : Frame{};
    }
    addRendered(m_frame, rendered, crop);
    m_frame.change = ++m_change;
    if (!m_autosave.isActive())
        m_autosave.start();  // also where one view after the other is rendered, and it never rests
    followView();            // which may have changed since the render began
    Q_EMIT passesChanged();
}

QStringList Session::recentFiles() const {
    return QSettings(qstring((m_dataFolder / "noctis.ini").string()), QSettings::IniFormat)
        .value("recent")
        .toStringList();
}

void Session::remember(const fs::path& path) {
    QSettings settings(qstring((m_dataFolder / "noctis.ini").string()), QSettings::IniFormat);
    QStringList recent = settings.value("recent").toStringList();
    const QString text = qstring(fs::absolute(path).string());
    recent.removeAll(text);
    recent.prepend(text);
    settings.setValue("recent", recent.mid(0, kMostRecent));
}

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

void Session::keepFrames() {
    if (m_frameWriter.running())
        return;  // whose end leads here again
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
            Q_EMIT told(tr("Autosave: %1").arg(text), true);
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
    open({project.kept});
    if (m_file != fs::absolute(project.kept))
        return;  // it could not be read, which was told
    m_unsaved.take(project);
    m_file = project.file;
    m_history.markUnsaved();
    m_autosave.start();
    Q_EMIT projectChanged();
}

void Session::autosave() {
    if (!unsaved())
        return;
    try {
        m_unsaved.keep(projectWithFrames(), m_file);
    } catch (const std::exception& error) {
        Q_EMIT told(tr("Autosave: %1").arg(QString::fromUtf8(error.what())), true);
    }
}

}  // namespace noctis
