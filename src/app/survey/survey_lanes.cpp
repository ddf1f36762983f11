#include "app/survey/survey_lanes.h"

#include "app/look/picture_paint.h"
#include "core/steps/registry.h"

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

// Owners of the lanes; those of steps follow.
constexpr std::size_t kRamp = 0;
constexpr std::size_t kMist = 1;
constexpr std::size_t kSteps = 2;

constexpr float kShortestRamp = 1.01F;  ///< far over near

float number(const Settings& s, std::size_t index) { return std::get<float>(s[index]); }

/// Settings: near, far.
const DepthLane& rampLane() {
    static const DepthLane lane{
        DepthLane::Shape::Curve,
        [](const Settings& s, float metres) {
            return std::clamp(placeOnDepthAxis(metres, number(s, 0), number(s, 1)), 0.0F, 1.0F);
        },
        {{"near", [](const Settings& s) { return number(s, 0); },
          [](Settings& s, float metres) {
              s[0] = std::clamp(metres, 1e-3F, number(s, 1) / kShortestRamp);
          }},
         {"far", [](const Settings& s) { return number(s, 1); },
          [](Settings& s, float metres) {
              s[1] = std::max(metres, number(s, 0) * kShortestRamp);
          }}}};
    return lane;
}

/// Settings: those of the mist pass.
const DepthLane& mistLane() {
    static const std::size_t start = parameterIndex(passParameters(PassKind::Mist), "start");
    static const std::size_t length = parameterIndex(passParameters(PassKind::Mist), "length");
    static const std::size_t falloff = parameterIndex(passParameters(PassKind::Mist), "falloff");
    static const DepthLane lane{
        DepthLane::Shape::Curve,
        [](const Settings& s, float metres) { return mistAt(metres, mistSettings(s)); },
        {{"starts at", [](const Settings& s) { return number(s, start); },
          [](Settings& s, float metres) {
              const float end = number(s, start) + number(s, length);
              s[start] = std::clamp(metres, 0.0F, end * 0.999F);
              s[length] = std::max(end - number(s, start), 1e-3F);
          }},
         {"full at", [](const Settings& s) { return number(s, start) + number(s, length); },
          [](Settings& s, float metres) {
              s[length] = std::max(metres - number(s, start), 1e-3F);
          }},
         // Where the mist is half: what falloff means to the eye.
         {"half at",
          [](const Settings& s) {
              return number(s, start) +
                     number(s, length) * std::pow(0.5F, 1.0F / number(s, falloff));
          },
          [](Settings& s, float metres) {
              const float part =
                  std::clamp((metres - number(s, start)) / number(s, length), 1e-4F, 0.9999F);
              const Range& range = passParameters(PassKind::Mist)[falloff].range;
              s[falloff] = std::clamp(std::log(0.5F) / std::log(part), range.min, range.max);
          }}}};
    return lane;
}

}  // namespace

DepthRange rampOf(const Project& project, const DepthRange& automatic) {
    return project.ramp.automatic() ? automatic
                                    : DepthRange{project.ramp.nearest, project.ramp.farthest};
}

std::vector<SoundingLane> surveyLanes(const Project& project, const DepthRange& automatic,
                                      bool mistShown) {
    const DepthRange ramp = rampOf(project, automatic);
    std::vector<SoundingLane> lanes{
        {kRamp, QObject::tr("Depth ramp"), &rampLane(), {ramp.nearest, ramp.farthest}, true}};
    const PassRequest* mist = passAsked(project, "mist");
    if (mistShown || mist != nullptr)
        lanes.push_back({kMist, QObject::tr("Mist"), &mistLane(),
                         mist != nullptr ? mist->settings : passRequest(PassKind::Mist).settings,
                         true});
    for (SoundingLane& lane : lanesOf(project.recipe))
        if (lane.lane->shape == DepthLane::Shape::Span) {
            lane.owner += kSteps;
            lanes.push_back(std::move(lane));
        }
    return lanes;
}

bool isFocusLane(std::size_t owner) { return owner >= kSteps; }

void moveSurveyHandle(Project& project, const DepthRange& automatic, std::size_t owner,
                      std::size_t handle, float metres) {
    if (owner == kRamp) {
        const DepthRange ramp = rampOf(project, automatic);
        Settings ends{ramp.nearest, ramp.farthest};
        rampLane().handles[handle].moveTo(ends, metres);
        project.ramp = {number(ends, 0), number(ends, 1)};
    } else if (owner == kMist) {
        mistLane().handles[handle].moveTo(askPass(project, {PassKind::Mist, {}}).settings, metres);
    } else {
        Step& step = project.recipe.steps[owner - kSteps];
        stepCatalogue().type(step.type).lane.handles[handle].moveTo(step.settings, metres);
    }
}

}  // namespace noctis
