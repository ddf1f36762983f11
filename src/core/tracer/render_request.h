#pragma once

#include "core/tracer/pass_settings.h"
#include "core/tracer/render.h"

#include <utility>

namespace noctis {

// For render.cpp alone; what others need of a request is in render.h.

/// Whether it is traced sample by sample, and so shown before it is done.
bool isRefined(PassKind kind);

/// How strongly a pass is cleaned, and whether the noisy one is kept.
std::pair<float, bool> cleaningOf(const PassRequest& request, const BeautySettings& light);

/// The request with a camera and a lens that rays can start from; what was changed is warned of.
RenderRequest traceable(RenderRequest request, std::vector<std::string>& warnings);

/// Errors   Error(TooLarge), Error(BadSetting) for a pass that can't be rendered or is asked for twice.
void checkRequest(const RenderRequest& request);

}  // namespace noctis
