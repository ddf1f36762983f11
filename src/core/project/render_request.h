#pragma once

#include "core/project/project.h"
#include "core/tracer/render.h"

namespace noctis {

/// What a project renders of a view: its size, passes, crop and moved places.
RenderRequest renderRequestOf(const Project& project, const View& view);

}  // namespace noctis
