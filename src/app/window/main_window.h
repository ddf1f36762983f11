#pragma once

#include "app/session/session.h"

#include <QMainWindow>

#include <memory>
#include <vector>

class QMenu;
class QStackedWidget;

namespace noctis {

class CommandFinder;
class DispatchQueue;
class DispatchRoom;
class NoteBar;
class PictureRoom;
class ReliefRoom;
class Room;
class SurveyRoom;
class TopBar;

/// The one window, with its rooms.
class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    explicit MainWindow(std::filesystem::path dataFolder, QWidget* parent = nullptr);
    ~MainWindow() override;

    [[nodiscard]] Session& session() { return m_session; }
    [[nodiscard]] SurveyRoom& survey() { return *m_survey; }
    [[nodiscard]] PictureRoom& picture() { return *m_picture; }
    [[nodiscard]] ReliefRoom& relief() { return *m_relief; }
    [[nodiscard]] DispatchRoom& dispatch() { return *m_dispatch; }
    [[nodiscard]] DispatchQueue& queue() { return *m_queue; }
    [[nodiscard]] NoteBar& notes() { return *m_notes; }
    [[nodiscard]] CommandFinder& finder() { return *m_finder; }
    void open(const std::vector<std::filesystem::path>& paths);
    void openDemo();
    [[nodiscard]] Room& room() const { return *m_shown; }
    void showRoom(Room& room);
    /// Offers unsaved work of an earlier run, if there is any.
    void offerRecovery();

protected:
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void closeEvent(QCloseEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;
    bool focusNextPrevChild(bool next) override;

private:
    void buildCommands();
    QAction* command(const QString& text, const QKeySequence& keys,
                     const std::function<void()>& run);
    void chooseOpen();
    void askAboutFile();
    void save(bool as);
    void returnTo(const UnsavedProject& left);
    void buildRooms(QStackedWidget& stack);
    void buildRoomCommands();
    /// The room where what is open is worked on.
    void showRoomOfContent();
    void showReading();
    void refresh();

    Session m_session;
    std::unique_ptr<DispatchQueue> m_queue;
    QMenu* m_menu;
    QMenu* m_recent;
    TopBar* m_top;
    QStackedWidget* m_rooms;
    std::vector<Room*> m_allRooms;  ///< in the order of the work
    Room* m_shown = nullptr;
    SurveyRoom* m_survey;
    PictureRoom* m_picture;
    ReliefRoom* m_relief;
    DispatchRoom* m_dispatch;
    NoteBar* m_notes;
    CommandFinder* m_finder;
    QList<QAction*> m_commands;
    QAction* m_undo;
    QAction* m_redo;
    bool m_closesAnyway = false;  ///< though what is unsaved can't be kept
};

}  // namespace noctis
