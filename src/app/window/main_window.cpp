#include "app/window/main_window.h"

#include "app/controls/undo_keys.h"
#include "app/look/picture_paint.h"
#include "app/picture/picture_room.h"
#include "app/picture/picture_view.h"
#include "app/picture/recipe_panel.h"
#include "app/survey/pass_list.h"
#include "app/survey/survey_room.h"
#include "app/survey/trace_view.h"
#include "app/window/command_finder.h"
#include "app/window/note_bar.h"
#include "app/window/top_bar.h"
#include "core/image/image_file.h"
#include "core/scene/import.h"
#include "core/steps/registry.h"

#include <QApplication>
#include <QDateTime>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QKeyEvent>
#include <QLineEdit>
#include <QLocale>
#include <QMenu>
#include <QMimeData>
#include <QSpinBox>
#include <QStackedWidget>
#include <QVBoxLayout>

#include <utility>

namespace noctis {

namespace fs = std::filesystem;

namespace {

QString openFilter() {
    QStringList patterns{QStringLiteral("*.noctis")};
    for (const std::string& ending : readableSceneEndings())
        patterns << QStringLiteral("*") + qstring(ending);
    for (const std::string& ending : readableImageEndings())
        patterns << QStringLiteral("*") + qstring(ending);
    return QObject::tr("Projects, scenes and pass files (%1)").arg(patterns.join(' '));
}

bool typesText(const QWidget* widget) {
    return qobject_cast<const QLineEdit*>(widget) != nullptr ||
           qobject_cast<const QAbstractSpinBox*>(widget) != nullptr;
}

}  // namespace

MainWindow::MainWindow(fs::path dataFolder, QWidget* parent)
    : QMainWindow(parent), m_session(std::move(dataFolder)) {
    setWindowTitle(QStringLiteral("Noctis"));
    resize(1280, 800);
    setMinimumSize(960, 600);
    setAcceptDrops(true);
    qApp->installEventFilter(new UndoKeys(this));
    m_menu = new QMenu(this);
    m_recent = new QMenu(tr("Open recent"), this);
    m_top = new TopBar(m_session, m_menu);
    m_survey = new SurveyRoom(m_session);
    m_picture = new PictureRoom(m_session);
    m_notes = new NoteBar;
    m_rooms = new QStackedWidget;
    m_rooms->addWidget(m_survey);
    m_rooms->addWidget(m_picture);
    auto* body = new QWidget;
    auto* layout = new QVBoxLayout(body);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(m_top);
    layout->addWidget(m_rooms, 1);
    layout->addWidget(m_notes);
    setCentralWidget(body);
    buildCommands();
    m_finder = new CommandFinder(m_commands, body);
    connect(m_top, &TopBar::roomChosen, this, &MainWindow::showRoom);
    connect(&m_session, &Session::told, m_notes, &NoteBar::tell);
    connect(&m_session, &Session::sceneFileChanged, this, [this] {
        m_notes->offer(
            tr("The scene's file has changed. Views and settings stay if it is read "
               "anew."),
            tr("Read it anew"), [this] { m_session.reloadScene(); }, [] {});
    });
    connect(&m_session, &Session::leftUnsaved, this,
            [this](const QString& title, const UnsavedProject& left) {
                m_notes->offer(tr("%1 was not saved. What it was is kept.").arg(title),
                               tr("Return to it"), [this, left] { returnTo(left); }, {});
            });
    connect(&m_session, &Session::projectChanged, this, &MainWindow::refresh);
    qApp->installEventFilter(this);
    showRoom(kPicture);
    refresh();
}

MainWindow::~MainWindow() {
    qApp->removeEventFilter(this);
    m_survey->renderer().stop();
    // The rooms use the session, so they go before it.
    delete takeCentralWidget();
}

QAction* MainWindow::command(const QString& text, const QKeySequence& keys,
                             const std::function<void()>& run) {
    auto* action = new QAction(text, this);
    action->setShortcut(keys);
    connect(action, &QAction::triggered, this, run);
    addAction(action);
    m_commands << action;
    return action;
}

void MainWindow::buildCommands() {
    m_menu->addAction(command(tr("New"), QKeySequence::New, [this] { m_session.newProject(); }));
    m_menu->addAction(command(tr("Open…"), QKeySequence::Open, [this] { chooseOpen(); }));
    m_menu->addMenu(m_recent);
    m_menu->addAction(command(tr("Open the demo"), {}, [this] { openDemo(); }));
    m_menu->addSeparator();
    m_menu->addAction(command(tr("Save"), QKeySequence::Save, [this] { save(false); }));
    m_menu->addAction(command(tr("Save as…"), QKeySequence::SaveAs, [this] { save(true); }));
    m_menu->addAction(
        command(tr("Export the picture…"), QKeySequence(Qt::CTRL | Qt::Key_E), [this] {
            showRoom(kPicture);
            m_picture->showExport();
        }));
    m_menu->addSeparator();
    m_undo = command(tr("Undo"), QKeySequence::Undo, [this] { m_session.undo(); });
    m_redo = command(tr("Redo"), QKeySequence::Redo, [this] { m_session.redo(); });
    m_redo->setShortcuts(
        {QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_Z), QKeySequence(Qt::CTRL | Qt::Key_Y)});
    m_menu->addAction(m_undo);
    m_menu->addAction(m_redo);
    m_menu->addSeparator();
    command(tr("Go to Survey"), QKeySequence(Qt::Key_F2), [this] { showRoom(kSurvey); });
    command(tr("Go to Picture"), QKeySequence(Qt::Key_F3), [this] { showRoom(kPicture); });
    command(tr("Render what is stale"), QKeySequence(Qt::Key_F6), [this] {
        showRoom(kSurvey);
        m_survey->passes().render(false);
    });
    command(tr("Stop rendering"), {}, [this] { m_survey->renderer().stop(); });
    for (const StepType& type : stepCatalogue().types())
        command(tr("Add step: %1").arg(qstring(type.label)), {}, [this, id = type.id] {
            showRoom(kPicture);
            m_picture->recipe().addStep(id);
        });
    command(tr("Picture as it is now"), {}, [this] { m_picture->setCompare(0); });
    command(tr("Compare with a wipe"), QKeySequence(Qt::Key_F7),
            [this] { m_picture->setCompare(1); });
    command(tr("Compare side by side"), QKeySequence(Qt::Key_F8),
            [this] { m_picture->setCompare(2); });
    command(tr("Fit the picture"), QKeySequence(Qt::CTRL | Qt::Key_0),
            [this] { inSurvey() ? m_survey->view().fit() : m_picture->view().fit(); });
    command(tr("Picture at 100 %"), QKeySequence(Qt::CTRL | Qt::Key_1), [this] {
        const auto whole = [](auto& view) { view.setZoom(1.0, QRectF(view.rect()).center()); };
        inSurvey() ? whole(m_survey->view()) : whole(m_picture->view());
    });
    command(tr("Full screen"), QKeySequence::FullScreen,
            [this] { isFullScreen() ? showNormal() : showFullScreen(); });
    m_menu->addAction(command(tr("Help: find a command"), QKeySequence(Qt::Key_F1),
                              [this] { m_finder->present(); }));
    m_menu->addAction(command(tr("Quit"), QKeySequence::Quit, [this] { close(); }));
    connect(m_recent, &QMenu::aboutToShow, this, [this] {
        m_recent->clear();
        for (const QString& file : m_session.recentFiles())
            m_recent->addAction(file, this, [this, file] { open({file.toStdString()}); });
        if (m_recent->isEmpty())
            m_recent->addAction(tr("Nothing yet"))->setEnabled(false);
    });
}

void MainWindow::refresh() {
    m_closesAnyway = false;  // it was said of what was unsaved then
    m_undo->setEnabled(m_session.history().canUndo());
    m_redo->setEnabled(m_session.history().canRedo());
    m_undo->setText(m_session.history().canUndo()
                        ? tr("Undo: %1").arg(qstring(m_session.history().undoText()))
                        : tr("Undo"));
    m_redo->setText(m_session.history().canRedo()
                        ? tr("Redo: %1").arg(qstring(m_session.history().redoText()))
                        : tr("Redo"));
    setWindowTitle(tr("%1 – Noctis").arg(m_session.title()));
}

bool MainWindow::inSurvey() const { return m_rooms->currentIndex() == kSurvey; }

void MainWindow::showRoom(int room) {
    m_rooms->setCurrentIndex(room);
    m_top->setRoom(room, room == kSurvey);
}

void MainWindow::open(const std::vector<fs::path>& paths) {
    m_session.open(paths);
    if (!m_session.passes().empty())
        showRoom(kPicture);
    else if (!m_session.project().scene.empty())
        showRoom(kSurvey);
}

void MainWindow::openDemo() { open({fs::path(NOCTIS_DEMO_FOLDER) / "saltern_quay.noctis"}); }

void MainWindow::chooseOpen() {
    const QStringList files = QFileDialog::getOpenFileNames(this, tr("Open"), {}, openFilter());
    std::vector<fs::path> paths;
    for (const QString& file : files)
        paths.emplace_back(file.toStdString());
    if (!paths.empty())
        open(paths);
}

void MainWindow::save(bool as) {
    fs::path path = m_session.file();
    if (path.empty() || as) {
        const QString suggested =
            path.empty() ? m_session.title() + QStringLiteral(".noctis") : qstring(path.string());
        const QString file = QFileDialog::getSaveFileName(this, tr("Save the project"), suggested,
                                                          tr("Projects (*.noctis)"));
        if (file.isEmpty())
            return;
        path = file.toStdString();
        if (path.extension().empty())
            path += ".noctis";
    }
    m_session.save(path);
}

void MainWindow::offerRecovery() {
    for (const UnsavedProject& left : m_session.earlier()) {
        const QString when = QLocale().toString(
            QFileInfo(qstring(left.kept.string())).lastModified(), QLocale::ShortFormat);
        m_notes->offer(
            left.file.empty() ? tr("What was not saved is kept, as it was on %1.").arg(when)
                              : tr("%1 was not saved. It is kept as it was on %2.")
                                    .arg(qstring(left.file.stem().string()), when),
            tr("Open it"), [this, left] { returnTo(left); },
            [this, left] { m_session.decline(left); });
    }
}

void MainWindow::returnTo(const UnsavedProject& left) {
    m_session.returnTo(left);
    showRoom(m_session.passes().empty() ? kSurvey : kPicture);
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls())
        event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
    std::vector<fs::path> paths;
    for (const QUrl& url : event->mimeData()->urls())
        if (url.isLocalFile())
            paths.emplace_back(url.toLocalFile().toStdString());
    event->acceptProposedAction();
    if (!paths.empty())
        open(paths);
}

void MainWindow::closeEvent(QCloseEvent* event) {
    try {
        m_session.keepForNextTime();
    } catch (const std::exception& error) {
        if (std::exchange(m_closesAnyway, true))
            return event->accept();
        m_session.told(
            tr("What is not saved could not be kept. Save it, or close again to let it go. (%1)")
                .arg(QString::fromUtf8(error.what())),
            true);
        return event->ignore();
    }
    event->accept();
}

bool MainWindow::eventFilter(QObject* watched, QEvent* event) {
    const bool press = event->type() == QEvent::KeyPress;
    if ((press || event->type() == QEvent::KeyRelease) && watched->isWidgetType()) {
        auto* key = static_cast<QKeyEvent*>(event);
        if (key->key() == Qt::Key_B && key->modifiers() == Qt::NoModifier &&
            !typesText(QApplication::focusWidget()) && m_rooms->currentIndex() == kPicture) {
            if (!key->isAutoRepeat())
                m_picture->holdBefore(press);
            return true;
        }
    }
    return QMainWindow::eventFilter(watched, event);
}

}  // namespace noctis
