#pragma once

#include "app/session/render_worker.h"
#include "app/session/session.h"

#include <QWidget>

class QPushButton;

namespace noctis {

class PassList;
class Sounding;
class TraceView;

/// The room where the scene is looked at and measured, and its passes rendered.
class SurveyRoom : public QWidget {
    Q_OBJECT
public:
    explicit SurveyRoom(Session& session, QWidget* parent = nullptr);

    [[nodiscard]] TraceView& view() { return *m_view; }
    [[nodiscard]] PassList& passes() { return *m_passes; }
    [[nodiscard]] RenderWorker& renderer() { return m_renderer; }
    void show(const PassName& pass);

private:
    Session& m_session;
    RenderWorker m_renderer;
    TraceView* m_view;
    PassList* m_passes;
    Sounding* m_sounding;
    std::vector<std::pair<PassKind, QPushButton*>> m_shownAs;
};

}  // namespace noctis
