#pragma once

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
    TopBar(Session& session, QMenu* menu, QWidget* parent = nullptr);

    /// looksThroughView: the view of Survey is told, not that of the frame in work.
    void setRoom(int room, bool looksThroughView);

Q_SIGNALS:
    void roomChosen(int room);

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;

private:
    void refresh();

    Session& m_session;
    QPushButton* m_title;
    QLabel* m_detail;
    QLabel* m_size;
    QComboBox* m_view;
    class ExposureField* m_exposure;
    QWidget* m_rooms;
    std::vector<QPushButton*> m_tabs;
    bool m_looksThroughView = false;
};

}  // namespace noctis
