#pragma once

#include "app/session/session.h"

#include <QWidget>

class QVBoxLayout;

namespace noctis {

/// The pins of the project with their distances from the view; hidden where there are none.
class PinsPanel : public QWidget {
    Q_OBJECT
public:
    explicit PinsPanel(Session& session, QWidget* parent = nullptr);

private:
    void refresh();

    Session& m_session;
    QVBoxLayout* m_rows;
    std::vector<Pin> m_shown;
    View m_from;
};

}  // namespace noctis
