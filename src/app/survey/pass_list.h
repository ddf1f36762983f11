#pragma once

#include "app/session/render_worker.h"
#include "app/session/session.h"

#include <QWidget>

class QLabel;
class QProgressBar;
class QPushButton;
class QScrollArea;

namespace noctis {

class PassRow;

/// Why a pass must be rendered again; empty when it is current.
struct PassState {
    enum class Kind { Current, Stale, Missing } kind = Kind::Missing;
    QString why;
};

/// The passes to render, each with its settings and state, and what renders them.
class PassList : public QWidget {
    Q_OBJECT
public:
    explicit PassList(Session& session, RenderWorker& worker, QWidget* parent = nullptr);

    [[nodiscard]] PassState stateOf(const PassRequest& request) const;
    void render(bool all);

Q_SIGNALS:
    void passChosen(noctis::PassKind kind);

private:
    void rebuild();
    void refresh();
    void showProgress();

    Session& m_session;
    RenderWorker& m_worker;
    QScrollArea* m_scroll;
    std::vector<PassRow*> m_rows;
    QPushButton* m_stale;
    QPushButton* m_all;
    QPushButton* m_stop;
    QLabel* m_state;
    QProgressBar* m_bar;
    std::optional<PassKind> m_open;
};

}  // namespace noctis
