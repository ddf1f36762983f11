#pragma once

#include "core/tracer/accelerator.h"
#include "core/tracer/data_passes.h"
#include "core/tracer/pass_settings.h"

#include <string>
#include <vector>

namespace noctis {

/// What an artist should know of a pass before using it: that it can't hold anything in this scene, names
/// in its settings that are nothing there, and visible objects that it leaves out or that don't count in
/// it, found on a coarse grid.
/// light    beauty's settings, for passes that are made with it.
std::vector<std::string> passWarnings(const PassRequest& request, const Settings& light,
                                      const Accelerator& everything, const TracedFrame& frame);

}  // namespace noctis
