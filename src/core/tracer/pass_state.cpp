#include "core/tracer/pass_state.h"

#include "core/scene/scene_change.h"

#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

std::string settingIn(const Pass& pass, const char* key) {
    const auto found = pass.settings.find(key);
    return found == pass.settings.end() ? std::string() : found->second;
}

/// What of the scene shows in a pass.
SceneReading readingOf(const PassRequest& request) {
    SceneReading reading;
    reading.motion = false;
    switch (request.kind) {
    case PassKind::Vectors:
        reading.motion = true;
        [[fallthrough]];
    case PassKind::Coverage:
    case PassKind::Depth:
    case PassKind::Distance:
    case PassKind::Position:
    case PassKind::Objects:
    case PassKind::Materials:
    case PassKind::Groups:
    case PassKind::FacingNormal:
    case PassKind::Height:
    case PassKind::Uv:
    case PassKind::Mist:
    case PassKind::BehindDepth:
        reading.relief = false;
        [[fallthrough]];
    case PassKind::Normal:
    case PassKind::Facing:
    case PassKind::Curvature:
    case PassKind::Occlusion:
    case PassKind::Bent:
        reading.lights = false;
        [[fallthrough]];
    case PassKind::GroundShadow:
        reading.look = false;
        break;
    case PassKind::Shadow:
        reading.look = false;
        reading.light = request.subject;
        break;
    default:
        break;
    }
    return reading;
}

/// The label of the first setting that differs, or nothing.
std::string changedSetting(const Pass& pass, const PassRequest& request,
                           const std::vector<PassRequest>& all) {
    const PassKind described = isMadeWithBeauty(request.kind) ? PassKind::Beauty : request.kind;
    const auto defaults = settingsAsText(passRequest(described), {});
    const auto wanted = settingsAsText(request, all);
    for (const Parameter& parameter : passParameters(described)) {
        const auto made = pass.settings.find(parameter.id);
        const std::string& was =
            made == pass.settings.end() ? defaults.at(parameter.id) : made->second;
        if (was != wanted.at(parameter.id))
            return parameter.label;
    }
    return {};
}

}  // namespace

bool sameCamera(const Camera& a, const Camera& b) {
    return a.cameraToWorld.equalWithAbsError(b.cameraToWorld, 1e-3F) &&
           std::abs(a.yfovRadians - b.yfovRadians) < 1e-4F &&
           std::abs(a.orthographicHeight - b.orthographicHeight) <= 1e-4F * a.orthographicHeight;
}

std::string textOfCrop(const Tile& crop) {
    return fmt::format("{} {} {} {}", crop.x0, crop.y0, crop.x1, crop.y1);
}

std::string movedLightsOf(const PassRequest& request, const MovedPlaces& moved) {
    if (request.kind == PassKind::Shadow)
        return textOfMovedLights(moved, request.subject);
    const bool lit = request.kind == PassKind::Beauty || request.kind == PassKind::GroundShadow ||
                     isMadeWithBeauty(request.kind);
    return lit ? textOfMovedLights(moved) : std::string();
}

namespace {

PassState stateOf(const PassSet& set, const PassRequest& request, const WantedFrame& wanted,
                  SceneComparisons& known) {
    const std::string name = request.name();
    const Pass* pass = set.find(std::string_view(name));
    const bool derivesMist = request.kind == PassKind::Mist && set.find(PassKind::Depth) != nullptr;
    if (pass == nullptr && derivesMist)
        pass = set.find(PassKind::Depth);
    const bool otherView = !set.view.empty() && set.view != wanted.view.name && set.camera &&
                           !sameCamera(*set.camera, wanted.view.camera);
    if (pass == nullptr || otherView)
        return {PassState::Kind::Missing, {}};
    const std::string scene = settingIn(*pass, kSceneSetting);
    const std::string changed = known.change(scene, wanted.sceneSignature, readingOf(request));
    if (!changed.empty())
        return {PassState::Kind::Stale, changed};
    if (set.width != wanted.width || set.height != wanted.height)
        return {PassState::Kind::Stale, "other size"};
    if (set.camera && !sameCamera(*set.camera, wanted.view.camera))
        return {PassState::Kind::Stale, "camera moved"};
    if (const std::string crop = settingIn(*pass, kCropSetting);
        !crop.empty() && !(wanted.crop && textOfCrop(*wanted.crop) == crop))
        return {PassState::Kind::Stale, "rendered in part"};
    const std::string moved =
        movedLightBetween(settingIn(*pass, kMovedSetting), movedLightsOf(request, wanted.moved));
    if (!moved.empty())
        return {PassState::Kind::Stale, moved + " moved"};
    if (pass->settings.empty() || derivesMist)
        return {PassState::Kind::Current, {}};
    const std::string setting = changedSetting(*pass, request, wanted.passes);
    if (!setting.empty())
        return {PassState::Kind::Stale, setting + " changed"};
    return {PassState::Kind::Current, {}};
}

}  // namespace

PassState passState(const PassSet& set, const PassRequest& request, const WantedFrame& wanted) {
    SceneComparisons known;
    return stateOf(set, request, wanted, known);
}

std::vector<PassState> passStates(const PassSet& set, const WantedFrame& wanted) {
    SceneComparisons known;
    return passStates(set, wanted, known);
}

std::vector<PassState> passStates(const PassSet& set, const WantedFrame& wanted,
                                  SceneComparisons& known) {
    std::vector<PassState> states;
    for (const PassRequest& request : wanted.passes)
        states.push_back(stateOf(set, request, wanted, known));
    return states;
}

}  // namespace noctis
