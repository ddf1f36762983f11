#pragma once

#include "core/passes/appearance.h"
#include "core/project/handles.h"
#include "core/project/project.h"

namespace noctis {

// Owners of what the project itself has on the depth axis.
inline constexpr const char* kRampOwner = "depth ramp";
inline constexpr const char* kMistOwner = "mist pass";
// Owners of what the project moves in the scene; the handles are keys of MovedPlaces.
inline constexpr const char* kLightsOwner = "lights";
inline constexpr const char* kLocatorsOwner = "locators";
inline constexpr const char* kSunsOwner = "suns";

/// What stands on Survey's Sounding: the depth ramp, the mist if it is among the passes or shown, and
/// the recipe's focus as it is in that frame.
std::vector<HandleGroup> surveyLanes(const Project& project, const DepthRange& automatic,
                                     const ShownFrame& frame, bool mistShown = false);

/// The frame that is rendered by this camera, which sees that range.
ShownFrame shownFrame(const Project& project, const Camera& camera, const DepthRange& seen);

/// Moves a handle of one of these lanes, or something of the scene: a sun to the direction towards it. Dragging the
/// mist puts it among the passes.
void moveSurveyHandle(Project& project, const DepthRange& automatic, const std::string& owner,
                      const std::string& handle, const HandleValue& to);
/// Whether it is something of the scene.
bool isOfScene(const std::string& owner);
/// Puts something back to where the scene has it.
void resetSurveyHandle(Project& project, const std::string& owner, const std::string& handle);

/// Moves "begins", "half" or "full" of a mist pass's settings; the three stay in their order.
void moveMistHandle(Settings& mist, const std::string& handle, float metres);

/// The ramp in use.
DepthRange rampOf(const Project& project, const DepthRange& automatic);

}  // namespace noctis
