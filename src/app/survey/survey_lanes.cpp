#include "app/survey/survey_lanes.h"

#include "app/look/picture_paint.h"
#include "core/steps/registry.h"

#include <QObject>

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr float kShortestRamp = 1.01F;  ///< far over near

Handle distance(const char* id, const char* label, std::function<float(const Settings&)> at,
                std::function<void(Settings&, float)> moveTo) {
    return {
        id,
        label,
        HandleKind::Distance,
        [at = std::move(at)](const Settings& s, const ShownFrame&) -> HandleValue { return at(s); },
        [moveTo = std::move(moveTo)](Settings& s, const HandleValue& to, const ShownFrame&) {
            moveTo(s, std::get<float>(to));
        },
        {}};
}

/// Settings: near, far.
const DepthLane& rampLane() {
    static const DepthLane lane{
        DepthLane::Shape::Curve, DepthLane::Purpose::Other,
        [](const Settings& s, const ShownFrame&) {
            return [near = s.number("near"), far = s.number("far")](float metres) {
                return std::clamp(placeOnDepthAxis(metres, near, far), 0.0F, 1.0F);
            };
        }};
    return lane;
}

const std::vector<Handle>& rampHandles() {
    static const std::vector<Handle> handles{
        distance(
            "near", "near", [](const Settings& s) { return s.number("near"); },
            [](Settings& s, float metres) {
                s.set("near", std::clamp(metres, 1e-3F, s.number("far") / kShortestRamp));
            }),
        distance(
            "far", "far", [](const Settings& s) { return s.number("far"); },
            [](Settings& s, float metres) {
                s.set("far", std::max(metres, s.number("near") * kShortestRamp));
            })};
    return handles;
}

/// Settings: those of the mist pass.
const DepthLane& mistLane() {
    static const DepthLane lane{DepthLane::Shape::Curve, DepthLane::Purpose::Other,
                                [](const Settings& s, const ShownFrame&) {
                                    return [mist = mistSettings(s)](float metres) {
                                        return mistAt(metres, mist);
                                    };
                                }};
    return lane;
}

const std::vector<Handle>& mistHandles() {
    const auto handle = [](const char* id, const char* label) {
        return distance(
            id, label, [id](const Settings& s) { return s.number(id); },
            [id](Settings& s, float metres) { moveMistHandle(s, id, metres); });
    };
    static const std::vector<Handle> handles{handle("begins", "begins at"),
                                             handle("full", "full at"), handle("half", "half at")};
    return handles;
}

std::map<std::string, V3f>* movedOf(Project& project, const std::string& owner) {
    MovedPlaces& moved = project.moved;
    return owner == kLightsOwner     ? &moved.lights
           : owner == kLocatorsOwner ? &moved.locators
           : owner == kSunsOwner     ? &moved.suns
                                     : nullptr;
}

Settings rampSettings(const DepthRange& ramp) {
    return {{"near", ramp.nearest}, {"far", ramp.farthest}};
}

}  // namespace

void moveMistHandle(Settings& mist, const std::string& handle, float metres) {
    constexpr float kLeastApart = 1e-3F;
    const float begins = mist.number("begins");
    const float length = std::max(mist.number("full") - begins, kLeastApart);
    if (handle == "half") {
        mist.set("half", std::clamp(metres, begins, begins + length));
        return;
    }
    // The other end stays; half keeps its part of the way.
    const float share = (mist.number("half") - begins) / length;
    const float from = handle == "begins" ? std::max(metres, 0.0F) : begins;
    const float to = handle == "begins" ? std::max(begins + length, from + kLeastApart)
                                        : std::max(metres, from + kLeastApart);
    mist.set("begins", from);
    mist.set("half", from + share * (to - from));
    mist.set("full", to);
}

DepthRange rampOf(const Project& project, const DepthRange& automatic) {
    return project.ramp.automatic() ? automatic
                                    : DepthRange{project.ramp.nearest, project.ramp.farthest};
}

std::vector<HandleGroup> surveyLanes(const Project& project, const DepthRange& automatic,
                                     const ShownFrame& frame, bool mistShown) {
    std::vector<HandleGroup> lanes{{kRampOwner, QObject::tr("Depth ramp").toStdString(),
                                    &rampLane(), &rampHandles(),
                                    rampSettings(rampOf(project, automatic)), true}};
    const PassRequest* mist = passAsked(project, "mist");
    if (mistShown || mist != nullptr)
        lanes.push_back({kMistOwner, QObject::tr("Mist").toStdString(), &mistLane(), &mistHandles(),
                         mist != nullptr ? mist->settings : passRequest(PassKind::Mist).settings,
                         true});
    for (HandleGroup& group : handleGroups(project.recipe.steps, stepCatalogue(), frame))
        if (group.isFocus())
            lanes.push_back(std::move(group));
    for (HandleGroup& lane : lanes)
        lane.frame = frame;
    return lanes;
}

ShownFrame shownFrame(const Project& project, const Camera& camera, const DepthRange& seen) {
    return {camera, project.width, project.height, seen.nearest, seen.farthest};
}

bool isOfScene(const std::string& owner) {
    return owner == kLightsOwner || owner == kLocatorsOwner || owner == kSunsOwner;
}

void resetSurveyHandle(Project& project, const std::string& owner, const std::string& handle) {
    if (std::map<std::string, V3f>* places = movedOf(project, owner))
        places->erase(handle);
}

void moveSurveyHandle(Project& project, const DepthRange& automatic, const std::string& owner,
                      const std::string& handle, const HandleValue& to) {
    const auto move = [&](const std::vector<Handle>& handles, Settings& settings) {
        for (const Handle& each : handles)
            if (each.id == handle)
                each.moveTo(settings, to, {});
    };
    if (std::map<std::string, V3f>* places = movedOf(project, owner)) {
        const V3f& place = std::get<V3f>(to);
        (*places)[handle] = owner == kSunsOwner ? -place : place;
    } else if (owner == kRampOwner) {
        Settings ends = rampSettings(rampOf(project, automatic));
        move(rampHandles(), ends);
        project.ramp = {ends.number("near"), ends.number("far")};
    } else if (owner == kMistOwner) {
        move(mistHandles(), askPass(project, {PassKind::Mist, {}}).settings);
    } else {
        moveHandle(project.recipe.steps, stepCatalogue(), owner, handle, to);
    }
}

}  // namespace noctis
