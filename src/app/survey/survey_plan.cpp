#include "app/survey/survey_plan.h"

#include "app/controls/instrument_head.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/survey/survey_lanes.h"
#include "app/survey/trace_view.h"
#include "core/scene/moved_places.h"
#include "core/tracer/pass_settings.h"

#include <QPushButton>

namespace noctis {

SurveyPlan::SurveyPlan(Session& session, TraceView& view, QWidget* parent)
    : Plan(parent), m_session(session), m_view(view) {
    setCameraFixed(false);
    addSideLink();
    connect(this, &Plan::cameraMoved, this, [this](const V3f& way) {
        m_view.changeCamera(tr("Move the camera"), [&](Camera& camera) {
            M44f shift;
            shift.setTranslation(way);
            camera.cameraToWorld = camera.cameraToWorld * shift;
        });
    });
    connect(this, &Plan::cameraTurned, this, &SurveyPlan::turnCamera);
    connect(this, &Plan::handleReset, this,
            [this](const std::string& owner, const std::string& key) {
                m_session.change(tr("Put %1 back").arg(qstring(key)), {},
                                 [&](Project& p) { resetSurveyHandle(p, owner, key); });
            });
}

void SurveyPlan::addSideLink() {
    QPushButton* side =
        addLink(this, tr("from above"), tr("Shows the place from above or from the side."), 60);
    side->setObjectName("plan-side");
    connect(side, &QPushButton::clicked, this, [this, side] {
        setFromSide(!isFromSide());
        side->setText(isFromSide() ? tr("from the side") : tr("from above"));
        side->adjustSize();
    });
}

void SurveyPlan::turnCamera(float radians) {
    m_view.changeCamera(tr("Turn the camera"), [&](Camera& camera) {
        const V3f place = camera.position();
        V3f axis(0, 1, 0);
        if (isFromSide())
            camera.cameraToWorld.multDirMatrix(V3f(1, 0, 0), axis);
        M44f turn;
        turn.setAxisAngle(axis, radians);
        for (int c = 0; c < 3; ++c)
            camera.cameraToWorld[3][c] = 0.0F;
        camera.cameraToWorld = camera.cameraToWorld * turn;
        for (int c = 0; c < 3; ++c)
            camera.cameraToWorld[3][c] = place[c];
    });
}

void SurveyPlan::setGroups(const std::vector<HandleGroup>& lanes, const std::string& /*chosen*/) {
    setCamera(m_session.view().camera, m_session.project().aspect());
    showDistances(lanes);
    showMarks();
}

void SurveyPlan::showDistances(const std::vector<HandleGroup>& lanes) {
    std::vector<PlanDistance> distances;
    for (const HandleGroup& lane : lanes) {
        const std::vector<const Handle*> handles = lane.shown(HandleKind::Distance);
        const bool isFocus = lane.isFocus();
        const bool isRamp = lane.owner == kRampOwner;
        // Of a focus its middle, of a curve its ends.
        for (std::size_t h = 0; h < std::min<std::size_t>(handles.size(), isFocus ? 1 : 2); ++h) {
            const Handle& handle = *handles[h];
            const QColor colour = !isRamp ? theme::kAccent : h == 0 ? theme::kNear : theme::kFar;
            const QString name = isRamp    ? qstring(handle.label)
                                 : isFocus ? tr("focus")
                                           : qstring(lane.label).toLower() + QLatin1Char(' ') +
                                                 qstring(handle.label);
            distances.push_back({{lane.owner, handle.id}, name, colour, lane.distance(handle)});
        }
    }
    setDistances(std::move(distances));
}

void SurveyPlan::showMarks() {
    const Project& project = m_session.project();
    std::vector<PlanMark> marks;
    std::vector<PlanSun> suns;
    if (const auto loaded = m_session.scene()) {
        const Scene& scene = loaded->scene;
        const std::vector<Locator> locators = locatorsOf(scene, project.moved);
        const std::vector<std::string> locatorNames = locatorKeys(scene);
        for (std::size_t i = 0; i < locators.size(); ++i) {
            marks.push_back({{kLocatorsOwner, locatorNames[i]},
                             qstring(locators[i].name),
                             locators[i].toWorld.translation(),
                             false});
        }
        const std::vector<Light> lights = lightsOf(scene, project.moved);
        const std::vector<std::string> lightNames = lightKeys(scene);
        const bool byPanorama =
            !beautySettings(m_session.renderRequest(m_session.view()).light).panorama.path.empty();
        for (std::size_t i = 0; i < lights.size(); ++i) {
            if (lights[i].standIn && byPanorama)
                continue;
            if (lights[i].kind == LightKind::Sun) {
                suns.push_back({{kSunsOwner, lightNames[i]},
                                qstring(lights[i].name),
                                -lights[i].direction.normalized()});
                continue;
            }
            marks.push_back(
                {{kLightsOwner, lightNames[i]}, qstring(lights[i].name), lights[i].position, true});
        }
    }
    for (const Pin& pin : project.pins)
        marks.push_back({{}, {}, pin.position, false});
    setMarks(std::move(marks));
    setSuns(std::move(suns));
}

}  // namespace noctis
