#pragma once

#include "core/passes/appearance.h"
#include "core/project/handles.h"
#include "core/project/project.h"

namespace noctis {

// Owners of what the project itself has on the depth axis.
inline constexpr const char* kRampOwner = "depth ramp";
inline constexpr const char* kMistOwner = "mist pass";

/// What stands on Survey's Sounding: the depth ramp, the mist if it is among the passes or shown, and
/// the recipe's focus as it is in that frame.
std::vector<HandleGroup> surveyLanes(const Project& project, const DepthRange& automatic,
                                     const ShownFrame& frame, bool mistShown = false);

/// The frame that is rendered by this camera.
ShownFrame shownFrame(const Project& project, const Camera& camera);

/// Moves a handle of one of these lanes. Dragging the mist puts it among the passes.
void moveSurveyHandle(Project& project, const DepthRange& automatic, const std::string& owner,
                      const std::string& handle, float metres);

/// Moves "begins", "half" or "full" of a mist pass's settings; the three stay in their order.
void moveMistHandle(Settings& mist, const std::string& handle, float metres);

/// The ramp in use.
DepthRange rampOf(const Project& project, const DepthRange& automatic);

}  // namespace noctis
