#include "core/scene/moved_places.h"

#include <fmt/format.h>

namespace noctis {

namespace {

template <typename Named> std::vector<std::string> keysOf(const std::vector<Named>& things) {
    std::map<std::string, int> met;
    std::vector<std::string> keys;
    for (const Named& thing : things) {
        const int count = ++met[thing.name];
        keys.push_back(count == 1 ? thing.name : fmt::format("{} {}", thing.name, count));
    }
    return keys;
}

}  // namespace

std::vector<std::string> lightKeys(const Scene& scene) { return keysOf(scene.lights); }
std::vector<std::string> locatorKeys(const Scene& scene) { return keysOf(scene.locators); }

std::vector<Light> lightsOf(const Scene& scene, const MovedPlaces& moved) {
    std::vector<Light> lights = scene.lights;
    const std::vector<std::string> keys = lightKeys(scene);
    for (std::size_t i = 0; i < lights.size(); ++i)
        if (const auto place = moved.lights.find(keys[i]); place != moved.lights.end())
            lights[i].position = place->second;
    return lights;
}

std::vector<Locator> locatorsOf(const Scene& scene, const MovedPlaces& moved) {
    std::vector<Locator> locators = scene.locators;
    const std::vector<std::string> keys = locatorKeys(scene);
    for (std::size_t i = 0; i < locators.size(); ++i)
        if (const auto place = moved.locators.find(keys[i]); place != moved.locators.end())
            for (int c = 0; c < 3; ++c)
                locators[i].toWorld[3][c] = place->second[c];
    return locators;
}

std::string textOfMovedLights(const MovedPlaces& moved, const std::string& name) {
    std::string text;
    for (const auto& [key, place] : moved.lights)
        if (name.empty() || key == name || key.starts_with(name + " "))
            text += fmt::format("{}: {:.5g} {:.5g} {:.5g}; ", key, place.x, place.y, place.z);
    return text;
}

}  // namespace noctis
