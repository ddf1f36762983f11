#pragma once

#include "app/rooms/room.h"
#include "app/session/session.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QMenu;
class QPushButton;

namespace noctis {

/// The head of the window: what is open, the rooms, and how the picture is shown.
class TopBar : public QWidget {
    Q_OBJECT
public:
    TopBar(Session& session, QMenu* menu, const std::vector<Room*>& rooms,
           QWidget* parent = nullptr);

    void setRoom(const Room& room);

Q_SIGNALS:
    void roomChosen(noctis::Room* room);

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;

private:
    void refresh();
    void placeRooms();

    Session& m_session;
    QPushButton* m_title;
    QLabel* m_detail;
    QLabel* m_size;
    QComboBox* m_view;
    class ExposureField* m_exposure;
    QWidget* m_rooms;
    std::vector<std::pair<const Room*, QPushButton*>> m_tabs;
    const Room* m_room = nullptr;
    bool m_looksThroughView = false;
};

}  // namespace noctis
