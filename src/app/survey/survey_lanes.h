#pragma once

#include "core/passes/appearance.h"
#include "core/project/handles.h"
#include "core/project/project.h"

namespace noctis {

// Owners of what the project itself has on the depth axis.
inline constexpr const char* kRampOwner = "depth ramp";
inline constexpr const char* kMistOwner = "mist pass";

/// What stands on Survey's Sounding: the depth ramp, the mist if it is among the passes or shown, and
/// the recipe's focus.
std::vector<HandleGroup> surveyLanes(const Project& project, const DepthRange& automatic,
                                     bool mistShown = false);

/// Moves a handle of one of these lanes. Dragging the mist puts it among the passes.
void moveSurveyHandle(Project& project, const DepthRange& automatic, const std::string& owner,
                      const std::string& handle, float metres);

/// Whether a lane of these is a focus.
bool isFocusLane(const std::string& owner);

/// Moves "begins", "half" or "full" of a mist pass's settings; the three stay in their order.
void moveMistHandle(Settings& mist, const std::string& handle, float metres);

/// The ramp in use.
DepthRange rampOf(const Project& project, const DepthRange& automatic);

}  // namespace noctis
