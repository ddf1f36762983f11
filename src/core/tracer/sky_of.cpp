#include "core/tracer/sky_of.h"

namespace noctis {

Sky skyOf(const Scene& scene, const BeautySettings& settings, PanoramaCache* panoramas,
          std::vector<std::string>* warnings) {
    Sky sky;
    if (settings.useSceneSky && scene.sky) {
        sky = *scene.sky;
    } else {
        sky.zenith = settings.zenith;
        sky.horizon = settings.horizon;
        sky.ground = settings.ground;
    }
    sky.strength *= settings.skyStrength;
    if (!settings.panorama.path.empty()) {
        Panorama panorama = panoramas != nullptr ? panoramas->get(settings.panorama.path)
                                                 : readPanorama(settings.panorama.path);
        sky.panorama = std::move(panorama.image);
        if (warnings != nullptr && !panorama.warning.empty())
            warnings->push_back(std::move(panorama.warning));
    }
    return sky;
}

}  // namespace noctis
