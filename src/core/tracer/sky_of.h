#pragma once

#include "core/scene/scene.h"
#include "core/tracer/panorama.h"
#include "core/tracer/pass_settings.h"

namespace noctis {

/// The sky that lights a render: the scene's, or that of the settings, or a panorama.
/// Errors   as readPanorama.
Sky skyOf(const Scene& scene, const BeautySettings& settings, PanoramaCache* panoramas,
          std::vector<std::string>* warnings = nullptr);

}  // namespace noctis
