// How the session opens scenes, pass files and projects.
#include "app/look/picture_paint.h"
#include "app/session/session.h"
#include "core/image/error.h"
#include "core/passes/frame_name.h"
#include "core/project/project_file.h"
#include "core/scene/import.h"
#include "core/steps/registry.h"

#include <algorithm>

namespace noctis {

namespace fs = std::filesystem;

namespace {

std::string endingOf(const fs::path& path) {
    return QString::fromStdString(path.extension().string()).toLower().toStdString();
}

bool isOneOf(const std::vector<std::string>& endings, const fs::path& path) {
    return std::find(endings.begin(), endings.end(), endingOf(path)) != endings.end();
}

}  // namespace

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
    const PassSet& before = m_frame.passes;
    const bool sameSize = alone.width == before.width && alone.height == before.height;
    // A picture of another size is another frame, unless it is the one these passes lack.
    const bool lacksPicture = !m_frame.unsaved && before.find(PassKind::Beauty) == nullptr;
    if (!joins || (!sameSize && !lacksPicture && alone.find(PassKind::Beauty) != nullptr))
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
        Q_EMIT told(
            tr("%1 is open, the first of %2 numbered frames. Choose another above the passes; "
               "noctis-cli finish --frames works on all.")
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
    for (const Pass& pass : m_frame.passes.passes)
        if (pass.interpretation && !pass.interpretation->reason.empty())
            Q_EMIT told(tr("%1 is read as %2: %3.")
                            .arg(qstring(pass.name), qstring(describe(*pass.interpretation)),
                                 qstring(pass.interpretation->reason)),
                        false);
    for (const QString& text : passWarnings())
        Q_EMIT told(text, true);
}

}  // namespace noctis
