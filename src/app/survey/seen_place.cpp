#include "app/survey/seen_place.h"

namespace noctis {

std::optional<SeenPlace> placeAlong(const LoadedScene& loaded, const CameraRay& ray) {
    const Hit hit = loaded.accelerator->intersect(ray.origin, ray.direction, 0.0F, kNothingHit);
    if (!hit.any())
        return std::nullopt;
    const Instance& instance = loaded.scene.instances[static_cast<std::size_t>(hit.instance)];
    return SeenPlace{ray.origin + ray.direction * hit.distance,
                     hit.distance * ray.planarPerDistance, hit.distance,
                     loaded.scene.objects[static_cast<std::size_t>(instance.object)]};
}

}  // namespace noctis
