#include "app/survey/survey_lanes.h"

#include "app/look/picture_paint.h"
#include "core/steps/registry.h"

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr float kShortestRamp = 1.01F;  ///< far over near

Handle distance(const char* id, const char* label, std::function<float(const Settings&)> at,
                std::function<void(Settings&, float)> moveTo) {
    return {id,
            label,
            HandleKind::Distance,
            [at = std::move(at)](const Settings& s) -> HandleValue { return at(s); },
            [moveTo = std::move(moveTo)](Settings& s, const HandleValue& to) {
                moveTo(s, std::get<float>(to));
            },
            {}};
}

/// Settings: near, far.
const DepthLane& rampLane() {
    static const DepthLane lane{
        DepthLane::Shape::Curve, [](const Settings& s) {
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
    static const DepthLane lane{DepthLane::Shape::Curve, [](const Settings& s) {
                                    return [mist = mistSettings(s)](float metres) {
                                        return mistAt(metres, mist);
                                    };
                                }};
    return lane;
}

const std::vector<Handle>& mistHandles() {
    static const std::vector<Handle> handles{
        distance(
            "starts", "starts at", [](const Settings& s) { return s.number("start"); },
            [](Settings& s, float metres) {
                const float end = s.number("start") + s.number("length");
                s.set("start", std::clamp(metres, 0.0F, end * 0.999F));
                s.set("length", std::max(end - s.number("start"), 1e-3F));
            }),
        distance(
            "full", "full at",
            [](const Settings& s) { return s.number("start") + s.number("length"); },
            [](Settings& s, float metres) {
                s.set("length", std::max(metres - s.number("start"), 1e-3F));
            }),
        // Where the mist is half: what falloff means to the eye.
        distance(
            "half", "half at",
            [](const Settings& s) {
                return s.number("start") +
                       s.number("length") * std::pow(0.5F, 1.0F / s.number("falloff"));
            },
            [](Settings& s, float metres) {
                const float part =
                    std::clamp((metres - s.number("start")) / s.number("length"), 1e-4F, 0.9999F);
                const Range& range =
                    parameterNamed(passParameters(PassKind::Mist), "falloff").range;
                s.set("falloff", std::clamp(std::log(0.5F) / std::log(part), range.min, range.max));
            })};
    return handles;
}

Settings rampSettings(const DepthRange& ramp) {
    return {{"near", ramp.nearest}, {"far", ramp.farthest}};
}

}  // namespace

DepthRange rampOf(const Project& project, const DepthRange& automatic) {
    return project.ramp.automatic() ? automatic
                                    : DepthRange{project.ramp.nearest, project.ramp.farthest};
}

std::vector<HandleGroup> surveyLanes(const Project& project, const DepthRange& automatic,
                                     bool mistShown) {
    std::vector<HandleGroup> lanes{{kRampOwner, QObject::tr("Depth ramp").toStdString(),
                                    &rampLane(), &rampHandles(),
                                    rampSettings(rampOf(project, automatic)), true}};
    const PassRequest* mist = passAsked(project, "mist");
    if (mistShown || mist != nullptr)
        lanes.push_back({kMistOwner, QObject::tr("Mist").toStdString(), &mistLane(), &mistHandles(),
                         mist != nullptr ? mist->settings : passRequest(PassKind::Mist).settings,
                         true});
    for (HandleGroup& group : handleGroups(project.recipe, stepCatalogue()))
        if (group.lane != nullptr && group.lane->shape == DepthLane::Shape::Span)
            lanes.push_back(std::move(group));
    return lanes;
}

bool isFocusLane(const std::string& owner) { return owner != kRampOwner && owner != kMistOwner; }

void moveSurveyHandle(Project& project, const DepthRange& automatic, const std::string& owner,
                      const std::string& handle, float metres) {
    const auto move = [&](const std::vector<Handle>& handles, Settings& settings) {
        for (const Handle& each : handles)
            if (each.id == handle)
                each.moveTo(settings, metres);
    };
    if (owner == kRampOwner) {
        Settings ends = rampSettings(rampOf(project, automatic));
        move(rampHandles(), ends);
        project.ramp = {ends.number("near"), ends.number("far")};
    } else if (owner == kMistOwner) {
        move(mistHandles(), askPass(project, {PassKind::Mist, {}}).settings);
    } else {
        moveHandle(project.recipe, stepCatalogue(), owner, handle, metres);
    }
}

}  // namespace noctis
