#pragma once

#include "app/instruments/sounding.h"
#include "core/passes/appearance.h"
#include "core/project/project.h"

namespace noctis {

/// What stands on Survey's Sounding: the depth ramp, the mist if it is among the passes or shown, and
/// the recipe's focus.
std::vector<SoundingLane> surveyLanes(const Project& project, const DepthRange& automatic,
                                      bool mistShown = false);

/// Moves a handle of one of these lanes. Dragging the mist puts it among the passes.
void moveSurveyHandle(Project& project, const DepthRange& automatic, std::size_t owner,
                      std::size_t handle, float metres);

/// Whether a lane of these is a focus.
bool isFocusLane(std::size_t owner);

/// The ramp in use.
DepthRange rampOf(const Project& project, const DepthRange& automatic);

}  // namespace noctis
