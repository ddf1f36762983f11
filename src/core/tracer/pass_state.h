#pragma once

#include "core/passes/pass_set.h"
#include "core/scene/scene.h"
#include "core/tracer/pass_settings.h"

#include <string>

namespace noctis {

/// What is to be rendered, to compare passes with.
struct WantedFrame {
    View view;
    int width = 0;
    int height = 0;
    std::vector<PassRequest> passes;
    bool sceneChanged = false;  ///< the scene differs from that of the passes
};

/// Whether a pass of a frame still is what would be rendered now.
struct PassState {
    enum class Kind { Current, Stale, Missing } kind = Kind::Missing;
    std::string why;  ///< of a stale one, in a few words
};

/// Settings a pass was made without count as their defaults. Mist follows its settings live wherever
/// there is depth, and is never stale by them.
PassState passState(const PassSet& set, const PassRequest& request, const WantedFrame& wanted);

}  // namespace noctis
