// Looks: recipes in files, opened, added and kept.
#include "app/controls/file_dialog.h"
#include "app/look/picture_paint.h"
#include "app/picture/recipe_panel.h"
#include "app/session/session.h"
#include "core/image/safe_write.h"
#include "core/recipe/groups.h"
#include "core/recipe/recipe_json.h"
#include "core/steps/registry.h"

#include <QDir>
#include <QMenu>

namespace noctis {

namespace {

/// Looks lie in a folder of that name beside the frame's files, or the scene it is rendered from; it may not be
/// there. Empty without a frame.
QString looksFolder(const Project& project) {
    const std::filesystem::path& beside =
        project.passFiles.empty() ? project.scene : project.passFiles.front();
    return beside.empty() ? QString() : qstring((beside.parent_path() / "looks").string());
}

QFileInfoList looksIn(const QString& folder) {
    if (folder.isEmpty())
        return {};
    return QDir(folder).entryInfoList({QStringLiteral("*.json")}, QDir::Files, QDir::Name);
}

}  // namespace

void RecipePanel::offerLooks(QWidget* below) {
    QMenu menu;
    menu.setToolTipsVisible(true);
    addLooks(menu, LookTaken::Added);
    menu.addSeparator();
    QMenu* instead = menu.addMenu(tr("Instead of this recipe"));
    instead->setToolTipsVisible(true);
    addLooks(*instead, LookTaken::Instead);
    menu.addAction(tr("Keep as a look…"), this, &RecipePanel::keepLook);
    menu.exec(below->mapToGlobal(QPoint(0, below->height())));
}

void RecipePanel::addLooks(QMenu& menu, LookTaken taken) {
    for (const QFileInfo& look : looksIn(looksFolder(m_session.project()))) {
        // A single & would underline the letter after it.
        const QString name =
            look.completeBaseName().replace(QLatin1Char('&'), QStringLiteral("&&"));
        QAction* action = menu.addAction(
            name, this, [this, file = look.filePath(), taken] { openLook(file, taken); });
        action->setToolTip(taken == LookTaken::Added
                               ? tr("Adds %1 to the recipe: a group for each phase, each with an "
                                    "amount.")
                                     .arg(look.fileName())
                               : tr("Replaces the recipe with %1.").arg(look.fileName()));
    }
    menu.addAction(tr("Open a look…"), this, [this, taken] { chooseLook(taken); });
}

void RecipePanel::chooseLook(LookTaken taken) {
    const QString file = askFileToRead(this, tr("Open a look"), looksFolder(m_session.project()),
                                       tr("Looks (*.json)"));
    if (!file.isEmpty())
        openLook(file, taken);
}

void RecipePanel::openLook(const QString& file, LookTaken taken) {
    try {
        const std::filesystem::path path = file.toStdString();
        const Recipe look = recipeFromText(readTextFile(path), stepCatalogue(), path.parent_path());
        Recipe recipe = taken == LookTaken::Added ? m_session.project().recipe : look;
        if (taken == LookTaken::Added)
            addAsGroups(recipe, look, path.stem().string(), stepCatalogue());
        m_session.change(taken == LookTaken::Added ? tr("Add a look") : tr("Open a look"), {},
                         [&](Project& p) { p.recipe = recipe; });
    } catch (const std::exception& error) {
        Q_EMIT m_session.notified(
            QStringLiteral("%1: %2").arg(file, QString::fromUtf8(error.what())), true);
    }
}

void RecipePanel::keepLook() {
    const QDir folder(looksFolder(m_session.project()));
    const QString name = QStringLiteral("look.json");
    const QString file =
        askFileToWrite(this, tr("Keep as a look"),
                       (folder.exists() ? folder : QDir(m_session.folderForFiles())).filePath(name),
                       tr("Looks (*.json)"));
    if (file.isEmpty())
        return;
    try {
        const std::filesystem::path path = file.toStdString();
        std::vector<std::filesystem::path> inputs = inputsOf(m_session.project(), {path});
        inputs.push_back(m_session.file());
        requireNoInput({path}, inputs);
        writeTextFile(
            path, recipeToText(m_session.project().recipe, stepCatalogue(), path.parent_path()));
    } catch (const std::exception& error) {
        Q_EMIT m_session.notified(QString::fromUtf8(error.what()), true);
    }
}

}  // namespace noctis
