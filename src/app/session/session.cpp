#include "app/session/session.h"

#include "app/look/picture_paint.h"
#include "core/image/error.h"
#include "core/image/safe_write.h"
#include "core/project/project_file.h"
#include "core/project/render_request.h"
#include "core/scene/import.h"
#include "core/steps/registry.h"

#include <QSettings>

#include <algorithm>

namespace noctis {

namespace fs = std::filesystem;

namespace {

constexpr int kAutosaveDelayMs = 3000;
constexpr int kMostRecent = 8;
constexpr int kSceneSettlesMs = 400;

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
        if (changed(project().scene) && !m_sceneLoader.running())  // which checks again itself
            Q_EMIT sceneFileChanged();
        if (std::any_of(m_frame.files.begin(), m_frame.files.end(), changed))
            Q_EMIT passFilesChanged();
    });
    connect(&m_sequence, &SequenceFrames::frameRead, this, [this](int frame) {
        if (isSequence() && frame != m_passesOf && m_sequence.shownAt(m_now) == frame)
            if (const SequenceFrames::Kept* kept = m_sequence.find(frame))
                takeSequenceFrame(frame, *kept);
    });
    connect(&m_sequence, &SequenceFrames::frameDamaged, this,
            [this](int frame, const QString& why) {
                warn(tr("Frame %1 counts as missing. %2").arg(frame).arg(why));
                if (isSequence())
                    showSequenceFrame(1);
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
    followFiles(before);
    followView();
    m_autosave.start();
    Q_EMIT projectChanged();
}

void Session::endGesture() { m_history.endGesture(); }

void Session::undo() {
    const Project before = project();
    m_history.undo();
    followFiles(before);
    followView();
    m_autosave.start();
    Q_EMIT projectChanged();
}

void Session::redo() {
    const Project before = project();
    m_history.redo();
    followFiles(before);
    followView();
    m_autosave.start();
    Q_EMIT projectChanged();
}

void Session::start(Project project, fs::path file, PassSet passes) {
    const fs::path oldScene = m_history.current().scene;
    leave();
    m_history = History(std::move(project));
    m_file = std::move(file);
    Q_EMIT opened();
    const auto isKept = [this](const std::vector<fs::path>& files) {
        return !files.empty() && m_unsaved.frames().holds(files.front());
    };
    m_frame = {};
    m_pointed.reset();
    followSequence(true);
    forgetState();
    setDepthRange(0.0F, 0.0F);
    m_frame.passes = std::move(passes);
    m_frame.files = filesNow();
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
        Q_EMIT notified(qstring(warning), true);
    for (const std::string& warning : m_frame.passes.warnings)
        Q_EMIT notified(qstring(warning), true);
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
        return readKept(
            files, [this] { followView(); }, QStringLiteral("view"));
    std::optional<Frame> kept = m_shelf.take(now);
    if (!kept)
        return;
    if (!m_frame.passes.empty())
        m_shelf.put(std::move(m_frame));
    m_frame = std::move(*kept);
    forgetState();
    deriveMist();
    Q_EMIT passesChanged();
}

void Session::newProject() {
    m_reader.stop();
    try {
        start(noctis::newProject(), {}, {});
    } catch (const std::exception& error) {
        Q_EMIT notified(QString::fromUtf8(error.what()), true);
    }
}

void Session::loadScene(const fs::path& path) {
    m_sceneLoader.start(
        [this, path](const std::stop_token& stop) -> std::function<void()> {
            auto loaded = std::make_shared<LoadedScene>();
            loaded->file = path;
            std::error_code ignored;
            loaded->writtenAt = fs::last_write_time(path, ignored);
            loaded->scene = importScene(path, stop);
            if (stop.stop_requested())
                return [this, path] {
                    Q_EMIT notified(
                        tr("Stopped; %1 wasn't read").arg(qstring(path.filename().string())),
                        false);
                    Q_EMIT sceneChanged();
                };
            loaded->accelerator = std::make_unique<Accelerator>(loaded->scene);
            return [this, loaded] {
                m_scene = loaded;
                watchFiles();
                m_writtenAt[loaded->file] = loaded->writtenAt;
                m_filesSettle.start();  // it may have changed while it was read
                followView();
                for (const std::string& warning : loaded->scene.warnings)
                    Q_EMIT notified(qstring(warning), true);
                Q_EMIT sceneChanged();
                Q_EMIT projectChanged();
            };
        },
        [this](const QString& text) {
            Q_EMIT notified(text, true);
            Q_EMIT sceneChanged();
        });
    Q_EMIT sceneReading();
}

void Session::reloadScene() {
    if (project().scene.empty())
        return;
    loadScene(project().scene);
}

ShownFrame Session::shownFrame() const {
    const PassSet& passes = m_frame.passes;
    return {passes.cameraOrAssumed(), std::max(passes.width, 1), std::max(passes.height, 1),
            m_nearest, m_farthest};
}

void Session::setDepthRange(float nearest, float farthest) {
    if (nearest == m_nearest && farthest == m_farthest)
        return;
    m_nearest = nearest;
    m_farthest = farthest;
    Q_EMIT frameMeasured();
}

std::optional<Session::MistWork> Session::mistWork() const {
    const PassRequest* mist = passAsked(project(), "mist");
    const Pass* depth = m_frame.passes.find(PassKind::Depth);
    if (mist == nullptr || depth == nullptr)
        return std::nullopt;
    MistWork work{*depth, mist->settings, settingsAsText(*mist, project().passes)};
    for (const char* key : {kSceneSetting, kCropSetting})
        if (const auto made = depth->settings.find(key); made != depth->settings.end())
            work.settings.insert(*made);
    const Pass* old = m_frame.passes.find(PassKind::Mist);
    if (old != nullptr && old->settings == work.settings)
        return std::nullopt;
    return work;
}

Pass Session::mistOf(const MistWork& work) {
    Pass mist = mistFromDepth(work.depth, mistSettings(work.mist));
    mist.settings = work.settings;
    return mist;
}

void Session::deriveMist() {
    if (const PassRequest* mist = passAsked(project(), "mist"))
        m_frame.passes.mist = mistSettings(mist->settings);
    std::optional<MistWork> work = mistWork();
    if (!work)
        return m_mist.drop();
    m_mist.ask([this, work = *std::move(work)]() -> Latest::Result {
        return [this, depth = work.depth, mist = mistOf(work)] {
            const Pass* now = m_frame.passes.find(PassKind::Depth);
            if (now != nullptr && now->image.plane(0) == depth.image.plane(0))
                takeMist(mist);
            if (mistWork() && !m_mist.waits())
                deriveMist();
        };
    });
}

void Session::deriveMistNow() {
    m_mist.drop();
    if (const std::optional<MistWork> work = mistWork())
        takeMist(mistOf(*work));
}

void Session::takeMist(Pass mist) {
    m_frame.passes.put(std::move(mist));
    forgetState();
    if (isSequence())
        m_passesState = m_sequence.put(m_passesOf, m_frame.passes);
    if (m_frame.unsaved) {
        m_frame.files.clear();  // what was kept holds the mist as it was
        m_frame.change = ++m_change;
    }
    Q_EMIT passesChanged();
}

bool Session::save(const fs::path& path) {
    const fs::path target = fs::absolute(path);
    std::error_code failed;
    if (target != m_file || !fs::exists(target, failed))
        return saveOver(target);
    try {
        if (readTextFile(target) == m_onDisk)
            return saveOver(target);
    } catch (const Error&) {
        // What can't be read is another file, too.
    }
    Q_EMIT fileIsAnother();
    return false;
}

bool Session::saveOver(const fs::path& path) {
    try {
        const fs::path target = fs::absolute(path);
        requireNoInput({target}, inputsOf(project(), {}));
        deriveMistNow();
        if (m_frame.unsaved || m_shelf.unsaved() || m_frame.files != filesNow()) {
            if (m_frame.unsaved)
                saveFrame(m_frame, target);
            const auto viewFiles = m_shelf.save(target);
            change(tr("Save"), {}, [&](Project& p) {
                p.passFiles = m_frame.files;
                p.viewFiles = viewFiles;
            });
        }
        saveProject(project(), target, stepCatalogue());
        m_onDisk = projectToText(project(), target.parent_path(), stepCatalogue());
        watchFiles();  // what was just written is known
        m_frameWriter.stop();
        m_unsaved.forget();
        m_file = target;
        m_history.markSaved();
        remember(target);
        Q_EMIT projectChanged();
        Q_EMIT notified(tr("Saved %1").arg(qstring(target.filename().string())), false);
        return true;
    } catch (const std::exception& error) {
        Q_EMIT notified(QString::fromUtf8(error.what()), true);
        return false;
    }
}

void Session::takeRendered(const PassSet& rendered, const std::optional<Tile>& crop) {
    if (rendered.view != m_frame.passes.view && !m_frame.passes.empty()) {
        const View of{rendered.view, rendered.cameraOrAssumed()};
        if (const auto files = m_shelf.filesToRead(of); !files.empty())
            return readKept(files, [this, rendered, crop] { takeRendered(rendered, crop); });
        std::optional<Frame> kept = m_shelf.take(of);
        m_shelf.put(std::move(m_frame));
        m_frame = kept ? std::move(*kept) : Frame{};
    }
    addRendered(m_frame, rendered, crop);
    forgetState();
    m_frame.change = ++m_change;
    if (!m_autosave.isActive())
        m_autosave.start();  // also where one view after the other is rendered, and it never rests
    followView();            // which may have changed since the render began
    Q_EMIT passesChanged();
}

QString Session::settingsFile() const { return qstring((m_dataFolder / "noctis.ini").string()); }

QStringList Session::recentFiles() const {
    return QSettings(settingsFile(), QSettings::IniFormat).value("recent").toStringList();
}

void Session::remember(const fs::path& path) {
    QSettings settings(settingsFile(), QSettings::IniFormat);
    QStringList recent = settings.value("recent").toStringList();
    const QString text = qstring(fs::absolute(path).string());
    recent.removeAll(text);
    recent.prepend(text);
    settings.setValue("recent", recent.mid(0, kMostRecent));
}

}  // namespace noctis
