#include "app/dispatch/going_out.h"

#include "app/look/picture_paint.h"
#include "app/session/session.h"
#include "core/passes/frame_name.h"
#include "core/settings/counted.h"

#include <algorithm>
#include <cctype>
#include <map>

namespace noctis {

namespace fs = std::filesystem;

namespace {

QString text(const std::string& s) { return qstring(s); }

/// Placeholders where that name is free, else a numbered one.
fs::path offered(const Session& session, const QString& pattern, const QString& plain,
                 const QString& ending) {
    const fs::path folder = session.folderForFiles().toStdString();
    const fs::path free = session.freeFile(plain, ending).toStdString();
    return free.stem().string() == plain.toStdString() ? folder / (pattern + ending).toStdString()
                                                       : free;
}

std::string shownView(const Session& session) {
    return session.passes().view.empty() ? session.view().name : session.passes().view;
}

/// Its name without a number at its end: what the views of a turnaround share.
std::string withoutNumber(std::string name) {
    while (!name.empty() && (std::isdigit(static_cast<unsigned char>(name.back())) != 0 ||
                             name.back() == ' ' || name.back() == '/' || name.back() == '-'))
        name.pop_back();
    return name;
}

/// Those of the largest turnaround; of none all of them.
std::vector<std::string> viewsOfSheet(const std::vector<ViewGoingOut>& views) {
    std::map<std::string, std::vector<std::string>> groups;
    for (const ViewGoingOut& view : views)
        groups[withoutNumber(view.name)].push_back(view.name);
    const auto largest =
        std::ranges::max_element(groups, {}, [](const auto& group) { return group.second.size(); });
    if (largest->second.size() > 1) {
        std::vector<std::string>
            sides;  // in the order they were made, not with the shown one first
        sides = largest->second;
        std::ranges::sort(sides, {},
                          [](const std::string& name) { return std::pair(name.size(), name); });
        return sides;
    }
    std::vector<std::string> all;
    for (const ViewGoingOut& view : views)
        all.push_back(view.name);
    return all;
}

}  // namespace

fs::path projectNameOf(const Session& session) {
    if (!session.file().empty())
        return session.file();
    const std::vector<fs::path>& files = session.project().passFiles;
    // Without the number of the frame that happened to be opened.
    const std::string shot =
        !files.empty() && frameOf(files.front()) ? shotOf(files.front()) : std::string();
    return (shot.empty() ? session.title().toStdString() : shot) + ".noctis";
}

std::vector<ViewGoingOut> viewsGoingOut(const Session& session) {
    std::vector<ViewGoingOut> views;
    for (const View& view : session.views()) {
        const PassSet* passes = session.passesOf(view);
        views.push_back(
            {view.name, passes != nullptr && !passes->passes.empty() && passes->view == view.name});
    }
    const std::string shown = shownView(session);
    if (!session.passes().empty() &&
        std::ranges::none_of(views, [&](const ViewGoingOut& v) { return v.name == shown; }))
        views.insert(views.begin(), {shown, true});
    std::ranges::stable_partition(views, [&](const ViewGoingOut& v) { return v.name == shown; });
    return views;
}

std::vector<std::string> passesGoingOut(const Session& session) {
    std::vector<std::string> names;
    for (const Pass& pass : session.passes().passes)
        names.push_back(pass.name);
    if (names.empty())
        for (const PassRequest& request : session.project().passes)
            names.push_back(request.name());
    return names;
}

std::vector<GoingOut> whatGoesOut(const Session& session) {
    std::vector<GoingOut> all;
    const QString title = session.title();
    const fs::path folder = session.folderForFiles().toStdString();
    const QString view = text(shownView(session));
    const bool picture = !session.passes().empty();
    const bool scene = session.scene() != nullptr;
    if (picture) {
        GoingOut finished{QStringLiteral("finished"),
                          QObject::tr("Finished picture"),
                          view,
                          QObject::tr("The picture with all its steps."),
                          {}};
        finished.job.to = offered(session, QStringLiteral("{project} finished"),
                                  QObject::tr("%1 finished").arg(title), QStringLiteral(".png"));
        all.push_back(finished);
    }
    const auto [first, last] = session.frames();
    if (picture && last > first) {
        GoingOut sequence{QStringLiteral("sequence"),
                          QObject::tr("Sequence"),
                          QObject::tr("%1 frames").arg(last - first + 1),
                          QObject::tr("Every frame with all its steps, a file each."),
                          {}};
        sequence.job.frames = FrameRange{first, last};
        sequence.job.to = folder / "{project} frames" / "{project}.####.exr";
        all.push_back(sequence);
    }
    const std::vector<ViewGoingOut> views = viewsGoingOut(session);
    if (views.size() > 1 || last > first) {
        const std::vector<std::string> sides =
            views.size() > 1 ? viewsOfSheet(views) : std::vector<std::string>();
        GoingOut sheet{QStringLiteral("sheet"),
                       QObject::tr("Sheet"),
                       views.size() > 1 ? QObject::tr("%1 views").arg(sides.size())
                                        : QObject::tr("%1 frames").arg(last - first + 1),
                       QObject::tr("Finished pictures of several views, or of frames, in one "
                                   "file, with a list of their places."),
                       {}};
        sheet.job.kind = JobKind::Sheet;
        sheet.job.settings.picture.bits = 8;
        if (views.size() > 1)
            sheet.job.views = sides;
        else
            sheet.job.frames = FrameRange{first, last};
        sheet.job.settings.render = scene ? JobRender::Missing : JobRender::None;
        sheet.job.to = folder / (views.size() > 1 ? "{view} sheet.png" : "{project} sheet.png");
        all.push_back(sheet);
    }
    if (picture || scene) {
        GoingOut passes{QStringLiteral("passes"),
                        QObject::tr("Passes"),
                        QObject::tr("%1 of %2").arg(passesGoingOut(session).size()).arg(view),
                        QObject::tr("Passes as they are, in one file or a file each."),
                        {}};
        passes.job.kind = JobKind::Passes;
        if (!picture && !view.isEmpty())
            passes.job.views = {view.toStdString()};
        passes.job.settings.render = scene ? JobRender::Missing : JobRender::None;
        passes.job.to = offered(session, QStringLiteral("{project} passes"),
                                QObject::tr("%1 passes").arg(title), QStringLiteral(".exr"));
        all.push_back(passes);
    }
    const std::vector<Relief>& reliefs = session.project().reliefs;
    if (!reliefs.empty()) {
        GoingOut relief{QStringLiteral("relief"),
                        QObject::tr("Height maps"),
                        reliefs.size() == 1 ? text(reliefs.front().name)
                                            : QObject::tr("%1 maps").arg(reliefs.size()),
                        QObject::tr("Heights, maps that derive from them, or solids."),
                        {}};
        relief.job.kind = JobKind::Relief;
        relief.job.to = folder / "{project} {pass}.tif";
        all.push_back(relief);
    }
    return all;
}

}  // namespace noctis
