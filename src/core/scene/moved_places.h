#pragma once

#include "core/scene/scene.h"

#include <map>

namespace noctis {

/// Places of lights and locators that the user moved; the others are where the scene has them. The key is the
/// name, with " 2" and so on for further ones of the same name.
struct MovedPlaces {
    std::map<std::string, V3f> lights;
    std::map<std::string, V3f> suns;  ///< which way they shine; of any length
    std::map<std::string, V3f> locators;
    bool operator==(const MovedPlaces&) const = default;
};

/// The scene's lights, in its order, as they stand now.
std::vector<Light> lightsOf(const Scene& scene, const MovedPlaces& moved);
std::vector<Locator> locatorsOf(const Scene& scene, const MovedPlaces& moved);

/// The keys of the scene's lights and locators, in its order.
std::vector<std::string> lightKeys(const Scene& scene);
std::vector<std::string> locatorKeys(const Scene& scene);

/// As text to compare and to keep with a pass, a line each; only lights of that name, if one is given.
std::string textOfMovedLights(const MovedPlaces& moved, const std::string& name = {});
/// The key of a light that differs between two such texts; empty if none does.
std::string movedLightBetween(const std::string& before, const std::string& now);

}  // namespace noctis
