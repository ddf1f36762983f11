#include "core/tracer/sky_of.h"

namespace noctis {

Sky skyOf(const Scene& scene, const BeautySettings& settings, PanoramaCache* panoramas) {
    Sky sky;
    if (settings.useSceneSky && scene.sky) {
        sky = *scene.sky;
    } else {
        sky.zenith = settings.zenith;
        sky.horizon = settings.horizon;
        sky.ground = settings.ground;
    }
    sky.strength *= settings.skyStrength;
    if (!settings.panorama.empty())
        sky.panorama = panoramas != nullptr ? panoramas->get(settings.panorama)
                                            : readPanorama(settings.panorama);
    return sky;
}

}  // namespace noctis
