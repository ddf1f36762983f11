#include "app/window/main_window.h"

#include "app/controls/file_dialog.h"
#include "app/controls/undo_keys.h"
#include "app/dispatch/dispatch_queue.h"
#include "app/dispatch/dispatch_room.h"
#include "app/look/picture_paint.h"
#include "app/look/tab_order.h"
#include "app/picture/picture_room.h"
#include "app/relief/relief_room.h"
#include "app/session/demo_folder.h"
#include "app/session/repair_label.h"
#include "app/session/time_left.h"
#include "app/survey/pass_list.h"
#include "app/survey/survey_room.h"
#include "app/window/command_finder.h"
#include "app/window/note_bar.h"
#include "app/window/top_bar.h"
#include "core/image/image_file.h"
#include "core/scene/import.h"

#include <QApplication>
#include <QDateTime>
#include <QDir>
#include <QDragEnterEvent>
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
    : QMainWindow(parent), m_session(dataFolder),
      m_queue(std::make_unique<DispatchQueue>(m_session, dataFolder / "dispatch")) {
    setWindowTitle(QStringLiteral("Noctis"));
    resize(1280, 800);
    setMinimumSize(960, 600);
    setAcceptDrops(true);
    qApp->installEventFilter(new UndoKeys(this));
    m_menu = new QMenu(this);
    m_recent = new QMenu(tr("Open recent"), this);
    m_rooms = new QStackedWidget;
    buildRooms(*m_rooms);
    m_top = new TopBar(m_session, m_menu, m_allRooms);
    auto* body = new QWidget;
    auto* layout = new QVBoxLayout(body);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(m_top);
    layout->addWidget(m_rooms, 1);
    m_notes = new NoteBar(body);
    setCentralWidget(body);
    buildCommands();
    m_finder = new CommandFinder(m_commands, body);
    connect(m_top, &TopBar::roomChosen, this, [this](Room* room) { showRoom(*room); });
    connect(&m_session, &Session::notified, m_notes, &NoteBar::add);
    connect(&m_session, &Session::repairOffered, this,
            [this](const QString& text, const QString& pass, Repair repair) {
                m_notes->warn(text, repairLabel(repair), [this, pass, repair] {
                    m_session.repair(pass.toStdString(), repair);
                });
            });
    connect(&m_session, &Session::settled, m_notes, &NoteBar::takeBack);
    connect(&m_session, &Session::fileIsAnother, this, &MainWindow::askAboutFile);
    connect(&m_session, &Session::sceneFileChanged, this, [this] {
        m_notes->offer(
            tr("The scene's file has changed. Views and settings stay if it is read "
               "again."),
            tr("Read it again"), [this] { m_session.reloadScene(); }, [] {});
    });
    connect(&m_session, &Session::passFilesChanged, this, [this] {
        m_notes->offer(
            tr("The pass files have changed. Your steps stay if they are read again."),
            tr("Read them again"), [this] { m_session.relink(m_session.filesNow()); }, [] {});
    });
    connect(&m_session, &Session::relinked, this, [this](const QString& differs) {
        m_notes->mention(differs, tr("Compare with the previous one"), [this] {
            showRoom(*m_picture);
            m_picture->compareFormer();
        });
    });
    connect(&m_session, &Session::shotAsked, this,
            [this](const QString& text, const std::vector<fs::path>& files, bool newFirst) {
                std::vector<NoteAction> actions{
                    {tr("Open as new"), [this, files] { m_session.openAsNew(files); }},
                    {tr("Add to this frame"), [this, files] { m_session.addToFrame(files); }}};
                if (!newFirst)
                    std::swap(actions[0], actions[1]);
                m_notes->ask(text, actions);
            });
    connect(&m_session, &Session::leftUnsaved, this,
            [this](const QString& title, const UnsavedProject& left) {
                m_notes->offer(tr("%1 was not saved; its changes were kept.").arg(title),
                               tr("Return to it"), [this, left] { returnTo(left); }, {});
            });
    connect(&m_session, &Session::loaded, this, &MainWindow::showRoomOfContent);
    connect(&m_session.reader(), &PassReader::progressed, this, &MainWindow::showReading);
    connect(&m_session.reader(), &PassReader::finished, this, &MainWindow::showReading);
    connect(&m_session, &Session::sceneReading, this, &MainWindow::showReading);
    connect(&m_session, &Session::sceneChanged, this, &MainWindow::showReading);
    connect(&m_session, &Session::projectChanged, this, &MainWindow::refresh);
    qApp->installEventFilter(this);
    showRoom(*m_picture);
    refresh();
}

void MainWindow::buildRooms(QStackedWidget& stack) {
    m_survey = new SurveyRoom(m_session);
    m_picture = new PictureRoom(m_session);
    m_relief = new ReliefRoom(m_session);
    m_dispatch = new DispatchRoom(m_session, *m_queue);
    m_allRooms = {m_survey, m_picture, m_relief, m_dispatch};
    for (Room* room : m_allRooms)
        stack.addWidget(room);
    // Picture says what is stale; Survey renders it.
    RenderWorker& renderer = m_survey->renderer();
    connect(m_picture, &PictureRoom::renderAsked, &m_survey->passes(), &PassList::renderAlso);
    connect(m_picture, &PictureRoom::stopRenderAsked, &renderer, &RenderWorker::stop);
    connect(m_picture, &PictureRoom::exportPassAsked, this, [this](const QString& pass) {
        showRoom(*m_dispatch);
        m_dispatch->choosePass(pass);
    });
    const auto tell = [this] {
        const QString now = m_survey->passes().progress();
        m_picture->setRendering(now.isEmpty() ? now : tr("Rendering: %1").arg(now));
    };
    for (const auto change :
         {&RenderWorker::started, &RenderWorker::progressed, &RenderWorker::stopped})
        connect(&renderer, change, this, tell);
    connect(&renderer, &RenderWorker::finished, this, tell);
    connect(&renderer, &RenderWorker::failed, this, tell);
}

void MainWindow::buildRoomCommands() {
    // The keys from F2 on open the rooms in their order.
    for (std::size_t i = 0; i < m_allRooms.size(); ++i) {
        Room* room = m_allRooms[i];
        command(tr("Go to %1").arg(room->title()),
                QKeySequence(static_cast<Qt::Key>(Qt::Key_F2 + static_cast<int>(i))),
                [this, room] { showRoom(*room); });
    }
    for (Room* room : m_allRooms)
        for (const RoomCommand& each : room->commands())
            if (QAction* action = command(each.text, each.keys,
                                          [this, room, run = each.run] {
                                              showRoom(*room);
                                              run();
                                          });
                each.inMenu)
                m_menu->addAction(action);
}

MainWindow::~MainWindow() {
    qApp->removeEventFilter(this);
    m_survey->renderer().stop();
    // The rooms use the session and the queue, so they go before them.
    delete takeCentralWidget();
    m_queue.reset();
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
    m_menu->addAction(command(tr("Save as…"), QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_S),
                              [this] { save(true); }));
    buildRoomCommands();
    m_menu->addSeparator();
    m_undo = command(tr("Undo"), QKeySequence::Undo, [this] { m_session.undo(); });
    m_redo = command(tr("Redo"), QKeySequence::Redo, [this] { m_session.redo(); });
    m_redo->setShortcuts(
        {QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_Z), QKeySequence(Qt::CTRL | Qt::Key_Y)});
    m_menu->addAction(m_undo);
    m_menu->addAction(m_redo);
    m_menu->addSeparator();
    command(tr("Fit the picture"), QKeySequence(Qt::CTRL | Qt::Key_0),
            [this] { m_shown->fitPicture(); });
    command(tr("Picture at 100 %"), QKeySequence(Qt::CTRL | Qt::Key_1),
            [this] { m_shown->showWholePixels(); });
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
    m_closesAnyway = false;  // it was about what was unsaved then
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

void MainWindow::showRoom(Room& room) {
    if (m_shown == &room)
        return;
    if (m_shown != nullptr)
        m_shown->leave();
    m_shown = &room;
    m_rooms->setCurrentWidget(&room);
    m_top->setRoom(room);
    m_notes->setFoot(room.foot());
    room.enter();
}

void MainWindow::showRoomOfContent() {
    if (!m_session.passes().empty())
        showRoom(*m_picture);
    else if (!m_session.project().scene.empty())
        showRoom(*m_survey);
}

void MainWindow::open(const std::vector<fs::path>& paths) { m_session.open(paths); }

void MainWindow::showReading() {
    const PassReader& reader = m_session.reader();
    if (reader.what().isEmpty()) {
        const bool scene = m_session.loadingScene();
        m_notes->work(
            scene ? tr("Reading %1").arg(qstring(m_session.project().scene.filename().string()))
                  : QString(),
            [this] { m_session.stopReadingScene(); });
        return;
    }
    QString text = tr("Reading %1").arg(reader.what());
    if (reader.done() > 0.0F)
        text += tr(": %1 %").arg(static_cast<double>(reader.done() * 100.0F), 0, 'f', 0);
    if (const QString left = timeLeftText(reader.secondsLeft()); !left.isEmpty())
        text += QStringLiteral(", ") + left;
    m_notes->work(text, [this] { m_session.stopReading(); });
}

void MainWindow::openDemo() { open({demoFolder() / "saltern_quay.noctis"}); }

void MainWindow::chooseOpen() {
    const QStringList files =
        askFilesToRead(this, tr("Open"), m_session.folderForFiles(), openFilter());
    std::vector<fs::path> paths;
    for (const QString& file : files)
        paths.emplace_back(file.toStdString());
    if (!paths.empty())
        open(paths);
}

void MainWindow::save(bool as) {
    fs::path path = m_session.file();
    if (path.empty() || as) {
        const QString suggested = path.empty()
                                      ? QDir(m_session.folderForFiles())
                                            .filePath(m_session.title() + QStringLiteral(".noctis"))
                                      : qstring(path.string());
        const QString file =
            askFileToWrite(this, tr("Save the project"), suggested, tr("Projects (*.noctis)"));
        if (file.isEmpty())
            return;
        path = file.toStdString();
    }
    m_session.save(path);
}

void MainWindow::askAboutFile() {
    const fs::path file = m_session.file();
    const QString text = tr("%1 was changed elsewhere meanwhile. Your changes aren't saved yet.")
                             .arg(qstring(file.filename().string()));
    m_notes->takeBack(text);  // asked again, it is asked once
    m_notes->ask(text, {{tr("Save mine as…"), [this] { save(true); }},
                        {tr("Open theirs"), [this, file] { open({file}); }},
                        {tr("Replace theirs"), [this, file] { m_session.saveOver(file); }}});
}

void MainWindow::offerRecovery() {
    for (const UnsavedProject& left : m_session.earlier()) {
        const QString when = QLocale::system().toString(
            QFileInfo(qstring(left.kept.string())).lastModified(), QLocale::ShortFormat);
        m_notes->offer(
            left.file.empty() ? tr("Unsaved changes from %1 were kept.").arg(when)
                              : tr("%1 has unsaved changes from %2.")
                                    .arg(qstring(left.file.stem().string()), when),
            tr("Open them"), [this, left] { returnTo(left); },
            [this, left] { m_session.decline(left); });
    }
}

void MainWindow::returnTo(const UnsavedProject& left) { m_session.returnTo(left); }

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

bool MainWindow::focusNextPrevChild(bool next) {
    QWidget* const stop = nextStop(*this, focusWidget(), next);
    if (stop != nullptr)
        stop->setFocus(next ? Qt::TabFocusReason : Qt::BacktabFocusReason);
    return stop != nullptr;
}

void MainWindow::closeEvent(QCloseEvent* event) {
    try {
        m_session.keepForNextTime();
    } catch (const std::exception& error) {
        if (std::exchange(m_closesAnyway, true))
            return event->accept();
        m_session.notified(
            tr("Couldn't keep your changes. Save now, or close again to discard them. (%1)")
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
            !typesText(QApplication::focusWidget()) &&
            !typesText(qobject_cast<QWidget*>(watched))) {
            if (!key->isAutoRepeat())
                m_shown->holdBefore(press);
            return true;
        }
    }
    return QMainWindow::eventFilter(watched, event);
}

}  // namespace noctis
