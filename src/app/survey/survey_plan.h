#pragma once

#include "app/instruments/plan.h"
#include "app/session/session.h"

namespace noctis {

class TraceView;

/// Survey's Plan: shows the project's camera, distances, lights, locators and pins. Moves the camera itself.
class SurveyPlan : public Plan {
    Q_OBJECT
public:
    SurveyPlan(Session& session, TraceView& view, QWidget* parent = nullptr);

    /// Everything anew, with the distances of these lanes.
    void setGroups(const std::vector<HandleGroup>& lanes, const std::string& chosen) override;

private:
    void addSideLink();
    void turnCamera(float radians);
    void showDistances(const std::vector<HandleGroup>& lanes);
    void showMarks();

    Session& m_session;
    TraceView& m_view;
};

}  // namespace noctis
