#pragma once

#include "app/instruments/instrument.h"
#include "app/rooms/room.h"
#include "app/session/render_worker.h"
#include "app/session/session.h"

#include <QWidget>

class QHBoxLayout;
class QPushButton;
class QVBoxLayout;

namespace noctis {

class PassList;
class FramesPanel;
class MeasureBar;
class Sounding;
class SurveyPlan;
class TraceView;
class TurnaroundPanel;

/// The room where the scene is looked at and measured, and its passes rendered.
class SurveyRoom : public Room {
    Q_OBJECT
public:
    explicit SurveyRoom(Session& session, QWidget* parent = nullptr);

    [[nodiscard]] TraceView& view() { return *m_view; }
    [[nodiscard]] PassList& passes() { return *m_passes; }
    [[nodiscard]] RenderWorker& renderer() { return m_renderer; }
    [[nodiscard]] Sounding& sounding() { return *m_sounding; }
    [[nodiscard]] SurveyPlan& plan() { return *m_plan; }
    [[nodiscard]] FramesPanel& frames() { return *m_frames; }
    [[nodiscard]] TurnaroundPanel& turnaround() { return *m_turnaround; }
    [[nodiscard]] MeasureBar& measure() { return *m_measure; }
    void show(const PassName& pass);

    [[nodiscard]] QString title() const override { return tr("Survey"); }
    [[nodiscard]] QString purpose() const override {
        return tr("The scene: look, measure, render passes.");
    }
    [[nodiscard]] QWidget* foot() const override { return m_foot; }
    [[nodiscard]] std::vector<RoomCommand> commands() override;
    void fitPicture() override;
    void showWholePixels() override;
    [[nodiscard]] bool looksThroughView() const override { return true; }

protected:
    void resizeEvent(QResizeEvent*) override;

private:
    QWidget* buildTabs();
    QWidget* buildTools();
    QVBoxLayout* buildViews();
    QWidget* buildInstruments();
    void showRendered(const std::shared_ptr<const PassSet>& set);
    void moveHandles(const std::vector<HandleMove>& moves);
    void takeDepth(const std::optional<Pass>& depth);
    [[nodiscard]] std::vector<HandleGroup> lanes() const;
    void takeProject();

    Session& m_session;
    QWidget* m_foot;
    RenderWorker m_renderer;
    TraceView* m_view;
    PassList* m_passes;
    Sounding* m_sounding;
    SurveyPlan* m_plan;
    MeasureBar* m_measure;
    TurnaroundPanel* m_turnaround;
    FramesPanel* m_frames;
    std::vector<std::pair<PassKind, QPushButton*>> m_shownAs;
};

}  // namespace noctis
