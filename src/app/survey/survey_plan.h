#pragma once

#include "app/instruments/plan.h"
#include "app/session/session.h"
#include "core/project/handles.h"

namespace noctis {

class TraceView;

/// Survey's Plan: shows the project's camera, distances, lights, locators and pins, and changes them.
class SurveyPlan : public Plan {
    Q_OBJECT
public:
    SurveyPlan(Session& session, TraceView& view, QWidget* parent = nullptr);

    /// Everything anew, with the distances of these lanes.
    void refresh(const std::vector<HandleGroup>& lanes);

Q_SIGNALS:
    void handleMoved(const std::string& owner, const std::string& handle, float metres);

private:
    struct Movable {
        bool light = false;
        std::string key;  ///< of MovedPlaces
    };
    void addSideLink();
    void turnCamera(float radians);
    void moveMark(std::size_t index, const V3f& way);
    void resetMark(std::size_t index);
    void showDistances(const std::vector<HandleGroup>& lanes);
    void showMarks();

    Session& m_session;
    TraceView& m_view;
    std::vector<std::pair<std::string, std::string>>
        m_handles;                       ///< owner and handle of each distance
    std::vector<Movable> m_movables;     ///< of the marks, in their order; pins come after them
    std::vector<std::string> m_sunKeys;  ///< of MovedPlaces::suns
};

}  // namespace noctis
